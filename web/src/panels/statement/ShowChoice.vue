<script setup lang="ts">
/** What stands beside a measure, and what its figures run along. */
import Option from "@/parts/Option.vue";
import { ALONGS, GRAINS, SHOWS } from "@/contract/vocabulary";
import { useSheet } from "@/state/sheet/sheet";
import type { Pieces } from "@/words/told";
import { capital } from "@/words/names";
import { computed, ref } from "vue";
import type { Along, Grain, LedgerDescription, Show, ShownMeasure, Statement } from "@/contract";
import { alongName, grains } from "@/model/statement";
import Choices from "@/parts/Choices.vue";

const props = defineProps<{
  shown: ShownMeasure;
  ledger: LedgerDescription;
  statement: Statement;
  /** Which of the measures it is, and what is said of the statement. */
  at: number;
  said: Pieces;
}>();
const emit = defineEmits<{
  change: [show: Show[]];
  along: [along: Along | null];
  against: [bases: number[] | null];
}>();
const sheet = useSheet();
/** The numbers (from 1) of the bases that the measure is compared with. */
const against = computed(() => props.shown.bases ?? props.statement.bases.map((_, at) => at + 1));

function turnBase(number: number, on: boolean): void {
  const next = on ? [...against.value, number].sort() : against.value.filter((each) => each !== number);
  emit("against", next.length === props.statement.bases.length ? null : next);
}

const kind = computed(
  () =>
    props.ledger.measures.find((each) => each.name === props.shown.measure)?.kind ??
    (props.statement.defined.some((each) => each.name === props.shown.measure) ? "derived" : "additive"),
);
const choices = computed(() =>
  (Object.keys(SHOWS) as Show[]).map((show) => ({
    show,
    label: SHOWS[show],
    refused: sheet.told?.words.refusals[props.at]?.[show] ?? null,
  })),
);
/** Those that are offered at once, and the one there is if it is none of them. */
const listed = computed<Along[]>(() => {
  const { along } = props.shown;
  const offered = ALONGS.map((each) => each.along);
  const known = !along || offered.some((each) => alongName(each) === alongName(along));
  return known ? offered : [...offered, along];
});
function alongWords(along: Along): string {
  const offered = ALONGS.find((each) => alongName(each.along) === alongName(along));
  return offered?.words ?? props.said.of("measures", props.at);
}
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
  <ElCheckbox
    v-for="choice in choices"
    :key="choice.show"
    :class="{ refused: choice.refused }"
    :model-value="shown.show.includes(choice.show)"
    :disabled="!!choice.refused && !shown.show.includes(choice.show)"
    :data-test="`show-${choice.show}`"
    @change="toggle(choice.show, !!$event)"
    >{{ choice.label }} <small v-if="choice.refused">{{ choice.refused }}</small></ElCheckbox
  >
  <template v-if="statement.bases.length > 1">
    <p class="title">Compared with</p>
    <ElCheckbox
      v-for="(_, base) in statement.bases"
      :key="base"
      :model-value="against.includes(base + 1)"
      :data-test="`against-${base + 1}`"
      @change="turnBase(base + 1, !!$event)"
      >{{ said.of("bases", base) }}</ElCheckbox
    >
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
      <ElSelect v-model="reset" aria-label="Start of the running total" data-test="running-reset">
        <Option v-for="(label, grain) in GRAINS" :key="grain" :value="grain" :label="label" />
      </ElSelect>
      <ElButton native-type="submit" data-test="take-running">Take</ElButton>
    </form>
    <form class="any" @submit.prevent="moving">
      <ElSelect v-model="of" aria-label="Sum or mean" data-test="moving-of">
        <Option value="mean" :disabled="kind !== 'additive'" label="mean" />
        <Option value="sum" label="sum" />
      </ElSelect>
      of the last
      <ElInput
        v-model.number="periods"
        style="width: 9ch"
        type="number"
        min="2"
        max="400"
        aria-label="How many periods"
        data-test="moving-periods"
      />
      <ElCheckbox v-model="asMany" data-test="moving-as-many">or fewer</ElCheckbox>
      <ElButton native-type="submit" data-test="take-moving">Take</ElButton>
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
