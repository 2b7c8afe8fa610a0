<script setup lang="ts">
/** What the current window is compared with, and how the days of the two are matched; each choice tells its days first. */
import Day from "@/parts/Day.vue";
import Option from "@/parts/Option.vue";
import { ALIGNMENTS, ALIGNMENTS_OF, GRAINS, SPREADS } from "@/contract/vocabulary";
import { capital } from "@/words/names";
import { computed, ref, watch } from "vue";
import type { Base, Grain, LedgerDescription, PeriodBase, Statement, StatementPreview } from "@/contract";
import { grainOf, grains, sameBase, setBases } from "@/model/statement";
import { useTelling, useToldOf } from "@/panels/statement/telling";
import Choices from "@/parts/Choices.vue";
import PlanChoice from "@/panels/statement/PlanChoice.vue";
import DayCalendar from "@/parts/DayCalendar.vue";
import { useSheet } from "@/state/sheet/sheet";

const props = defineProps<{
  statement: Statement;
  at: number | null;
  year: number;
  /** Around which a calendar opens. */
  day: string;
  ledger: LedgerDescription;
}>();
const emit = defineEmits<{ change: [bases: Base[]]; swap: [] }>();

const sheet = useSheet();
const tell = useTelling();
const timed = computed(() => grains(props.statement).length > 0);
/** In what the window before lies: the window's own grain, or in a series each level's. */
const own = computed<PeriodBase["unit"]>(() => {
  const grain = grainOf(props.statement.window);
  return timed.value || !grain ? "period" : grain;
});
const atDays = computed(() => grains(props.statement).includes("day"));
const current = computed(() => (props.at === null ? undefined : props.statement.bases[props.at]));
/** Where the base stands, or will stand, among the windows. */
const number = computed(() => (props.at ?? props.statement.bases.length) + 1);
const steps = ref(2);
const unit = ref<Grain | "own">("year");
const direction = ref<"back" | "ahead">("back");
const first = ref("");
const last = ref("");
const fixed = ref(current.value?.kind === "fixed" ? current.value.period : "");

const offered = computed(() => [
  // At days the first base is the same weekday a week earlier, the day before the second.
  ...(atDays.value ? [{ ...step(1, "period"), day_back: 7 }] : []),
  ...(own.value === "year"
    ? []
    : [atDays.value ? { ...step(1, "period"), day_back: 1 } : step(1, own.value)]),
  step(1, "year"),
  step(2, "year"),
]);
const previews = ref<StatementPreview[]>([]);
/** Each choice in its place: what days it would come to is told before it is chosen. */
watch(
  offered,
  async (bases) => {
    previews.value = await sheet.previews(bases.map((each) => setBases(props.statement, placed(each))));
  },
  { immediate: true },
);
const choices = computed(() =>
  offered.value.map((each, place) => ({
    key: keyOf(each),
    label: capital(nameIn(previews.value[place])),
    note: previews.value[place]?.windows[number.value]?.words ?? "",
    refused: taken(each) ? "It is compared with already." : previews.value[place]?.refused || null,
  })),
);
const chosen = computed(() => (current.value?.kind === "period" ? keyOf(current.value) : undefined));
/** The ways in which the base there is can be matched with a window that is not over, or is not as long. */
const ways = computed<Base[]>(() => {
  const base = current.value;
  return base ? ALIGNMENTS_OF[base.kind].map((align) => ({ ...base, align }) as Base) : [];
});
const aligned = ref<StatementPreview[]>([]);
watch(
  ways,
  async (bases) => {
    aligned.value = await sheet.previews(bases.map((each) => setBases(props.statement, placed(each))));
  },
  { immediate: true },
);
const alignments = computed(() =>
  ways.value.map((each, place) => ({
    key: alignOf(each),
    label: capital(ALIGNMENTS[alignOf(each)] ?? ""),
    note: aligned.value[place]?.windows[number.value]?.words ?? "",
    refused: aligned.value[place]?.refused || null,
  })),
);

/** What the base is called that stands, or would stand, here. */
function nameIn(preview: StatementPreview | undefined): string {
  const pieces = preview?.parts.find((each) => each.part === "bases")?.pieces;
  return pieces?.[number.value - 1]?.words ?? "";
}

function alignOf(base: Base): string {
  return "align" in base ? (base.align ?? "same_dates") : "";
}

function keyOf(base: PeriodBase): string {
  return `${base.back}-${base.unit}${base.day_back ? `-${base.day_back}` : ""}`;
}

function step(back: number, of: PeriodBase["unit"]): PeriodBase {
  return { back, unit: of, align: "same_dates", kind: "period" };
}

function taken(one: Base): boolean {
  return props.statement.bases.some((each, at) => at !== props.at && sameBase(each, one));
}

function placed(one: Base): Base[] {
  const bases = [...props.statement.bases];
  if (props.at === null) bases.push(one);
  else bases[props.at] = one;
  return bases;
}

function take(one: Base | null | undefined): void {
  if (one) emit("change", placed(one));
}

/** What a base would come to, while it is put together. */
function told(choice: () => Base | null): ReturnType<typeof useToldOf> {
  return useToldOf(() => {
    const base = choice();
    return base && { statement: setBases(props.statement, placed(base)), at: number.value };
  });
}

const stepped = computed<Base | null>(() => {
  const n = Math.trunc(Number(steps.value));
  if (!(n >= 1 && n <= 400)) return null;
  const back = direction.value === "back" ? n : -n;
  if (unit.value === "own" || unit.value === own.value) return step(back, own.value);
  if (unit.value === "year") return step(back, "year");
  return { kind: "shifted", back, unit: unit.value, align: "same_dates" };
});
const toldSteps = told(() => stepped.value);
const days = computed<Base | null>(() =>
  first.value && last.value
    ? { kind: "given", window: { kind: "dates", first: first.value, last: last.value } }
    : null,
);
const toldDays = told(() => days.value);
const position = computed<Base>(() => ({
  kind: "fixed",
  period: fixed.value.trim() || String(props.year - 1),
  align: "same_dates",
}));
const toldPosition = told(() => position.value);

function period(key: string, end: string | null = null): Base {
  return {
    kind: "given",
    window: end ? { kind: "dates", first: key, last: end } : { kind: "period", period: key },
  };
}

function tellPeriod(key: string, end: string | null): Promise<string> {
  return tell(setBases(props.statement, placed(period(key, end))), number.value);
}

function align(how: string): void {
  take(ways.value.find((each) => alignOf(each) === how));
}

function spread(how: string): void {
  if (current.value?.kind === "ledger")
    take({ ...current.value, spread: how === "days" ? how : "working_days" });
}

function remove(): void {
  emit(
    "change",
    props.statement.bases.filter((_, at) => at !== props.at),
  );
}
</script>

<template>
  <Choices
    title="Compare with"
    :choices="choices"
    :chosen="chosen"
    @take="(key) => take(offered.find((each) => keyOf(each) === key))"
  />
  <form class="steps" @submit.prevent="take(stepped)">
    <ElInput
      v-model.number="steps"
      style="width: 9ch"
      type="number"
      min="1"
      max="400"
      aria-label="How many"
      data-test="steps"
    />
    <ElSelect v-model="unit" aria-label="Unit" data-test="steps-unit">
      <Option v-if="own === 'period'" value="own" label="periods" />
      <template v-for="(label, grain) in GRAINS" :key="grain">
        <Option v-if="grain === 'year' || grain === own || !timed" :value="grain" :label="`${label}s`" />
      </template>
    </ElSelect>
    <ElSelect v-model="direction" aria-label="Direction" data-test="steps-direction">
      <Option value="back" label="back" />
      <Option value="ahead" label="ahead" />
    </ElSelect>
    <ElButton native-type="submit" data-test="take-steps">Take</ElButton>
    <small data-test="told-steps">{{ toldSteps }}</small>
  </form>
  <form class="steps" @submit.prevent="take(days)">
    <Day v-model="first" aria-label="First day of the base" data-test="given-first" />
    <Day v-model="last" aria-label="Last day of the base" data-test="given-last" />
    <ElButton native-type="submit" data-test="take-given">These days</ElButton>
    <small>{{ toldDays }}</small>
  </form>
  <details>
    <summary data-test="given-calendar">A period, or days, chosen in a calendar</summary>
    <DayCalendar
      :settings="ledger.calendar"
      :day="day"
      :chosen="
        current?.kind === 'given' && current.window.kind === 'period' ? current.window.period : undefined
      "
      :tell="tellPeriod"
      @period="(key) => take(period(key))"
      @days="(from, to) => take(period(from, to))"
    />
  </details>
  <form class="steps" @submit.prevent="take(position)">
    <ElInput
      v-model="fixed"
      style="width: 15ch"
      :placeholder="String(year - 1)"
      aria-label="Fixed period"
      data-test="fixed-period"
    />
    <ElButton native-type="submit" data-test="take-fixed">The same period of this one</ElButton>
    <small>{{ toldPosition }}</small>
  </form>
  <PlanChoice :statement="statement" :ledger="ledger" @take="take" />
  <Choices
    v-if="alignments.length && current"
    title="Where the period is not over, match"
    :choices="alignments"
    :chosen="alignOf(current)"
    @take="align"
  />
  <Choices
    v-if="current?.kind === 'ledger'"
    title="Its lines for whole weeks or months are spread over"
    :choices="Object.entries(SPREADS).map(([key, label]) => ({ key, label: capital(label) }))"
    :chosen="current.spread ?? 'days'"
    @take="spread"
  />
  <p v-if="at !== null && !timed" class="direction">
    Changes are the window less this base.
    <ElButton link data-test="swap" @click="emit('swap')">The other way round</ElButton>
  </p>
  <ElButton v-if="at !== null" link data-test="remove" @click="remove"> Remove this base </ElButton>
</template>

<style scoped>
.direction {
  margin: 6px 8px 0;
  color: var(--quiet);
}
.steps {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  padding: 4px 8px;
}
.steps small {
  flex-basis: 100%;
  color: var(--quiet);
}
details {
  padding: 4px 8px;
}
.steps input[type="number"] {
  width: 60px;
}
</style>
