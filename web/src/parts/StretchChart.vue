<script setup lang="ts">
/** The windows side by side over time: one pair of bars per stretch of days. */
import { computed } from "vue";
import type { Operand } from "@/contract";
import { rangeText } from "@/model/days";
import { grouped } from "@/model/numbers";

const props = defineProps<{ operands: Operand[] }>();
const WIDTH = 300;
const HEIGHT = 64;

const bars = computed(() => {
  const rows = props.operands.map((operand) => operand.stretches);
  const most = Math.max(1, ...rows.map((row) => row.length));
  const values = rows.flat().map((each) => Number(each.value ?? 0));
  const top = Math.max(0, ...values);
  const bottom = Math.min(0, ...values);
  const scale = HEIGHT / (top - bottom || 1);
  const slot = WIDTH / most;
  const wide = (slot * 0.86) / Math.max(rows.length, 1);
  return rows.flatMap((row, at) =>
    row.map((each, index) => {
      const value = Number(each.value ?? 0);
      return {
        key: `${at}-${index}`,
        x: index * slot + at * wide,
        y: (top - Math.max(value, 0)) * scale,
        width: Math.max(wide, 0.8),
        height: Math.max(Math.abs(value) * scale, value ? 0.6 : 0),
        fill: `var(--window-${Math.min(props.operands[at]?.window ?? 0, 4)})`,
        title: `${rangeText(each.first, each.last)}: ${grouped(each.value ?? "0")}`,
      };
    }),
  );
});
</script>

<template>
  <svg
    :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
    width="100%"
    :height="HEIGHT"
    preserveAspectRatio="none"
    role="img"
    aria-label="The figure over time, windows side by side"
  >
    <rect
      v-for="bar in bars"
      :key="bar.key"
      :x="bar.x"
      :y="bar.y"
      :width="bar.width"
      :height="bar.height"
      :fill="bar.fill"
    >
      <title>{{ bar.title }}</title>
    </rect>
  </svg>
</template>
