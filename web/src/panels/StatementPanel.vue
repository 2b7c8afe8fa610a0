<script setup lang="ts">
/** The sentence that says what is shown; each part can be clicked and changed. */
import { useNumbers } from "@/composables/numbers";
import { CUTS as CUT_WORDS } from "@/contract/vocabulary";
import { useSheet } from "@/state/sheet/sheet";
import { piecesOf } from "@/words/told";
import { computed } from "vue";
import type { Answer, LedgerDescription, Statement } from "@/contract";
import { addMonths, rangeText } from "@/model/days";
import { moveBase, swapBase } from "@/model/limits";
import * as edit from "@/model/statement";
import AddParts from "@/panels/statement/AddParts.vue";
import AsOfChoice from "@/panels/statement/AsOfChoice.vue";
import BaseChoice from "@/panels/statement/BaseChoice.vue";
import FilterChoice from "@/panels/statement/FilterChoice.vue";
import LevelParts from "@/panels/statement/LevelParts.vue";
import LimitParts from "@/panels/statement/LimitParts.vue";
import MeasureParts from "@/panels/statement/MeasureParts.vue";
import ConventionParts from "@/panels/statement/ConventionParts.vue";
import { useTelling, useTurning } from "@/panels/statement/telling";
import Choices from "@/parts/Choices.vue";
import Part from "@/parts/Part.vue";
import WindowChoice from "@/panels/statement/WindowChoice.vue";

const { count } = useNumbers();

const props = defineProps<{ statement: Statement; ledger: LedgerDescription; answer: Answer | null }>();
const emit = defineEmits<{ change: [statement: Statement]; beside: [dimension: string] }>();

const asOf = computed(
  () => props.answer?.as_of ?? (props.statement.as_of.kind === "pinned" ? props.statement.as_of.day : null),
);
const tell = useTelling();
const sheet = useSheet();
const said = computed(() => piecesOf(props.statement, sheet.told));
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
/** The last day of a base, or the same day a year ago where there is no such base yet. */
function dayOf(at: number): string {
  const day = props.answer?.windows[at]?.asked?.last;
  return day ?? addMonths(props.answer?.windows[0]?.asked?.last ?? asOf.value ?? props.ledger.today, -12);
}
const timed = computed(() => edit.grains(props.statement).length > 0);
const year = computed(() => Number((asOf.value ?? "1970").slice(0, 4)));

const CUTS = [
  { key: "as_of", label: "by the as-of date only", note: "Periods that are over are whole." },
  {
    key: "same_point",
    label: "at the same point",
    note: "Each is counted as far into it as the as-of date is into the running one.",
  },
];
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
  <p class="sentence" data-test="statement">
    Show
    <MeasureParts :statement="statement" :ledger="ledger" :said="said" @change="change" />
    <LevelParts :statement="statement" :ledger="ledger" :said="said" @change="change" />, for the
    <Part name="window" :tone="0" :label="said.of('window')" :about="daysOf(0)">
      <template #default="{ close }">
        <WindowChoice
          :window="statement.window"
          :statement="statement"
          :ledger="ledger"
          :as-of="asOf"
          @take="(window) => (change(edit.setWindow(statement, window)), close())"
        >
          <AsOfChoice
            :as-of="asOf"
            :policy="statement.as_of"
            :settings="ledger.calendar"
            :tell="(day) => tell(edit.setAsOf(statement, day), 0)"
            @pin="(day) => (change(edit.setAsOf(statement, day)), close())"
            @follow="(policy) => (change({ ...statement, as_of: policy }), close())"
          />
        </WindowChoice>
      </template>
    </Part>
    <template v-if="timed"
      >,
      <Part name="cut" :label="CUT_WORDS[statement.cut]">
        <template #default="{ close }">
          <Choices
            title="Periods are cut"
            :choices="CUTS"
            :chosen="statement.cut"
            @take="(key) => (change({ ...statement, cut: key as Statement['cut'] }), close())"
          />
        </template>
      </Part>
    </template>
    <template v-if="statement.bases.length"
      >, against
      <template v-for="(_, at) in statement.bases" :key="at">
        <template v-if="at"> and </template>
        <Part
          :name="`base-${at}`"
          :tone="at + 1"
          :label="said.of('bases', at)"
          :about="daysOf(at + 1)"
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
    <template v-for="(filter, at) in statement.filters" :key="filter.dimension"
      >{{ at ? " and " : ", where " }}
      <Part
        :name="`filter-${filter.dimension}`"
        :label="said.of('filters', at)"
        removes
        @remove="change(edit.setFilter(statement, filter.dimension, [], false))"
      >
        <FilterChoice
          :statement="statement"
          :ledger="ledger"
          :dimension="filter.dimension"
          @change="
            (members, exclude) => change(edit.setFilter(statement, filter.dimension, members, exclude))
          "
          @beside="(dimension) => emit('beside', dimension)"
        />
      </Part>
    </template>
    <Part name="add-filter" label="+ where" adds>
      <FilterChoice
        :statement="statement"
        :ledger="ledger"
        :dimension="null"
        @change="
          (members, exclude, dimension) => change(edit.setFilter(statement, dimension, members, exclude))
        "
        @beside="(dimension) => emit('beside', dimension)"
      />
    </Part>
    <ConventionParts
      :statement="statement"
      :conventions="sheet.told?.words.conventions ?? []"
      @change="change"
    />
    <LimitParts :statement="statement" :answer="answer" :said="said" @change="change" />
    <AddParts />
  </p>
</template>

<style scoped>
.sentence {
  margin: 0;
  font: var(--size-sentence) / 1.6 var(--serif);
}
.turn {
  color: var(--quiet);
  font-size: 0.8em;
}
/* What can be added stands back behind what is said. */
.sentence :deep(.offers) {
  font: var(--size-note) / 1.4 var(--sans);
}
</style>
