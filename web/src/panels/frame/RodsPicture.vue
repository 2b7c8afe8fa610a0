<script setup lang="ts">
/** The rods with their beads: a bead per period, filled as far as its days count. */
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import type { Bead } from "@/contract";
import { ROD, TOP, WIDTH, type Rod } from "@/model/rods";

const { rangeText } = useDays();

const { count, grouped } = useNumbers();
/** width: how wide a period is; marker: where the as-of date stands; both of the picture's width. */
defineProps<{ rods: Rod[]; width: number; marker: number; height: number }>();

function title(bead: Bead): string {
  const value = bead.value === null ? "" : `: ${grouped(bead.value)}`;
  const quiet = bead.quiet_days ? `, ${count(bead.quiet_days, "day")} without lines` : "";
  const late = bead.late_lines ? `, ${count(bead.late_lines, "line")} after the as-of date` : "";
  return `${rangeText(bead.first, bead.last)}${value} (${bead.counted_days} of ${count(bead.days, "day")} counted${quiet}${late})`;
}
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} ${height}`" :style="{ height: `${height}px` }" preserveAspectRatio="none">
    <g v-for="rod in rods" :key="rod.at" :class="`rod-${Math.min(rod.at, 4)}`">
      <line
        x1="0"
        :y1="TOP + rod.at * ROD + ROD / 2"
        :x2="WIDTH"
        :y2="TOP + rod.at * ROD + ROD / 2"
        stroke="var(--rod)"
        stroke-width="2"
        :stroke-dasharray="rod.unfair ? '6 4' : 'none'"
        vector-effect="non-scaling-stroke"
      />
      <g v-for="(bead, index) in rod.window.beads" :key="bead.key">
        <title>{{ title(bead) }}</title>
        <rect
          :x="index * width + width * 0.06"
          :y="TOP + rod.at * ROD + 8"
          :width="width * 0.88"
          :height="ROD - 16"
          rx="9"
          class="hollow"
          :class="{ partial: bead.counted_days > 0 }"
          vector-effect="non-scaling-stroke"
        />
        <rect
          v-if="bead.counted_days"
          :x="index * width + width * 0.06"
          :y="TOP + rod.at * ROD + 8"
          :width="width * 0.88 * (bead.counted_days / bead.days)"
          :height="ROD - 16"
          :rx="bead.counted_days === bead.days ? 9 : 3"
          class="filled"
        />
        <circle
          v-if="bead.quiet_days"
          :cx="index * width + width / 2"
          :cy="TOP + rod.at * ROD + 5"
          r="2.5"
          class="quiet-days"
        />
        <rect
          v-if="bead.late_lines"
          :x="index * width + width * 0.06 + width * 0.88 * (bead.counted_days / bead.days)"
          :y="TOP + rod.at * ROD + ROD - 7"
          :width="width * 0.88 * (1 - bead.counted_days / bead.days)"
          height="3"
          class="late"
        />
      </g>
    </g>
    <line
      :x1="marker"
      y1="12"
      :x2="marker"
      :y2="height"
      stroke="var(--wood)"
      stroke-width="2.5"
      vector-effect="non-scaling-stroke"
    />
  </svg>
</template>

<style scoped>
.quiet-days {
  fill: var(--wood);
}
.late {
  fill: var(--part);
}
svg {
  width: 100%;
  display: block;
}
.hollow {
  fill: var(--sheet);
  stroke: var(--free);
  stroke-dasharray: 3 3;
}
.hollow.partial {
  stroke: var(--bead);
  stroke-dasharray: none;
}
.filled {
  fill: var(--bead);
}
.rod-0 {
  --bead: var(--window-0);
}
.rod-1 {
  --bead: var(--window-1);
}
.rod-2 {
  --bead: var(--window-2);
}
.rod-3 {
  --bead: var(--window-3);
}
.rod-4 {
  --bead: var(--window-4);
}
</style>
