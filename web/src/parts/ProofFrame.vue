<script setup lang="ts">
/** The windows of a number as small rods on one line of time, with the first and last day that have lines. */
import { useDays } from "@/composables/dates";
import { computed } from "vue";
import type { Operand } from "@/contract";
import { dayNumber } from "@/model/days";

const { dayText } = useDays();

const props = defineProps<{ operands: Operand[] }>();
const WIDTH = 300;
const ROD = 14;

const rods = computed(() => {
  const shown = props.operands.filter((each) => each.days.length);
  const first = Math.min(...shown.flatMap((each) => each.days.map((days) => dayNumber(days.first))));
  const last = Math.max(...shown.flatMap((each) => each.days.map((days) => dayNumber(days.last) + 1)));
  const at = (day: number): number => ((day - first) / Math.max(last - first, 1)) * WIDTH;
  return shown.map((each, place) => ({
    place,
    colour: `var(--window-${Math.min(each.window, 4)})`,
    days: each.days.map((days) => ({
      x: at(dayNumber(days.first)),
      width: Math.max(at(dayNumber(days.last) + 1) - at(dayNumber(days.first)), 2),
    })),
    ends: [each.first_line_day, each.last_line_day].flatMap((day) =>
      day ? [{ x: at(dayNumber(day) + 0.5), title: `lines from here: ${dayText(day)}` }] : [],
    ),
  }));
});
</script>

<template>
  <svg
    v-if="rods.length"
    :viewBox="`0 0 ${WIDTH} ${rods.length * ROD}`"
    width="100%"
    :height="rods.length * ROD"
    preserveAspectRatio="none"
    role="img"
    aria-label="The windows on one line of time"
    data-test="proof-frame"
  >
    <g v-for="rod in rods" :key="rod.place">
      <line x1="0" :y1="rod.place * ROD + 7" :x2="WIDTH" :y2="rod.place * ROD + 7" stroke="var(--rod)" />
      <rect
        v-for="(days, at) in rod.days"
        :key="at"
        :x="days.x"
        :y="rod.place * ROD + 3"
        :width="days.width"
        height="8"
        rx="3"
        :fill="rod.colour"
      />
      <line
        v-for="end in rod.ends"
        :key="end.x"
        :x1="end.x"
        :y1="rod.place * ROD"
        :x2="end.x"
        :y2="rod.place * ROD + 14"
        stroke="var(--wood)"
        stroke-width="1.5"
      >
        <title>{{ end.title }}</title>
      </line>
    </g>
  </svg>
</template>
