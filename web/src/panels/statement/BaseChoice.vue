<script setup lang="ts">
/** What the current window is compared with, and how the days of the two are matched; each choice tells its days first. */
import { computed, ref, watch } from "vue";
import type { Base, Grain, LedgerDescription, PeriodBase, Statement, StatementPreview } from "@/contract";
import { grainOf, grains, sameBase, setBases } from "@/model/statement";
import { useTelling, useToldOf } from "@/panels/statement/telling";
import Choices from "@/parts/Choices.vue";
import DayCalendar from "@/parts/DayCalendar.vue";
import { useFigures } from "@/state/figures";
import { useLedgers } from "@/state/ledgers";
import { ALIGNMENTS, alignmentsOf, baseName, capital, GRAINS, previewWords, SPREADS } from "@/words/words";

const props = defineProps<{
  statement: Statement;
  at: number | null;
  year: number;
  /** Around which a calendar opens. */
  day: string;
  ledger: LedgerDescription;
}>();
const emit = defineEmits<{ change: [bases: Base[]]; swap: [] }>();

const ledgers = useLedgers();
const figures = useFigures();
const tell = useTelling();
/** Ledgers that can be compared with: of the same currency, with the dimensions that the statement names. */
const plans = computed(() => {
  const { rows, across, filters } = props.statement;
  const named = [...rows, ...across, ...filters.map((each) => each.dimension)].filter(
    (each): each is string => typeof each === "string",
  );
  const needed = named.map((name) => props.ledger.dimensions.find((each) => each.name === name)?.of ?? name);
  return ledgers.active.filter(
    (each) =>
      each.id !== props.ledger.id &&
      each.currency === props.ledger.currency &&
      needed.every((name) => each.dimensions.includes(name)),
  );
});
const plan = ref("");
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
    previews.value = await figures.previews(bases.map((each) => setBases(props.statement, placed(each))));
  },
  { immediate: true },
);
const choices = computed(() =>
  offered.value.map((each, place) => ({
    key: keyOf(each),
    label: capital(baseName(each, props.statement.window, props.year, atDays.value)),
    note: previewWords(previews.value[place], number.value),
    refused: taken(each) ? "It is compared with already." : previews.value[place]?.refused || null,
  })),
);
const chosen = computed(() => (current.value?.kind === "period" ? keyOf(current.value) : undefined));
/** The ways in which the base there is can be matched with a window that is not over, or is not as long. */
const ways = computed<Base[]>(() => {
  const base = current.value;
  return base ? alignmentsOf(base).map((align) => ({ ...base, align }) as Base) : [];
});
const aligned = ref<StatementPreview[]>([]);
watch(
  ways,
  async (bases) => {
    aligned.value = await figures.previews(bases.map((each) => setBases(props.statement, placed(each))));
  },
  { immediate: true },
);
const alignments = computed(() =>
  ways.value.map((each, place) => ({
    key: alignOf(each),
    label: capital(ALIGNMENTS[alignOf(each)] ?? ""),
    note: previewWords(aligned.value[place], number.value),
    refused: aligned.value[place]?.refused || null,
  })),
);

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
    <input v-model="steps" type="number" min="1" max="400" aria-label="How many" data-test="steps" />
    <select v-model="unit" aria-label="Unit" data-test="steps-unit">
      <option v-if="own === 'period'" value="own">periods</option>
      <template v-for="(label, grain) in GRAINS" :key="grain">
        <option v-if="grain === 'year' || grain === own || !timed" :value="grain">{{ label }}s</option>
      </template>
    </select>
    <select v-model="direction" aria-label="Direction" data-test="steps-direction">
      <option value="back">back</option>
      <option value="ahead">ahead</option>
    </select>
    <button type="submit" data-test="take-steps">Take</button>
    <small data-test="told-steps">{{ toldSteps }}</small>
  </form>
  <form class="steps" @submit.prevent="take(days)">
    <input v-model="first" type="date" aria-label="First day of the base" data-test="given-first" />
    <input v-model="last" type="date" aria-label="Last day of the base" data-test="given-last" />
    <button type="submit" data-test="take-given">These days</button>
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
    <input
      v-model="fixed"
      size="10"
      :placeholder="String(year - 1)"
      aria-label="Fixed period"
      data-test="fixed-period"
    />
    <button type="submit" data-test="take-fixed">The same period of this one</button>
    <small>{{ toldPosition }}</small>
  </form>
  <form
    v-if="plans.length"
    class="steps"
    @submit.prevent="plan && take({ kind: 'ledger', ledger: plan, align: 'same_dates', spread: 'days' })"
  >
    <select v-model="plan" aria-label="Another ledger" data-test="plan-ledger">
      <option v-for="each in plans" :key="each.name" :value="each.name">{{ each.name }}</option>
    </select>
    <button type="submit" data-test="take-plan">Another ledger, as a plan</button>
  </form>
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
    <button type="button" class="plain" data-test="swap" @click="emit('swap')">The other way round</button>
  </p>
  <button v-if="at !== null" type="button" class="plain" data-test="remove" @click="remove">
    Remove this base
  </button>
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
