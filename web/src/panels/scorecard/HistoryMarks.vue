<script setup lang="ts">
/** A row's goals over the last periods: all met, some, none, or none that can be told. */
import { computed } from "vue";
import { wholeOf } from "@/model/card";

const props = defineProps<{
  /** Verdicts by period, the earliest first. */
  verdicts: (boolean | null)[][];
  /** What the periods are called, in the same order. */
  periods: string[];
}>();
const WORDS = { all: "all goals met", some: "some goals met", none: "no goal met" };
const marks = computed(() =>
  props.verdicts.map((met, at) => {
    const whole = wholeOf(met);
    const words = whole
      ? `${WORDS[whole]}, ${met.filter(Boolean).length} of ${met.filter((each) => each !== null).length}`
      : "nothing can be told";
    return { whole, words: `${props.periods[at] ?? ""}: ${words}` };
  }),
);
</script>

<template>
  <span class="history" role="img" :aria-label="marks.map((each) => each.words).join('; ')">
    <i v-for="(mark, at) in marks" :key="at" :class="mark.whole ?? 'unknown'" :title="mark.words" />
  </span>
</template>

<style scoped>
.history {
  display: inline-flex;
  gap: 5px;
}
i {
  width: 0.8rem;
  height: 0.8rem;
  border-radius: 50%;
  border: 2px solid var(--favourable);
}
.all {
  background: var(--favourable);
}
.some {
  background: linear-gradient(90deg, var(--favourable) 50%, transparent 50%);
}
.none {
  border-color: var(--adverse);
}
.unknown {
  border: 0;
  border-top: 2px solid var(--free);
  border-radius: 0;
  height: 0;
  align-self: center;
}
</style>
