<script setup lang="ts">
/** A month as weeks of days: a week or a day is pointed at, and taken; arrow keys go by days and weeks, page keys by months. */
import { useDays } from "@/composables/dates";
import { computed, nextTick, ref } from "vue";
import { weeksOf } from "@/model/calendar";
import { addDays, addMonths } from "@/model/days";
import { periodName } from "@/words/names";

const { dayText } = useDays();

const props = defineProps<{
  /** The month that is shown, as YYYY-MM. */
  month: string;
  weekStart: number;
  /** Whether only a day can be taken, no week. */
  single: boolean;
  /** The week that is chosen, and whether a day is. */
  chosen: string | undefined;
  isIn: (day: string) => boolean;
  /** The day that Tab leads to where none is pointed at. */
  near: string;
}>();
const emit = defineEmits<{
  turn: [month: string];
  look: [key: string];
  week: [key: string];
  day: [day: string];
}>();

const WEEKDAYS = ["Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"];
const weekdays = computed(() => WEEKDAYS.map((_, at) => WEEKDAYS[(at + props.weekStart) % 7] ?? ""));
const weeks = computed(() => weeksOf(props.month, props.weekStart));
const pointed = ref("");
/** The day that Tab leads to, from where the arrow keys go on. */
const reached = computed(() => {
  const day = pointed.value || props.near;
  return day.startsWith(props.month) ? day : `${props.month}-01`;
});
const grid = ref<HTMLElement | null>(null);
const STEPS: Record<string, (day: string) => string> = {
  ArrowLeft: (day) => addDays(day, -1),
  ArrowRight: (day) => addDays(day, 1),
  ArrowUp: (day) => addDays(day, -7),
  ArrowDown: (day) => addDays(day, 7),
  PageUp: (day) => addMonths(day, -1),
  PageDown: (day) => addMonths(day, 1),
};

function turn(by: number): void {
  emit("turn", addMonths(`${props.month}-01`, by).slice(0, 7));
}

function point(key: string): void {
  if (key.length === 10) pointed.value = key;
  emit("look", key);
}

async function stepped(event: KeyboardEvent): Promise<void> {
  const { day } = (event.target as HTMLElement).dataset;
  const step = STEPS[event.key];
  if (!day || !step) return;
  event.preventDefault();
  event.stopPropagation();
  const next = step(day);
  emit("turn", next.slice(0, 7));
  await nextTick();
  grid.value?.querySelector<HTMLElement>(`[data-day="${next}"]`)?.focus();
}
</script>

<template>
  <p class="head">
    <ElButton text aria-label="The month before" data-test="month-before" @click="turn(-1)">‹</ElButton>
    <strong aria-live="polite">{{ periodName(month) }}</strong>
    <ElButton text aria-label="The month after" data-test="month-after" @click="turn(1)">›</ElButton>
  </p>
  <div ref="grid" class="grid" role="grid" :aria-label="periodName(month)" @keydown="stepped">
    <div role="row" class="week">
      <span role="columnheader">Week</span>
      <span v-for="each in weekdays" :key="each" role="columnheader">{{ each }}</span>
    </div>
    <div v-for="row in weeks" :key="row.key" role="row" class="week">
      <span role="rowheader">
        <template v-if="single">{{ row.key.slice(5) }}</template>
        <ElButton
          v-else
          text
          :class="{ on: row.key === chosen }"
          :aria-label="`${row.key.slice(5)}: ${periodName(row.key)}`"
          :data-test="`period-${row.key}`"
          @mouseenter="point(row.key)"
          @focus="point(row.key)"
          @click="emit('week', row.key)"
        >
          {{ row.key.slice(5) }}
        </ElButton>
      </span>
      <span v-for="each in row.days" :key="each" role="gridcell">
        <ElButton
          text
          :class="{ on: isIn(each), other: !each.startsWith(month) }"
          :aria-label="dayText(each)"
          :data-day="each"
          :tabindex="each === reached ? 0 : -1"
          :data-test="each.startsWith(month) ? `day-${each}` : undefined"
          @mouseenter="point(each)"
          @focus="point(each)"
          @click="emit('day', each)"
        >
          {{ Number(each.slice(8)) }}
        </ElButton>
      </span>
    </div>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  gap: 4px;
  align-items: center;
  justify-content: center;
  margin: 6px 0 2px;
}
.week {
  display: grid;
  grid-template-columns: 52px repeat(7, 1fr);
  text-align: center;
  font-size: var(--size-note);
}
[role="columnheader"] {
  color: var(--quiet);
}
.grid .el-button {
  width: 100%;
  height: 26px;
  padding: 0;
  font-size: var(--size-note);
}
[role="rowheader"] {
  color: var(--quiet);
}
.other {
  color: var(--quiet);
}
.on {
  background: var(--window-soft-0);
  font-weight: 700;
}
</style>
