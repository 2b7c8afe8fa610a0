<script setup lang="ts">
/** How the parts of the figures stand: frame above, filter at the left, chart over the table, proof at the right. */
defineProps<{ besides: boolean; proves: boolean }>();
</script>

<template>
  <slot name="frame" />
  <div class="lower" :class="{ proving: proves, beside: besides }">
    <slot name="beside" />
    <div class="left">
      <slot name="headline" />
      <slot name="chart" />
      <section class="sheet" data-guide="figures" aria-label="Figures"><slot name="table" /></section>
    </div>
    <slot name="side" />
  </div>
</template>

<style scoped>
.lower {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
  flex: 1;
  min-height: 0;
}
.lower.proving {
  grid-template-columns: minmax(0, 1fr) clamp(330px, 25vw, 480px);
}
.lower.beside {
  grid-template-columns: 220px minmax(0, 1fr);
}
.lower.beside.proving {
  grid-template-columns: 220px minmax(0, 1fr) clamp(330px, 25vw, 480px);
}
.left {
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-height: 0;
  min-width: 0;
}
.sheet {
  flex: 1;
  display: flex;
  flex-direction: column;
  border: 1px solid var(--line);
  min-height: 0;
}
</style>
