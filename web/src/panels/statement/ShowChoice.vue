<script setup lang="ts">
/** What stands beside a measure, and what its figures run along. */
import { computed } from "vue";
import type { Along, LedgerDescription, Show, ShownMeasure, Statement } from "@/contract";
import { alongName, grains, showRefusal } from "@/model/statement";
import Choices from "@/parts/Choices.vue";
import { alongWords, baseName, capital, SHOWS } from "@/words/words";

const props = defineProps<{ shown: ShownMeasure; ledger: LedgerDescription; statement: Statement }>();
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
const alongs = computed(() => [
  { key: "own", label: "The period's own figure" },
  ...OFFERED.map((each) => ({
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
      {{ baseName(base, statement.window, new Date().getFullYear()) }}
    </label>
  </template>
  <Choices
    v-if="grains(statement).length"
    title="Along the periods"
    :choices="alongs"
    :chosen="shown.along ? alongName(shown.along) : 'own'"
    @take="(key) => emit('along', OFFERED.find((each) => alongName(each) === key) ?? null)"
  />
</template>

<style scoped>
label {
  display: block;
  padding: 3px 4px;
  white-space: nowrap;
}
.title {
  margin: 8px 4px 0;
  font-weight: 700;
}
.refused {
  color: var(--quiet);
}
</style>
