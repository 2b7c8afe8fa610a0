<script setup lang="ts">
/** What each rod is: its window's name and days, how many count, how fair it is. */
import type { Rod } from "@/model/rods";

defineProps<{ rods: Rod[] }>();
</script>

<template>
  <div class="names">
    <div v-for="rod in rods" :key="rod.at" class="name" :data-test="`rod-${rod.at}`">
      <strong :style="{ color: `var(--window-text-${Math.min(rod.at, 4)})` }">{{ rod.name }}</strong>
      <span
        >{{ rod.days }} ·
        <span :class="{ unfair: rod.unfair }" :title="rod.why"
          ><template v-if="rod.unfair">! </template>{{ rod.note }}</span
        ></span
      >
    </div>
  </div>
</template>

<style scoped>
.names {
  padding-top: 32px;
}
.name {
  height: 38px;
  display: flex;
  flex-direction: column;
  justify-content: center;
  line-height: 1.25;
}
.name span {
  font-size: 0.6875rem;
  color: var(--quiet);
}
.name span.unfair {
  color: var(--adverse);
  font-weight: 700;
}
</style>
