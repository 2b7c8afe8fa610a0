<script setup lang="ts">
/** What is current: to date, one period, the last few, or two dates; each tells its days before it is taken. */
import Day from "@/parts/Day.vue";
import Option from "@/parts/Option.vue";
import { GRAINS } from "@/contract/vocabulary";
import { computed, ref, watch } from "vue";
import type { CurrentWindow, Grain, LedgerDescription, Statement, StatementPreview } from "@/contract";
import { COARSE_TO_FINE } from "@/model/going";
import { grainOf, setWindow } from "@/model/statement";
import { useTelling, useToldOf } from "@/panels/statement/telling";
import Choices from "@/parts/Choices.vue";
import DayCalendar from "@/parts/DayCalendar.vue";
import { useSheet } from "@/state/sheet/sheet";

const props = defineProps<{
  window: CurrentWindow;
  asOf: string | null;
  statement: Statement;
  ledger: LedgerDescription;
}>();
const emit = defineEmits<{ take: [window: CurrentWindow] }>();

type ToDate = Extract<CurrentWindow, { kind: "to_date" }>;
const TO_DATE: ToDate["grain"][] = ["week", "month", "quarter", "half_year", "year"];
const sheet = useSheet();
const tell = useTelling();
const previews = ref<StatementPreview[]>([]);
watch(
  () => props.statement,
  async (statement) => {
    const windows = TO_DATE.map((grain) => setWindow(statement, { kind: "to_date", grain }));
    previews.value = await sheet.previews(windows);
  },
  { immediate: true },
);
const choices = computed(() =>
  TO_DATE.map((key, at) => ({
    key,
    label: GRAINS[key],
    note: previews.value[at]?.windows[0]?.words ?? "",
    refused: previews.value[at]?.refused || null,
  })),
);
const chosen = computed(() => (props.window.kind === "to_date" ? props.window.grain : undefined));
/** The grains whose completed periods the window can be made of: those finer than its own. */
const completable = computed(() =>
  chosen.value ? COARSE_TO_FINE.slice(COARSE_TO_FINE.indexOf(chosen.value) + 1) : [],
);
const completed = computed(() => (props.window.kind === "to_date" && props.window.completed) || "");
const day = computed(() => props.asOf ?? props.ledger.today);
const period = ref(props.window.kind === "period" ? props.window.period : day.value.slice(0, 4));
const count = ref(props.window.kind === "last" ? props.window.count : 12);
const unit = ref<Grain>(props.window.kind === "last" ? props.window.grain : "month");
const ending = ref<"as_of" | "completed">(props.window.kind === "last" ? props.window.ending : "completed");
const back = ref(props.window.kind === "running" ? props.window.back : 1);
const backUnit = ref<Grain>(grainOf(props.window) ?? "month");
/** Whether the last day lies before the first: no such window can be made. */
const reversed = computed(() => !!first.value && !!last.value && last.value < first.value);
const first = ref(props.window.kind === "dates" ? props.window.first : "");
const last = ref(props.window.kind === "dates" ? (props.window.last ?? "") : "");

function whole(number: number, least: number, most: number): number | null {
  const found = Math.trunc(Number(number));
  return found >= least && found <= most ? found : null;
}

const named = computed<CurrentWindow | null>(() =>
  period.value.trim() ? { kind: "period", period: period.value.trim() } : null,
);
const lastFew = computed<CurrentWindow | null>(() => {
  const n = whole(count.value, 1, 400);
  return n ? { kind: "last", count: n, grain: unit.value, ending: ending.value } : null;
});
const before = computed<CurrentWindow | null>(() => {
  const n = whole(back.value, 0, 400);
  return n === null ? null : { kind: "running", grain: backUnit.value, back: n };
});
const dates = computed<CurrentWindow | null>(() =>
  first.value && !reversed.value ? { kind: "dates", first: first.value, last: last.value || null } : null,
);

function told(choice: () => CurrentWindow | null): ReturnType<typeof useToldOf> {
  return useToldOf(() => {
    const window = choice();
    return window && { statement: setWindow(props.statement, window), at: 0 };
  });
}
const toldNamed = told(() => named.value);
const toldLast = told(() => lastFew.value);
const toldBefore = told(() => before.value);
const toldDates = told(() => dates.value);

function tellPeriod(key: string, end: string | null): Promise<string> {
  const window: CurrentWindow = end
    ? { kind: "dates", first: key, last: end }
    : { kind: "period", period: key };
  return tell(setWindow(props.statement, window), 0);
}

function toDate(grain: string): void {
  emit("take", { kind: "to_date", grain: grain as ToDate["grain"] });
}

function complete(grain: string): void {
  if (props.window.kind === "to_date")
    emit("take", { kind: "to_date", grain: props.window.grain, completed: (grain || null) as Grain | null });
}

function take(window: CurrentWindow | null): void {
  if (window) emit("take", window);
}
</script>

<template>
  <Choices title="To date in the" :choices="choices" :chosen="chosen" @take="toDate" />
  <label v-if="completable.length" class="line"
    >of these
    <ElSelect :model-value="completed" data-test="completed" @change="complete($event)">
      <Option value="" label="all days" />
      <Option
        v-for="grain in completable"
        :key="grain"
        :value="grain"
        :label="`completed ${GRAINS[grain]}s only`"
      /> </ElSelect
  ></label>
  <p class="title">A period, or two days</p>
  <DayCalendar
    :settings="ledger.calendar"
    :day="day"
    :chosen="window.kind === 'period' ? window.period : undefined"
    :tell="tellPeriod"
    @period="(taken) => emit('take', { kind: 'period', period: taken })"
    @days="(from, to) => emit('take', { kind: 'dates', first: from, last: to })"
  />
  <p class="title">Typed</p>
  <form @submit.prevent="take(named)">
    <ElInput
      v-model="period"
      style="width: 15ch"
      aria-label="Period by name"
      placeholder="2026-Q3"
      data-test="window-period"
    />
    <ElButton native-type="submit" data-test="take-period">One period</ElButton>
    <small data-test="told-period">{{ toldNamed }}</small>
  </form>
  <form @submit.prevent="take(before)">
    <ElInput
      v-model.number="back"
      style="width: 9ch"
      type="number"
      min="0"
      max="400"
      aria-label="How far back"
      data-test="back-count"
    />
    <ElSelect v-model="backUnit" aria-label="Of what, back" data-test="back-unit">
      <Option v-for="(label, key) in GRAINS" :key="key" :value="key" :label="`${label}s`" />
    </ElSelect>
    <ElButton native-type="submit" data-test="take-before">Before the running one</ElButton>
    <small>{{ toldBefore }}</small>
  </form>
  <form @submit.prevent="take(lastFew)">
    <ElInput
      v-model.number="count"
      style="width: 9ch"
      type="number"
      min="1"
      max="400"
      aria-label="How many"
      data-test="last-count"
    />
    <ElSelect v-model="unit" aria-label="Of what" data-test="last-unit">
      <Option v-for="(label, key) in GRAINS" :key="key" :value="key" :label="`${label}s`" />
    </ElSelect>
    <ElSelect v-model="ending" aria-label="Ending" data-test="last-ending">
      <Option value="completed" label="completed" />
      <Option value="as_of" label="to the as-of date" />
    </ElSelect>
    <ElButton native-type="submit" data-test="take-last">The last</ElButton>
    <small data-test="told-last">{{ toldLast }}</small>
  </form>
  <form @submit.prevent="take(dates)">
    <Day v-model="first" aria-label="First day" data-test="dates-first" />
    <Day v-model="last" aria-label="Last day, or none" data-test="dates-last" />
    <ElButton native-type="submit" :disabled="reversed" data-test="take-dates">From, to</ElButton>
    <small>{{ reversed ? "The last day lies before the first." : toldDates }}</small>
  </form>
</template>

<style scoped>
form {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  padding: 3px 8px;
}
form input[type="number"] {
  width: 60px;
}
small {
  flex-basis: 100%;
  color: var(--quiet);
}
.line {
  display: block;
  padding: 2px 8px;
}
.title {
  margin: 8px 0 2px;
  font-weight: 700;
}
</style>
