<script setup lang="ts">
/** What the current window is compared with, and how the days of the two are matched. */
import { computed, ref, watch } from "vue";
import type { Base, Grain, PeriodBase, Statement, StatementPreview } from "@/contract";
import { grainOf, grains, setBases } from "@/model/statement";
import Choices from "@/parts/Choices.vue";
import { useFigures } from "@/state/figures";
import { useLedgers } from "@/state/ledgers";
import { ALIGNMENTS, baseName, capital, GRAINS, previewWords } from "@/words/words";

const props = defineProps<{ statement: Statement; at: number | null; year: number }>();
const emit = defineEmits<{ change: [bases: Base[]]; swap: [] }>();

const ledgers = useLedgers();
const plans = computed(() => ledgers.list.filter((each) => each.name !== ledgers.open?.name));
const plan = ref("");
const timed = computed(() => grains(props.statement).length > 0);
/** In what the window before lies: the window's own grain, or in a series each level's. */
const own = computed<PeriodBase["unit"]>(() => {
  const grain = grainOf(props.statement.window);
  return timed.value || !grain ? "period" : grain;
});
const atDays = computed(() => grains(props.statement).includes("day"));
const current = computed(() => (props.at === null ? undefined : props.statement.bases[props.at]));
const steps = ref(2);
const unit = ref<Grain | "own">("year");
const direction = ref<"back" | "ahead">("back");
const first = ref("");
const last = ref("");
const fixed = ref("");

const offered = computed(() => [
  // At days the first base is the same weekday a week earlier, the day before the second.
  ...(atDays.value ? [{ ...step(1, "period"), day_back: 7 }] : []),
  ...(own.value === "year"
    ? []
    : [atDays.value ? { ...step(1, "period"), day_back: 1 } : step(1, own.value)]),
  step(1, "year"),
  step(2, "year"),
]);
const figures = useFigures();
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
    note: previewWords(previews.value[place], (props.at ?? props.statement.bases.length) + 1),
    refused: taken(each) ? "It is compared with already." : previews.value[place]?.refused || null,
  })),
);
const chosen = computed(() => (current.value?.kind === "period" ? keyOf(current.value) : undefined));
const aligned = ref<StatementPreview[]>([]);
watch(
  () => props.statement,
  async () => {
    const base = current.value;
    if (base?.kind !== "period") return;
    const ways = Object.keys(ALIGNMENTS).map((align) => ({ ...base, align: align as PeriodBase["align"] }));
    aligned.value = await figures.previews(ways.map((each) => setBases(props.statement, placed(each))));
  },
  { immediate: true },
);
const alignments = computed(() =>
  current.value?.kind === "period"
    ? Object.entries(ALIGNMENTS).map(([key, label], place) => ({
        key,
        label: capital(label),
        note: previewWords(aligned.value[place], (props.at ?? 0) + 1),
        refused: aligned.value[place]?.refused || null,
      }))
    : [],
);

function keyOf(base: PeriodBase): string {
  return `${base.back}-${base.unit}${base.day_back ? `-${base.day_back}` : ""}`;
}

function step(back: number, of: PeriodBase["unit"]): PeriodBase {
  return { back, unit: of, align: "same_dates", kind: "period" };
}

function taken(one: Base): boolean {
  return props.statement.bases.some(
    (each, at) => at !== props.at && JSON.stringify(each) === JSON.stringify(one),
  );
}

function placed(one: Base): Base[] {
  const bases = [...props.statement.bases];
  if (props.at === null) bases.push(one);
  else bases[props.at] = one;
  return bases;
}

function take(one: Base | undefined): void {
  if (one) emit("change", placed(one));
}

function takeSteps(): void {
  const n = Math.trunc(Number(steps.value));
  if (n < 1 || n > 400) return;
  const back = direction.value === "back" ? n : -n;
  if (unit.value === "own" || unit.value === own.value) take(step(back, own.value));
  else if (unit.value === "year") take(step(back, "year"));
  else take({ kind: "shifted", back, unit: unit.value, align: "same_dates" });
}

function align(how: string): void {
  if (current.value?.kind === "period") take({ ...current.value, align: how as PeriodBase["align"] });
}

function given(): void {
  if (first.value && last.value)
    take({ kind: "given", window: { kind: "dates", first: first.value, last: last.value } });
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
  <form class="steps" @submit.prevent="takeSteps">
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
  </form>
  <form class="steps" @submit.prevent="given">
    <input v-model="first" type="date" aria-label="First day of the base" data-test="given-first" />
    <input v-model="last" type="date" aria-label="Last day of the base" data-test="given-last" />
    <button type="submit" data-test="take-given">These days</button>
  </form>
  <form
    class="steps"
    @submit.prevent="take({ kind: 'fixed', period: fixed.trim() || String(year - 1), align: 'same_dates' })"
  >
    <input
      v-model="fixed"
      size="10"
      :placeholder="String(year - 1)"
      aria-label="Fixed period"
      data-test="fixed-period"
    />
    <button type="submit" data-test="take-fixed">The same period of this one</button>
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
    v-if="alignments.length && current?.kind === 'period'"
    title="Where the period is not over, match"
    :choices="alignments"
    :chosen="current.align"
    @take="align"
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
  gap: 4px;
  padding: 4px 8px;
}
.steps input[type="number"] {
  width: 60px;
}
</style>
