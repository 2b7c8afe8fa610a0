<script setup lang="ts">
/** What goes on, how far it is where that is known, and how to stop it. */
defineProps<{ words: string; doing: { doing: string; done: number; total: number } | null }>();
const emit = defineEmits<{ stop: [] }>();
</script>

<template>
  <span role="status">
    {{ doing?.doing ?? words }} …
    <ElProgress
      v-if="doing?.total"
      class="bar"
      :percentage="Math.floor((100 * doing.done) / doing.total)"
      :aria-label="doing.doing"
    />
    <ElButton v-if="doing" link data-test="stop" @click="emit('stop')">Stop</ElButton>
  </span>
</template>

<style scoped>
.bar {
  display: inline-flex;
  width: 220px;
  margin: 0 10px;
  vertical-align: middle;
}
</style>
