<script setup lang="ts">
/** A calendar to choose from: a year with its parts and months, and a month with its weeks and days; what a choice comes to is told first. */
import { useDays } from "@/composables/dates";
import { periodName } from "@/words/names";
import { computed, ref, watch } from "vue";
import type { CalendarSettings } from "@/contract";
import { monthsOf, partsOf, yearOf } from "@/model/calendar";
import MonthDays from "@/parts/calendar/MonthDays.vue";

const { dayText, monthName } = useDays();

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
/** The first of two days, while the second is still to come, and the day that is pointed at. */
const first = ref<string | null>(null);
const pointed = ref("");
const told = ref("");
const parts = computed(() => partsOf(year.value));
const months = computed(() => monthsOf(year.value, props.settings));
let looked = "";

function short(key: string): string {
  const [of = "", part] = key.split("-");
  if (!part) return of;
  if (!/^\d/.test(part)) return part;
  return monthName(`${key}-01`) + (Number(of) === year.value ? "" : ` ${of}`);
}

/** Tell what is pointed at, or has the focus. */
async function look(key: string): Promise<void> {
  if (key.length === 10) pointed.value = key;
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
function isIn(day: string): boolean {
  if (first.value === null) return day === props.chosen;
  const [from = "", to = ""] = [first.value, pointed.value || first.value].sort();
  return day >= from && day <= to;
}

function turn(next: string): void {
  isTurned = true;
  month.value = next;
}
</script>

<template>
  <div class="calendar" role="group" aria-label="Calendar">
    <p v-if="tell" class="told" role="status" data-test="calendar-told">
      {{ told || "Point at a period or a day for what it comes to; two days are a range." }}
    </p>
    <template v-if="!single">
      <p class="parts">
        <ElButton text aria-label="The year before" data-test="year-before" @click="year -= 1">‹</ElButton>
        <ElButton
          v-for="key in parts"
          :key="key"
          size="small"
          :class="{ on: key === chosen }"
          :aria-pressed="key === chosen"
          :data-test="`period-${key}`"
          @mouseenter="look(key)"
          @focus="look(key)"
          @click="takePeriod(key)"
          >{{ short(key) }}</ElButton
        >
        <ElButton text aria-label="The year after" data-test="year-after" @click="year += 1">›</ElButton>
      </p>
      <div class="months">
        <ElButton
          v-for="key in months"
          :key="key"
          size="small"
          :class="{ on: key === chosen }"
          :aria-pressed="key === chosen"
          :data-test="`period-${key}`"
          @mouseenter="look(key)"
          @focus="(look(key), show(key))"
          @click="takePeriod(key)"
          >{{ short(key) }}</ElButton
        >
      </div>
    </template>
    <MonthDays
      :month="month"
      :week-start="settings.week_start"
      :single="!!single"
      :chosen="chosen"
      :is-in="isIn"
      :near="first ?? day"
      @turn="turn"
      @look="look"
      @week="takePeriod"
      @day="takeDay"
    />
  </div>
</template>

<style scoped>
.calendar {
  padding: 2px 0;
}
.parts {
  display: flex;
  gap: 2px;
  align-items: center;
  justify-content: space-between;
  margin: 2px 0;
}
.calendar .el-button {
  margin: 0;
  padding: 0 7px;
}
.months {
  display: grid;
  grid-template-columns: repeat(6, 1fr);
  gap: 4px;
  margin: 4px 0;
}
.on {
  background: var(--window-soft-0);
  font-weight: 700;
}
.told {
  min-height: 2.6em;
  margin: 0 0 2px;
  font-size: var(--size-note);
  color: var(--quiet);
}
</style>
