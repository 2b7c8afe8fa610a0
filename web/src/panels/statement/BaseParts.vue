<script setup lang="ts">
/** What the current window is compared with, base by base, and one more. */
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import { computed } from "vue";
import type { Answer, LedgerDescription, Statement } from "@/contract";
import { BASES } from "@/contract/vocabulary";
import { addMonths } from "@/model/days";
import { moveBase, swapBase } from "@/model/limits";
import * as edit from "@/model/statement";
import BaseChoice from "@/panels/statement/BaseChoice.vue";
import { useTurning } from "@/panels/statement/telling";
import Part from "@/parts/Part.vue";
import { useSheet } from "@/state/sheet/sheet";
import type { Pieces } from "@/words/told";

const { rangeText } = useDays();

const { count } = useNumbers();

const props = defineProps<{
  statement: Statement;
  ledger: LedgerDescription;
  answer: Answer | null;
  said: Pieces;
}>();
const emit = defineEmits<{ change: [statement: Statement] }>();
const sheet = useSheet();
const asOf = computed(
  () => props.answer?.as_of ?? (props.statement.as_of.kind === "pinned" ? props.statement.as_of.day : null),
);
const year = computed(() => Number((asOf.value ?? "1970").slice(0, 4)));
/** The base whose unit one click turns. */
const firstPeriodBase = computed(() =>
  props.statement.bases.findIndex((each) => each.kind === "period" || each.kind === "shifted"),
);
const turned = useTurning(sheet.previews);
async function turnUnit(): Promise<void> {
  const next = await turned(props.statement);
  if (next) change(next);
}
/** The days that a part's window came to in the answer. */
function daysOf(at: number): string | undefined {
  const window = props.answer?.windows[at];
  if (!window?.asked) return undefined;
  return `${rangeText(window.asked.first, window.asked.last)}, ${count(window.counted_days, "day")}`;
}
/** What a comparison means, with the days that it came to. */
function aboutBase(at: number): string {
  const base = props.statement.bases[at];
  return [base && BASES[base.kind], daysOf(at + 1)].filter(Boolean).join(": ");
}
/** The last day of a base, or the same day a year ago where there is no such base yet. */
function dayOf(at: number): string {
  const day = props.answer?.windows[at]?.asked?.last;
  return day ?? addMonths(props.answer?.windows[0]?.asked?.last ?? asOf.value ?? props.ledger.today, -12);
}

function change(statement: Statement): void {
  emit("change", statement);
}

/** The base as the window, and the window as the base. */
function swap(at: number): void {
  const swapped = props.answer ? swapBase(props.statement, at, props.answer.windows) : null;
  if (swapped) change(swapped);
}
</script>

<template>
  <span class="list">
    <template v-if="statement.bases.length"
      >, against
      <template v-for="(_, at) in statement.bases" :key="at">
        <template v-if="at"> and </template>
        <Part
          :name="`base-${at}`"
          :tone="at + 1"
          :label="said.of('bases', at)"
          :about="aboutBase(at)"
          kind="base"
          :at="at"
          removes
          @remove="
            change(
              edit.setBases(
                statement,
                statement.bases.filter((_, other) => other !== at),
              ),
            )
          "
          @move="(from, to) => change(moveBase(statement, from, to))"
        >
          <template #default="{ close }">
            <BaseChoice
              :statement="statement"
              :at="at"
              :year="year"
              :day="dayOf(at + 1)"
              :ledger="ledger"
              @change="(bases) => (change(edit.setBases(statement, bases)), close())"
              @swap="(close(), swap(at))"
            />
          </template>
        </Part>
        <ElButton
          v-if="at === firstPeriodBase"
          link
          class="turn"
          title="Compare with the year, the quarter or the month before, in turn (key x)"
          aria-label="Compare with the year, the quarter or the month before, in turn"
          data-test="base-unit"
          @click="turnUnit"
        >
          ↻
        </ElButton>
      </template>
    </template>
    <Part name="add-base" :label="statement.bases.length ? '+ and' : '+ against'" adds>
      <template #default="{ close }">
        <BaseChoice
          :statement="statement"
          :at="null"
          :year="year"
          :day="dayOf(statement.bases.length + 1)"
          :ledger="ledger"
          @change="(bases) => (change(edit.setBases(statement, bases)), close())"
        />
      </template>
    </Part>
  </span>
</template>

<style scoped>
.turn {
  /* Its target is wider than its sign: what follows stands as near as to a word. */
  margin-right: -5px;
  color: var(--quiet);
  font-size: 0.8em;
}
</style>
