<script setup lang="ts">
/** A change as a bar from the middle: right is more, left is less; the colour says whether that is favourable. */
import { computed } from "vue";

const props = defineProps<{ value: number; largest: number; favour: number }>();
const half = 32;
const length = computed(() =>
  props.largest ? Math.max((Math.abs(props.value) / props.largest) * (half - 2), 1) : 0,
);
</script>

<template>
  <svg :width="half * 2" height="14" aria-hidden="true">
    <line :x1="half" y1="0" :x2="half" y2="14" stroke="var(--part)" />
    <rect
      v-if="value !== 0"
      :x="value > 0 ? half : half - length"
      y="2.5"
      :width="length"
      height="9"
      rx="2"
      :fill="favour > 0 ? 'var(--favourable)' : favour < 0 ? 'var(--adverse)' : 'var(--part)'"
    />
  </svg>
</template>
