<script setup lang="ts">
/** How time is counted, as it is set: fiscal year, weeks, working days, holidays, as-of policy and coverage. */
import Day from "@/parts/Day.vue";
import Option from "@/parts/Option.vue";
import { computed } from "vue";
import type { LedgerSettings } from "@/contract";
import HolidaysField from "@/panels/calendar/HolidaysField.vue";
import { MONTHS, PATTERNS, POLICIES, WEEKDAYS } from "@/words/calendar";

/** Changed in place. */
const next = defineModel<LedgerSettings>({ required: true });
const emit = defineEmits<{ confirm: [] }>();
const policy = computed({
  get: () => POLICIES.findIndex((each) => same(each.policy, next.value.as_of)),
  set: (at: number) => {
    const chosen = POLICIES[at];
    if (chosen) next.value.as_of = chosen.policy;
  },
});

function same(one: object, other: object): boolean {
  return JSON.stringify(Object.entries(one).sort()) === JSON.stringify(Object.entries(other).sort());
}

function turnWeeks(on: boolean): void {
  next.value.calendar.week_years = on
    ? { pattern: "4-4-5", last_weekday: 5, anchor_month: 1, end: "nearest", named: "anchor" }
    : null;
}

function turnWeekday(day: number, on: boolean): void {
  const others = next.value.calendar.working_weekdays.filter((each) => each !== day);
  next.value.calendar.working_weekdays = on ? [...others, day].sort() : others;
}
</script>

<template>
  <form data-test="calendar-form" @submit.prevent="emit('confirm')">
    <label
      >The fiscal year starts in
      <ElSelect
        v-model="next.calendar.fiscal_start_month"
        :disabled="!!next.calendar.week_years"
        data-test="calendar-fiscal"
      >
        <Option v-for="(name, at) in MONTHS" :key="name" :value="at + 1" :label="name" /> </ElSelect
    ></label>
    <label
      >and is named after the year in which it
      <ElSelect v-model="next.calendar.fiscal_year_named" :disabled="!!next.calendar.week_years">
        <Option value="end" label="ends" />
        <Option value="start" label="starts" /> </ElSelect
    ></label>
    <label
      >Weeks start on
      <ElSelect v-model="next.calendar.week_start" data-test="calendar-week">
        <Option v-for="(name, at) in WEEKDAYS" :key="name" :value="at" :label="name" /> </ElSelect
    ></label>
    <ElCheckbox
      :model-value="!!next.calendar.week_years"
      data-test="calendar-weeks"
      @change="turnWeeks(!!$event)"
      ><span>Years of 52 or 53 whole weeks</span></ElCheckbox
    >
    <template v-if="next.calendar.week_years">
      <label
        >Weeks of a quarter's months
        <ElSelect v-model="next.calendar.week_years.pattern" data-test="calendar-pattern">
          <Option v-for="each in PATTERNS" :key="each" :value="each" :label="each" /> </ElSelect
      ></label>
      <label
        >The year ends on a
        <ElSelect v-model="next.calendar.week_years.last_weekday">
          <Option v-for="(name, at) in WEEKDAYS" :key="name" :value="at" :label="name" /> </ElSelect
      ></label>
      <label
        >which is
        <ElSelect v-model="next.calendar.week_years.end">
          <Option value="nearest" label="nearest to the end of" />
          <Option value="last" label="the last in" />
        </ElSelect>
        <ElSelect v-model="next.calendar.week_years.anchor_month" aria-label="Month">
          <Option v-for="(name, at) in MONTHS" :key="name" :value="at + 1" :label="name" /> </ElSelect
      ></label>
      <label
        >named after
        <ElSelect v-model="next.calendar.week_years.named">
          <Option value="anchor" label="the year of that month" />
          <Option value="before" label="the year before" /> </ElSelect
      ></label>
    </template>
    <ElCheckbox v-model="next.calendar.month_end_rule"
      ><span>The last day of a month is compared with the last day of the other</span></ElCheckbox
    >
    <fieldset>
      <legend>Days that are worked</legend>
      <ElCheckbox
        v-for="(name, at) in WEEKDAYS"
        :key="name"
        class="day"
        :model-value="next.calendar.working_weekdays.includes(at)"
        @change="turnWeekday(at, !!$event)"
        >{{ name.slice(0, 3) }}</ElCheckbox
      >
    </fieldset>
    <HolidaysField v-model="next.calendar.holidays" />
    <label
      >New statements count up to
      <ElSelect v-model="policy" data-test="calendar-policy">
        <Option :value="-1" disabled label="a pinned day" />
        <Option v-for="(each, at) in POLICIES" :key="each.words" :value="at" :label="each.words" /> </ElSelect
    ></label>
    <fieldset v-if="next.coverage.length">
      <legend>What is posted completely</legend>
      <label v-for="each in next.coverage" :key="each.feed"
        >{{ each.feed }}
        <span>
          <Day
            :model-value="each.covers_from ?? ''"
            :aria-label="`${each.feed} from`"
            @change="each.covers_from = $event || null"
          />
          <Day
            :model-value="each.covers_through ?? ''"
            :aria-label="`${each.feed} through`"
            @change="each.covers_through = $event || null"
          /> </span
      ></label>
    </fieldset>
  </form>
</template>

<style scoped>
form {
  display: grid;
  gap: 7px;
  align-content: start;
}
form > label,
fieldset > label:not(.day) {
  min-height: 28px;
  display: flex;
  justify-content: space-between;
  gap: 8px;
  align-items: center;
}
fieldset {
  border: 1px solid var(--line);
  padding: 6px 10px;
  margin: 0;
}
.day {
  margin-right: 4px;
  white-space: nowrap;
}
.day input {
  margin: 0 1px 0 0;
}
</style>
