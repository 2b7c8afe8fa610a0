<script setup lang="ts">
/** The first measure's total in each window, with its changes. */
import type { Rod } from "@/model/rods";

defineProps<{ rods: Rod[]; about: string }>();
</script>

<template>
  <div class="totals">
    <div v-for="rod in rods" :key="rod.at" class="number" :title="about">
      <strong>{{ rod.value?.text }}</strong>
      <span v-if="rod.change || rod.percent">
        <span
          v-for="(one, at) in [rod.change, rod.percent]"
          :key="at"
          :class="one && one.favour > 0 ? 'favourable' : one && one.favour < 0 ? 'adverse' : ''"
          >{{ one?.text }}
        </span>
      </span>
    </div>
  </div>
</template>

<style scoped>
.totals {
  padding-top: 32px;
}
.totals > div {
  height: 38px;
  display: flex;
  flex-direction: column;
  justify-content: center;
  line-height: 1.25;
}
.totals span {
  font-size: 0.6875rem;
  color: var(--quiet);
}
.totals span span {
  margin-left: 6px;
}
.totals span.favourable {
  color: var(--favourable);
}
.totals span.adverse {
  color: var(--adverse);
}
</style>
