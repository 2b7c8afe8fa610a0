<script setup lang="ts">
/** The windows side by side over time: one pair of bars per stretch of days. */
import { useDays } from "@/composables/dates";
import { REASONS } from "@/contract/vocabulary";
import { useNumbers } from "@/composables/numbers";
import { computed } from "vue";
import type { Operand } from "@/contract";
import { lengthOf } from "@/model/numbers";

const { rangeText } = useDays();

const { operand: operandText } = useNumbers();

const props = defineProps<{ operands: Operand[]; unit: string }>();
const WIDTH = 300;
const HEIGHT = 64;

const bars = computed(() => {
  const rows = props.operands.map((operand) => operand.stretches);
  const most = Math.max(1, ...rows.map((row) => row.length));
  const values = rows.flat().map((each) => lengthOf(each.cell));
  const top = Math.max(0, ...values);
  const bottom = Math.min(0, ...values);
  const scale = HEIGHT / (top - bottom || 1);
  const slot = WIDTH / most;
  const wide = (slot * 0.86) / Math.max(rows.length, 1);
  return rows.flatMap((row, at) =>
    row.map((each, index) => {
      const value = lengthOf(each.cell);
      return {
        key: `${at}-${index}`,
        x: index * slot + at * wide,
        y: (top - Math.max(value, 0)) * scale,
        width: Math.max(wide, 0.8),
        height: Math.max(Math.abs(value) * scale, value ? 0.6 : 0),
        fill: `var(--window-${Math.min(props.operands[at]?.window ?? 0, 4)})`,
        // What a share is a part of is of the same window: it stands back.
        opacity: props.operands[at]?.about.endsWith("scope") ? 0.35 : 1,
        title: `${rangeText(each.first, each.last)}: ${operandText(each.cell, props.unit, 4) ?? REASONS[each.cell.reason ?? ""] ?? ""}`,
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
    class="picture"
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
      :opacity="bar.opacity"
    >
      <title>{{ bar.title }}</title>
    </rect>
  </svg>
</template>

<style scoped>
.picture {
  cursor: pointer;
}
</style>
