<script setup lang="ts">
/** A calendar to choose from: a year with its parts and months, and a month with its weeks and days; what a choice comes to is told first. */
import { periodName } from "@/words/names";
import { computed, nextTick, ref, watch } from "vue";
import type { CalendarSettings } from "@/contract";
import { monthsOf, partsOf, weeksOf, yearOf } from "@/model/calendar";
import { addDays, addMonths, dayText, monthName } from "@/model/days";

const props = defineProps<{
  settings: CalendarSettings;
  /** The day around which it opens. */
  day: string;
  chosen?: string | undefined;
  /** Whether only a day can be taken, no period and no range. */
  single?: boolean;
  /** What a period, or the days from one to another, would come to. */
  tell?: (period: string, last: string | null) => Promise<string>;
}>();
const emit = defineEmits<{
  period: [key: string];
  days: [first: string, last: string];
  day: [day: string];
}>();

const WEEKDAYS = ["Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"];
const year = ref(Number(props.chosen?.slice(0, 4)) || yearOf(props.day, props.settings));
const month = ref(props.day.slice(0, 7));
/** Until a month is turned to, it is that of the day, which may come with a late answer. */
let isTurned = false;
watch(
  () => props.day,
  (day) => {
    if (!isTurned) month.value = day.slice(0, 7);
  },
);
/** The first of two days, while the second is still to come. */
const first = ref<string | null>(null);
const told = ref("");
const parts = computed(() => partsOf(year.value));
const months = computed(() => monthsOf(year.value, props.settings));
const weekdays = computed(() =>
  WEEKDAYS.map((_, at) => WEEKDAYS[(at + props.settings.week_start) % WEEKDAYS.length] ?? ""),
);
const weeks = computed(() => weeksOf(month.value, props.settings.week_start));
let looked = "";

function short(key: string): string {
  const [of = "", part] = key.split("-");
  if (!part) return of;
  if (!/^\d/.test(part)) return part;
  return monthName(`${key}-01`) + (Number(of) === year.value ? "" : ` ${of}`);
}

/** Tell what is pointed at, or has the focus. */
async function look(key: string): Promise<void> {
  const between = first.value && key.length === 10 ? [first.value, key].sort() : null;
  looked = key;
  const found = between
    ? await props.tell?.(between[0] ?? key, between[1] ?? key)
    : await props.tell?.(key, null);
  if (key === looked) told.value = found ? `${between ? "" : `${periodName(key)}: `}${found}` : "";
}

function show(key: string): void {
  if (/^\d{4}-\d{2}$/.test(key)) month.value = key;
}

function takePeriod(key: string): void {
  show(key);
  emit("period", key);
}

/** Two days are a range, the same one twice is that day. */
function takeDay(day: string): void {
  if (props.single) emit("day", day);
  else if (first.value === null) {
    first.value = day;
    told.value = `From ${dayText(day)}: choose the last day, or this one again for it alone.`;
  } else {
    const [from = day, to = day] = [first.value, day].sort();
    first.value = null;
    if (from === to) emit("period", day);
    else emit("days", from, to);
  }
}

/** The days between the first one and the one that is pointed at would be taken. */
const pointed = ref("");
function isIn(day: string): boolean {
  if (first.value === null) return day === props.chosen;
  const [from = "", to = ""] = [first.value, pointed.value || first.value].sort();
  return day >= from && day <= to;
}

function turn(by: number): void {
  isTurned = true;
  month.value = addMonths(`${month.value}-01`, by).slice(0, 7);
}

/** The day that Tab leads to, from where the arrow keys go on. */
const reached = computed(() => {
  const day = pointed.value || first.value || props.day;
  return day.startsWith(month.value) ? day : `${month.value}-01`;
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

/** Arrow keys go by days and weeks, page keys by months, into other months, too. */
async function stepped(event: KeyboardEvent): Promise<void> {
  const { day } = (event.target as HTMLElement).dataset;
  const step = STEPS[event.key];
  if (!day || !step) return;
  event.preventDefault();
  event.stopPropagation();
  const next = step(day);
  isTurned = true;
  month.value = next.slice(0, 7);
  await nextTick();
  grid.value?.querySelector<HTMLElement>(`[data-day="${next}"]`)?.focus();
}
</script>

<template>
  <div class="calendar" role="group" aria-label="Calendar">
    <p v-if="tell" class="told" role="status" data-test="calendar-told">
      {{ told || "Point at a period or a day for what it comes to; two days are a range." }}
    </p>
    <div v-for="(keys, name) in single ? {} : { parts, months }" :key="name" :class="name">
      <button
        v-if="name === 'parts'"
        type="button"
        aria-label="The year before"
        data-test="year-before"
        @click="year -= 1"
      >
        ‹
      </button>
      <button
        v-for="key in keys"
        :key="key"
        type="button"
        :class="{ on: key === chosen }"
        :aria-pressed="key === chosen"
        :data-test="`period-${key}`"
        @mouseenter="look(key)"
        @focus="(look(key), show(key))"
        @click="takePeriod(key)"
      >
        {{ short(key) }}
      </button>
      <button
        v-if="name === 'parts'"
        type="button"
        aria-label="The year after"
        data-test="year-after"
        @click="year += 1"
      >
        ›
      </button>
    </div>
    <p class="head">
      <button type="button" aria-label="The month before" data-test="month-before" @click="turn(-1)">
        ‹
      </button>
      <strong aria-live="polite">{{ periodName(month) }}</strong>
      <button type="button" aria-label="The month after" data-test="month-after" @click="turn(1)">›</button>
    </p>
    <table ref="grid" @keydown="stepped">
      <thead>
        <tr>
          <td />
          <th v-for="each in weekdays" :key="each" scope="col">{{ each }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in weeks" :key="row.key">
          <th scope="row">
            <template v-if="single">{{ row.key.slice(5) }}</template>
            <button
              v-else
              type="button"
              :class="{ on: row.key === chosen }"
              :aria-label="`${row.key.slice(5)}: ${periodName(row.key)}`"
              :data-test="`period-${row.key}`"
              @mouseenter="look(row.key)"
              @focus="look(row.key)"
              @click="takePeriod(row.key)"
            >
              {{ row.key.slice(5) }}
            </button>
          </th>
          <td v-for="each in row.days" :key="each">
            <button
              type="button"
              :class="{ on: isIn(each), other: !each.startsWith(month) }"
              :aria-label="dayText(each)"
              :data-day="each"
              :tabindex="each === reached ? 0 : -1"
              :data-test="each.startsWith(month) ? `day-${each}` : undefined"
              @mouseenter="((pointed = each), look(each))"
              @focus="((pointed = each), look(each))"
              @click="takeDay(each)"
            >
              {{ Number(each.slice(8)) }}
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.calendar {
  padding: 2px 8px;
}
p,
.parts {
  display: flex;
  gap: 4px;
  align-items: center;
  margin: 2px 0;
}
.head {
  justify-content: center;
  margin-top: 6px;
}
.months {
  display: grid;
  grid-template-columns: repeat(6, 1fr);
  gap: 4px;
  margin: 4px 0;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 12px;
}
th {
  font-weight: 400;
  color: var(--quiet);
}
td,
th {
  padding: 0;
  text-align: center;
}
td button,
th button {
  width: 100%;
  min-height: 24px;
  border-color: transparent;
}
th button {
  color: var(--quiet);
}
button {
  border: 1px solid var(--line);
  background: none;
  border-radius: 3px;
  cursor: pointer;
  padding: 1px 6px;
}
button:hover {
  background: var(--soft);
}
.other {
  color: var(--quiet);
}
.on {
  background: var(--window-soft-0);
  font-weight: 700;
}
/* In sight however far the calendar is scrolled. */
.told {
  position: sticky;
  top: 0;
  z-index: 1;
  min-height: 2.6em;
  background: var(--sheet);
  font-size: 12px;
  color: var(--quiet);
}
</style>
