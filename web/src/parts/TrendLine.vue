<script setup lang="ts">
/** A small line through a row's figures, in the order of time; a line that does not start at zero says nothing of levels. */
import { computed } from "vue";

const props = defineProps<{ values: (number | null)[] }>();
const WIDTH = 72;
const HEIGHT = 18;

const path = computed(() => {
  const known = props.values.filter((each): each is number => each !== null);
  const low = Math.min(...known);
  const span = Math.max(...known) - low || 1;
  const step = WIDTH / Math.max(props.values.length - 1, 1);
  let open = false;
  return props.values
    .map((value, at) => {
      if (value === null) {
        open = false;
        return "";
      }
      const point = `${open ? "L" : "M"}${(at * step).toFixed(1)} ${(HEIGHT - 2 - ((value - low) / span) * (HEIGHT - 4)).toFixed(1)}`;
      open = true;
      return point;
    })
    .join("");
});
</script>

<template>
  <svg :width="WIDTH" :height="HEIGHT" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" aria-hidden="true">
    <path :d="path" fill="none" stroke="var(--window-0)" stroke-width="1.5" />
  </svg>
</template>
