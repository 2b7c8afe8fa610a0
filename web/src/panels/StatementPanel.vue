<script setup lang="ts">
/** The sentence that says what is shown; each part can be clicked and changed. */
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import { CUTS as CUT_WORDS } from "@/contract/vocabulary";
import { useSheet } from "@/state/sheet/sheet";
import { useStatements } from "@/state/statements";
import { piecesOf } from "@/words/told";
import { computed } from "vue";
import type { Answer, LedgerDescription, Statement } from "@/contract";
import * as edit from "@/model/statement";
import AddParts from "@/panels/statement/AddParts.vue";
import AsOfChoice from "@/panels/statement/AsOfChoice.vue";
import BaseParts from "@/panels/statement/BaseParts.vue";
import FilterChoice from "@/panels/statement/FilterChoice.vue";
import LevelParts from "@/panels/statement/LevelParts.vue";
import LimitParts from "@/panels/statement/LimitParts.vue";
import MeasureParts from "@/panels/statement/MeasureParts.vue";
import CountedParts from "@/panels/statement/CountedParts.vue";
import ConventionParts from "@/panels/statement/ConventionParts.vue";
import { useTelling } from "@/panels/statement/telling";
import Choices from "@/parts/Choices.vue";
import Part from "@/parts/Part.vue";
import WindowChoice from "@/panels/statement/WindowChoice.vue";

const { rangeText } = useDays();

const { count } = useNumbers();

const props = defineProps<{ statement: Statement; ledger: LedgerDescription; answer: Answer | null }>();
const emit = defineEmits<{ change: [statement: Statement]; beside: [dimension: string] }>();

const asOf = computed(
  () => props.answer?.as_of ?? (props.statement.as_of.kind === "pinned" ? props.statement.as_of.day : null),
);
const tell = useTelling();
const sheet = useSheet();
const said = computed(() => piecesOf(props.statement, sheet.told));
/** The days that a part's window came to in the answer. */
function daysOf(at: number): string | undefined {
  const window = props.answer?.windows[at];
  if (!window?.asked) return undefined;
  return `${rangeText(window.asked.first, window.asked.last)}, ${count(window.counted_days, "day")}`;
}
/** Whether a filter is the reader's, laid over a statement that was opened. */
function isReaders(filter: Statement["filters"][number]): boolean {
  const { opened } = useStatements();
  const own = opened && edit.whole(opened.statement).filters;
  return !!own && !own.some((each) => JSON.stringify(each) === JSON.stringify(filter));
}
const timed = computed(() => edit.grains(props.statement).length > 0);

const CUTS = [
  {
    key: "as_of",
    label: "Each whole, the running one so far",
    note: "Periods that are over count to their end.",
  },
  {
    key: "same_point",
    label: "Each up to the same point as the running one",
    note: "As far into each period as the as-of date is into the running one.",
  },
];
function change(statement: Statement): void {
  emit("change", statement);
}
</script>

<template>
  <p class="sentence" data-test="statement">
    Show
    <MeasureParts :statement="statement" :ledger="ledger" :said="said" @change="change" />
    <LevelParts :statement="statement" :ledger="ledger" :said="said" @change="change" />,
    {{ said.of("before_window") }}
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
            title="How far each period counts"
            :choices="CUTS"
            :chosen="statement.cut"
            @take="(key) => (change({ ...statement, cut: key as Statement['cut'] }), close())"
          />
        </template>
      </Part>
    </template>
    <BaseParts :statement="statement" :ledger="ledger" :answer="answer" :said="said" @change="change" />
    <span class="list">
      <template v-for="(filter, at) in statement.filters" :key="filter.dimension"
        >{{ at ? " and " : ", where " }}
        <Part
          :name="`filter-${filter.dimension}`"
          :class="{ readers: isReaders(filter) }"
          :about="
            isReaders(filter) ? 'Your filter: the statement that was opened has none like it' : undefined
          "
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
    </span>
    <CountedParts :statement="statement" :ledger="ledger" :said="said" @change="change" />
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
/* A filter of the reader's own is told apart from those of the statement that was opened. */
.sentence :deep(.readers) {
  border-bottom-style: dotted;
}
/* What can be added to a list is seen above its end while the pointer or the focus is in it; it takes no room. */
.sentence :deep(.list:hover .waiting),
.sentence :deep(.list:focus-within .waiting) {
  opacity: 1;
  pointer-events: auto;
  transform: translate(-30%, -75%);
  background: var(--paper);
  z-index: 1;
}
/* What can be added stands back behind what is said. */
.sentence :deep(.offers) {
  font: var(--size-note) / 1.4 var(--sans);
}
</style>
