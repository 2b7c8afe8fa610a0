<script setup lang="ts">
/** How time is counted: fiscal year, weeks, holidays, as-of policy and coverage, with the year as it falls out. */
import { storeToRefs } from "pinia";
import { computed, ref, watch } from "vue";
import { useRoute } from "vue-router";
import type { CalendarPreview, LedgerSettings } from "@/contract";
import { dayText, rangeText } from "@/model/days";
import YearPicture from "@/panels/YearPicture.vue";
import Trouble from "@/parts/Trouble.vue";
import { useLedgers } from "@/state/ledgers";
import { MONTHS, PATTERNS, POLICIES, WEEKDAYS } from "@/words/calendar";
import { count } from "@/words/words";

const route = useRoute();
const ledgers = useLedgers();
const { open } = storeToRefs(ledgers);
const kept = ref<LedgerSettings | null>(null);
const next = ref<LedgerSettings | null>(null);
const year = ref<CalendarPreview | null>(null);
const ahead = ref(0);
const trouble = ref("");
const done = ref("");
const holiday = ref("");
const changed = computed(() => JSON.stringify(kept.value) !== JSON.stringify(next.value));
const policy = computed({
  get: () => POLICIES.findIndex((each) => same(each.policy, next.value?.as_of)),
  set: (at: number) => {
    const chosen = POLICIES[at];
    if (next.value && chosen) next.value.as_of = chosen.policy;
  },
});

watch(
  () => route.fullPath,
  async () => {
    if (route.path !== "/calendar") return;
    await attempt(async () => {
      await ledgers.choose(typeof route.query.ledger === "string" ? route.query.ledger : null);
      if (!open.value) return;
      kept.value = await ledgers.settings();
      next.value = JSON.parse(JSON.stringify(kept.value));
    });
  },
  { immediate: true },
);
watch([next, ahead], () => void attempt(preview), { deep: true });

function same(one: object, other: object | undefined): boolean {
  return JSON.stringify(Object.entries(one).sort()) === JSON.stringify(Object.entries(other ?? {}).sort());
}

async function attempt(work: () => Promise<void>): Promise<void> {
  trouble.value = "";
  try {
    await work();
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error);
  }
}

async function preview(): Promise<void> {
  if (!next.value) return;
  const asked = JSON.stringify([next.value, ahead.value]);
  const found = await ledgers.previewCalendar(next.value, ahead.value);
  if (asked === JSON.stringify([next.value, ahead.value])) year.value = found;
}

async function confirm(): Promise<void> {
  await attempt(async () => {
    if (!next.value) return;
    await ledgers.changeSettings(next.value);
    kept.value = await ledgers.settings();
    next.value = JSON.parse(JSON.stringify(kept.value));
    done.value = "The calendar is kept. Statements count by it from now on.";
  });
}

function turnWeeks(on: boolean): void {
  if (!next.value) return;
  next.value.calendar.week_years = on
    ? { pattern: "4-4-5", last_weekday: 5, anchor_month: 1, end: "nearest", named: "anchor" }
    : null;
}

function turnWeekday(day: number, on: boolean): void {
  if (!next.value) return;
  const others = next.value.calendar.working_weekdays.filter((each) => each !== day);
  next.value.calendar.working_weekdays = on ? [...others, day].sort() : others;
}

function addHolidays(): void {
  if (!next.value) return;
  const days = holiday.value.match(/\d{4}-\d{2}-\d{2}/g) ?? [];
  next.value.calendar.holidays = [...new Set([...next.value.calendar.holidays, ...days])].sort();
  if (days.length) holiday.value = "";
}
</script>

<template>
  <div class="page" data-test="calendar-page">
    <h1>How time is counted in {{ open?.name }}</h1>
    <Trouble v-if="trouble" :message="trouble" />
    <div v-if="next" class="columns">
      <form data-test="calendar-form" @submit.prevent="confirm">
        <label
          >The fiscal year starts in
          <select
            v-model.number="next.calendar.fiscal_start_month"
            :disabled="!!next.calendar.week_years"
            data-test="calendar-fiscal"
          >
            <option v-for="(name, at) in MONTHS" :key="name" :value="at + 1">{{ name }}</option>
          </select></label
        >
        <label
          >and is named after the year in which it
          <select v-model="next.calendar.fiscal_year_named" :disabled="!!next.calendar.week_years">
            <option value="end">ends</option>
            <option value="start">starts</option>
          </select></label
        >
        <label
          >Weeks start on
          <select v-model.number="next.calendar.week_start" data-test="calendar-week">
            <option v-for="(name, at) in WEEKDAYS" :key="name" :value="at">{{ name }}</option>
          </select></label
        >
        <label
          ><span>Years of 52 or 53 whole weeks</span
          ><input
            type="checkbox"
            :checked="!!next.calendar.week_years"
            data-test="calendar-weeks"
            @change="turnWeeks(($event.target as HTMLInputElement).checked)"
        /></label>
        <template v-if="next.calendar.week_years">
          <label
            >Weeks of a quarter's months
            <select v-model="next.calendar.week_years.pattern" data-test="calendar-pattern">
              <option v-for="each in PATTERNS" :key="each" :value="each">{{ each }}</option>
            </select></label
          >
          <label
            >The year ends on a
            <select v-model.number="next.calendar.week_years.last_weekday">
              <option v-for="(name, at) in WEEKDAYS" :key="name" :value="at">{{ name }}</option>
            </select></label
          >
          <label
            >which is
            <select v-model="next.calendar.week_years.end">
              <option value="nearest">nearest to the end of</option>
              <option value="last">the last in</option>
            </select>
            <select v-model.number="next.calendar.week_years.anchor_month" aria-label="Month">
              <option v-for="(name, at) in MONTHS" :key="name" :value="at + 1">{{ name }}</option>
            </select></label
          >
          <label
            >named after
            <select v-model="next.calendar.week_years.named">
              <option value="anchor">the year of that month</option>
              <option value="before">the year before</option>
            </select></label
          >
        </template>
        <label
          ><span>The last day of a month is compared with the last day of the other</span
          ><input v-model="next.calendar.month_end_rule" type="checkbox"
        /></label>
        <fieldset>
          <legend>Days that are worked</legend>
          <label v-for="(name, at) in WEEKDAYS" :key="name" class="day"
            ><input
              type="checkbox"
              :checked="next.calendar.working_weekdays.includes(at)"
              @change="turnWeekday(at, ($event.target as HTMLInputElement).checked)"
            />
            {{ name.slice(0, 3) }}</label
          >
        </fieldset>
        <fieldset>
          <legend>Holidays, {{ count(next.calendar.holidays.length, "day") }}</legend>
          <p class="holidays">
            <span v-for="each in next.calendar.holidays" :key="each"
              >{{ dayText(each)
              }}<button
                type="button"
                class="plain"
                :aria-label="`${dayText(each)} is no holiday`"
                @click="next.calendar.holidays = next.calendar.holidays.filter((other) => other !== each)"
              >
                ✕
              </button></span
            >
          </p>
          <p class="adding">
            <input
              v-model="holiday"
              placeholder="2026-05-01, 2026-12-25 …"
              aria-label="Holidays to add, one or a pasted list"
              data-test="calendar-holiday"
              @keydown.enter.prevent="addHolidays"
            />
            <button type="button" data-test="calendar-add" @click="addHolidays">Add</button>
          </p>
        </fieldset>
        <label
          >New statements count up to
          <select v-model.number="policy" data-test="calendar-policy">
            <option :value="-1" disabled>a pinned day</option>
            <option v-for="(each, at) in POLICIES" :key="each.words" :value="at">{{ each.words }}</option>
          </select></label
        >
        <fieldset v-if="next.coverage.length">
          <legend>What is posted completely</legend>
          <label v-for="each in next.coverage" :key="each.feed"
            >{{ each.feed }}
            <span>
              <input
                type="date"
                :value="each.covers_from ?? ''"
                :aria-label="`${each.feed} from`"
                @change="each.covers_from = ($event.target as HTMLInputElement).value || null"
              />
              <input
                type="date"
                :value="each.covers_through ?? ''"
                :aria-label="`${each.feed} through`"
                @change="each.covers_through = ($event.target as HTMLInputElement).value || null"
              /> </span
          ></label>
        </fieldset>
      </form>
      <div v-if="year" class="fallen">
        <p class="turn">
          <button type="button" class="plain" data-test="year-before" @click="ahead -= 1">
            the year before
          </button>
          <strong>{{ year.year }}</strong> {{ rangeText(year.first, year.last) }}
          <button type="button" class="plain" data-test="year-after" @click="ahead += 1">
            the year after
          </button>
        </p>
        <YearPicture :year="year" />
        <section class="changes" data-test="calendar-changes">
          <template v-if="changed">
            <h2>
              {{
                year.changes.length
                  ? `This changes ${count(year.changes.length, "statement")}; ${year.unchanged} stay as they are`
                  : `No statement changes: all ${year.unchanged} stay as they are`
              }}
            </h2>
            <table v-if="year.changes.length">
              <thead>
                <tr>
                  <th scope="col">Statement</th>
                  <th scope="col">Windows now</th>
                  <th scope="col">Windows then</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="each in year.changes" :key="each.name" data-test="calendar-change">
                  <th scope="row">{{ each.name }}</th>
                  <td>{{ each.before.join("; ") }}</td>
                  <td>
                    {{
                      each.refused ||
                      (each.after.join("; ") === each.before.join("; ")
                        ? "the same range in other periods"
                        : each.after.join("; "))
                    }}
                  </td>
                </tr>
              </tbody>
            </table>
            <p>
              <button type="button" class="main" data-test="calendar-keep" @click="confirm">
                Keep this calendar
              </button>
              <button type="button" class="plain" @click="next = JSON.parse(JSON.stringify(kept))">
                As it was
              </button>
            </p>
          </template>
          <p v-else class="quiet" role="status">
            {{
              done || "Change something, and what it does to the statements is told here before it is kept."
            }}
          </p>
        </section>
      </div>
    </div>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  overflow: auto;
  padding: 10px 18px;
}
h1 {
  font-size: 16px;
  margin: 0 0 10px;
}
h2 {
  font-size: 14px;
  margin: 0 0 6px;
}
.columns {
  display: grid;
  grid-template-columns: 390px minmax(0, 1fr);
  gap: 20px;
}
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
.holidays {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  margin: 0 0 4px;
  max-height: 84px;
  overflow: auto;
}
.adding {
  display: flex;
  gap: 6px;
  margin: 0;
}
.adding input {
  flex: 1;
}
.turn {
  display: flex;
  gap: 14px;
  margin: 0 0 6px;
}
.changes {
  margin-top: 12px;
}
table {
  border-collapse: collapse;
  font-size: 12px;
}
th,
td {
  text-align: left;
  padding: 3px 14px 3px 0;
  border-bottom: 1px solid var(--line);
  vertical-align: top;
}
@media (max-width: 1100px) {
  .columns {
    grid-template-columns: 330px minmax(0, 1fr);
    gap: 12px;
  }
}
</style>
