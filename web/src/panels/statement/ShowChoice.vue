<script setup lang="ts">
/** What stands beside a measure, and what its figures run along. */
import { computed, ref } from "vue";
import type { Along, Grain, LedgerDescription, Show, ShownMeasure, Statement } from "@/contract";
import { alongName, grains, showRefusal } from "@/model/statement";
import Choices from "@/parts/Choices.vue";
import { alongWords, baseName, capital, GRAINS, SHOWS } from "@/words/words";

const props = defineProps<{
  shown: ShownMeasure;
  ledger: LedgerDescription;
  statement: Statement;
  year: number;
}>();
const emit = defineEmits<{
  change: [show: Show[]];
  along: [along: Along | null];
  against: [bases: number[] | null];
}>();
/** The numbers (from 1) of the bases that the measure is compared with. */
const against = computed(() => props.shown.bases ?? props.statement.bases.map((_, at) => at + 1));

function turnBase(number: number, on: boolean): void {
  const next = on ? [...against.value, number].sort() : against.value.filter((each) => each !== number);
  emit("against", next.length === props.statement.bases.length ? null : next);
}

const OFFERED: Along[] = [
  { kind: "running", reset: "year" },
  { kind: "running", reset: "quarter" },
  { kind: "running", reset: "month" },
  { kind: "running", reset: null },
  { kind: "moving", periods: 3, of: "mean", as_many: false },
  { kind: "moving", periods: 12, of: "mean", as_many: false },
  { kind: "moving", periods: 12, of: "sum", as_many: false },
];
const kind = computed(
  () =>
    props.ledger.measures.find((each) => each.name === props.shown.measure)?.kind ??
    (props.statement.defined.some((each) => each.name === props.shown.measure) ? "derived" : "additive"),
);
const choices = computed(() =>
  (Object.keys(SHOWS) as Show[]).map((show) => ({
    show,
    label: SHOWS[show],
    refused: showRefusal(props.statement, props.shown, kind.value === "derived", kind.value, show),
  })),
);
/** Those that are offered at once, and the one there is if it is none of them. */
const listed = computed<Along[]>(() => {
  const { along } = props.shown;
  const known = !along || OFFERED.some((each) => alongName(each) === alongName(along));
  return known ? OFFERED : [...OFFERED, along];
});
const of = ref<"sum" | "mean">("mean");
const periods = ref(6);
const asMany = ref(false);
const reset = ref<Grain>("half_year");

/** The sum or mean of any number of periods. */
function moving(): void {
  const n = Math.trunc(Number(periods.value));
  if (n < 2 || n > 400 || (of.value === "mean" && kind.value !== "additive")) return;
  emit("along", { kind: "moving", periods: n, of: of.value, as_many: asMany.value });
}

const alongs = computed(() => [
  { key: "own", label: "The period's own figure" },
  ...listed.value.map((each) => ({
    key: alongName(each),
    label: capital(alongWords(each)),
    refused:
      each.kind === "moving" && each.of === "mean" && kind.value !== "additive"
        ? "A mean over periods means nothing here."
        : null,
  })),
]);

function toggle(show: Show, on: boolean): void {
  const order = Object.keys(SHOWS) as Show[];
  const next = on ? [...props.shown.show, show] : props.shown.show.filter((each) => each !== show);
  emit(
    "change",
    order.filter((each) => next.includes(each)),
  );
}
</script>

<template>
  <label v-for="choice in choices" :key="choice.show" :class="{ refused: choice.refused }">
    <input
      type="checkbox"
      :checked="shown.show.includes(choice.show)"
      :disabled="!!choice.refused && !shown.show.includes(choice.show)"
      :data-test="`show-${choice.show}`"
      @change="toggle(choice.show, ($event.target as HTMLInputElement).checked)"
    />
    {{ choice.label }} <small v-if="choice.refused">{{ choice.refused }}</small>
  </label>
  <template v-if="statement.bases.length > 1">
    <p class="title">Compared with</p>
    <label v-for="(base, at) in statement.bases" :key="at">
      <input
        type="checkbox"
        :checked="against.includes(at + 1)"
        :data-test="`against-${at + 1}`"
        @change="turnBase(at + 1, ($event.target as HTMLInputElement).checked)"
      />
      {{ baseName(base, statement.window, year) }}
    </label>
  </template>
  <Choices
    v-if="grains(statement).length"
    title="Along the periods"
    :choices="alongs"
    :chosen="shown.along ? alongName(shown.along) : 'own'"
    @take="(key) => emit('along', listed.find((each) => alongName(each) === key) ?? null)"
  />
  <template v-if="grains(statement).length">
    <form class="any" @submit.prevent="emit('along', { kind: 'running', reset })">
      running from each
      <select v-model="reset" aria-label="Start of the running total" data-test="running-reset">
        <option v-for="(label, grain) in GRAINS" :key="grain" :value="grain">{{ label }}</option>
      </select>
      <button type="submit" data-test="take-running">Take</button>
    </form>
    <form class="any" @submit.prevent="moving">
      <select v-model="of" aria-label="Sum or mean" data-test="moving-of">
        <option value="mean" :disabled="kind !== 'additive'">mean</option>
        <option value="sum">sum</option>
      </select>
      of the last
      <input
        v-model="periods"
        type="number"
        min="2"
        max="400"
        aria-label="How many periods"
        data-test="moving-periods"
      />
      <label><input v-model="asMany" type="checkbox" data-test="moving-as-many" /> or fewer</label>
      <button type="submit" data-test="take-moving">Take</button>
    </form>
  </template>
</template>

<style scoped>
label {
  display: block;
  padding: 3px 4px;
  white-space: nowrap;
}
.any {
  display: flex;
  gap: 4px;
  align-items: center;
  padding: 3px 8px;
}
.any input[type="number"] {
  width: 56px;
}
.title {
  margin: 8px 4px 0;
  font-weight: 700;
}
.refused {
  color: var(--quiet);
}
</style>
