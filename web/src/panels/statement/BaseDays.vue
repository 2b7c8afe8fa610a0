<script setup lang="ts">
/** A base of given days: a period or a range from a calendar, or two days that are typed. */
import Day from "@/parts/Day.vue";
import { computed, ref } from "vue";
import type { Base, CalendarSettings, Statement } from "@/contract";
import { useTelling, useToldOf } from "@/panels/statement/telling";
import DayCalendar from "@/parts/calendar/DayCalendar.vue";

const props = defineProps<{
  settings: CalendarSettings;
  /** Around which the calendar opens. */
  day: string;
  current: Base | undefined;
  /** The statement with a base in its place, and which window that is. */
  place: (base: Base) => Statement;
  number: number;
}>();
const emit = defineEmits<{ take: [base: Base] }>();
const tell = useTelling();
const first = ref("");
const last = ref("");

const days = computed<Base | null>(() =>
  first.value && last.value
    ? { kind: "given", window: { kind: "dates", first: first.value, last: last.value } }
    : null,
);
const told = useToldOf(() => days.value && { statement: props.place(days.value), at: props.number });

function period(key: string, end: string | null = null): Base {
  return {
    kind: "given",
    window: end ? { kind: "dates", first: key, last: end } : { kind: "period", period: key },
  };
}

function tellPeriod(key: string, end: string | null): Promise<string> {
  return tell(props.place(period(key, end)), props.number);
}
</script>

<template>
  <DayCalendar
    :settings="settings"
    :day="day"
    :chosen="
      current?.kind === 'given' && current.window.kind === 'period' ? current.window.period : undefined
    "
    :tell="tellPeriod"
    @period="(key) => emit('take', period(key))"
    @days="(from, to) => emit('take', period(from, to))"
  />
  <form class="days" @submit.prevent="days && emit('take', days)">
    <Day v-model="first" aria-label="First day of the base" data-test="given-first" />
    <Day v-model="last" aria-label="Last day of the base" data-test="given-last" />
    <ElButton native-type="submit" data-test="take-given">These days</ElButton>
    <small>{{ told }}</small>
  </form>
</template>

<style scoped>
.days {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  padding: 6px 0 0;
}
small {
  flex-basis: 100%;
  color: var(--quiet);
}
</style>
