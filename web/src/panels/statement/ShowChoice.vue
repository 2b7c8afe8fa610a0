<script setup lang="ts">
/** What stands beside a measure, and with which of the bases it is compared. */
import { SHOW_NOTES, SHOWS } from "@/contract/vocabulary";
import { useSheet } from "@/state/sheet/sheet";
import type { Pieces } from "@/words/told";
import { computed } from "vue";
import type { Show, ShownMeasure, Statement } from "@/contract";

const props = defineProps<{
  shown: ShownMeasure;
  statement: Statement;
  /** Which of the measures it is, and what is said of the statement. */
  at: number;
  said: Pieces;
}>();
const emit = defineEmits<{
  change: [show: Show[]];
  against: [bases: number[] | null];
}>();
const sheet = useSheet();
/** The numbers (from 1) of the bases that the measure is compared with. */
const against = computed(() => props.shown.bases ?? props.statement.bases.map((_, at) => at + 1));

function turnBase(number: number, on: boolean): void {
  const next = on ? [...against.value, number].sort() : against.value.filter((each) => each !== number);
  emit("against", next.length === props.statement.bases.length ? null : next);
}

const choices = computed(() =>
  (Object.keys(SHOWS) as Show[]).map((show) => ({
    show,
    label: SHOWS[show],
    refused: sheet.told?.words.refusals[props.at]?.[show] ?? null,
  })),
);
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
    :title="SHOW_NOTES[choice.show]"
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
