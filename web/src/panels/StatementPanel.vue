<script setup lang="ts">
/** The sentence that says what is shown; each part can be clicked and changed. */
import { computed } from "vue";
import type { Answer, LedgerDescription, Statement } from "@/contract";
import * as edit from "@/model/statement";
import AsOfChoice from "@/panels/statement/AsOfChoice.vue";
import BaseChoice from "@/panels/statement/BaseChoice.vue";
import FilterChoice from "@/panels/statement/FilterChoice.vue";
import MeasureChoice from "@/panels/statement/MeasureChoice.vue";
import RowChoice from "@/panels/statement/RowChoice.vue";
import ShowChoice from "@/panels/statement/ShowChoice.vue";
import Choices from "@/parts/Choices.vue";
import Part from "@/parts/Part.vue";
import { baseName, dimensionName, GRAINS, measureName, SHOWS } from "@/words/words";
import { dayText } from "@/model/days";

const props = defineProps<{ statement: Statement; ledger: LedgerDescription; answer: Answer | null }>();
const emit = defineEmits<{ change: [statement: Statement] }>();

const asOf = computed(
  () => props.answer?.as_of ?? (props.statement.as_of.kind === "pinned" ? props.statement.as_of.day : null),
);
const grain = computed(() => props.statement.window.grain);
const year = computed(() => Number((asOf.value ?? "1970").slice(0, 4)));
const free = computed(() =>
  props.ledger.measures.filter(
    (each) => !props.statement.measures.some((shown) => shown.measure === each.name),
  ),
);
const windowWords = computed(
  () => `${GRAINS[grain.value]} to date at ${asOf.value ? dayText(asOf.value) : "the last posted day"}`,
);

const RETURNS = [
  { key: "own_day", label: "their own day", note: "The day on which the goods came back." },
  {
    key: "divided",
    label: "the day of their sale",
    note: "A refund known by order only is divided over the order's lines.",
  },
  {
    key: "not_allocated",
    label: "the day of their sale, order refunds not allocated",
    note: "A refund known by order only stands under “not allocated”.",
  },
];
const LEVELS = [
  { key: "as_it_was", label: "as they were", note: "A line takes the level valid on its day." },
  {
    key: "as_it_is_now",
    label: "as they are now",
    note: "All lines take the level valid on the as-of date.",
  },
];
const returnsKey = computed(() => {
  const { returns, refunds } = props.statement;
  return returns === "sale_day" ? (refunds ?? "divided") : "own_day";
});
const returnsWords = computed(() => RETURNS.find((each) => each.key === returnsKey.value)?.label ?? "");
const levelsKey = computed(() => props.statement.levels ?? "as_it_was");

const canReturn = computed(() => props.ledger.dimensions.some((each) => each.role === "order"));
const canLevel = computed(() => props.ledger.dimensions.some((each) => each.of));
const isPlain = computed(() => returnsKey.value === "own_day" && levelsKey.value === "as_it_was");

function returnsOf(key: string): Pick<Statement, "returns" | "refunds"> {
  if (key === "own_day") return { returns: "own_day", refunds: "divided" };
  return { returns: "sale_day", refunds: key as Statement["refunds"] };
}

/** What the ledger says of a measure or a dimension. */
function said(name: string): string | undefined {
  const all = [...props.ledger.measures, ...props.ledger.dimensions];
  return all.find((each) => each.name === name)?.description;
}

function change(statement: Statement): void {
  emit("change", statement);
}

function filterWords(at: number): string {
  const filter = props.statement.filters[at];
  if (!filter) return "";
  const names = filter.members.map((key) => (key === null ? "not mapped" : key || "blank"));
  const shown =
    names.length > 3 ? `${names.slice(0, 2).join(", ")} and ${names.length - 2} more` : names.join(" or ");
  return `${dimensionName(filter.dimension)} is ${filter.exclude ? "not " : ""}${shown}`;
}
</script>

<template>
  <p class="sentence" data-test="statement">
    Show
    <template v-for="(shown, at) in statement.measures" :key="shown.measure">
      <template v-if="at">, and </template>
      <Part :name="`measure-${at}`" :label="measureName(shown.measure)" :about="said(shown.measure)">
        <template #default="{ close }">
          <MeasureChoice
            :measures="ledger.measures"
            :shown="statement.measures"
            :current="shown.measure"
            @take="
              (name, derived) => (
                change(edit.replaceMeasure(statement, shown.measure, name, derived)),
                close()
              )
            "
            @remove="(change(edit.removeMeasure(statement, shown.measure)), close())"
          />
        </template>
      </Part>
      with
      <Part
        :name="`show-${at}`"
        :label="shown.show.length ? shown.show.map((each) => SHOWS[each]).join(', ') : 'nothing else'"
      >
        <ShowChoice
          :shown="shown"
          :ledger="ledger"
          :statement="statement"
          @change="(show) => change(edit.setShow(statement, shown.measure, show))"
        />
      </Part>
    </template>
    <template v-if="free.length"
      >&nbsp;<Part name="add-measure" label="+ measure" adds>
        <template #default="{ close }">
          <MeasureChoice
            :measures="free"
            :shown="[]"
            @take="(name) => (change(edit.addMeasure(statement, name)), close())"
          />
        </template> </Part
    ></template>
    <template v-if="statement.rows.length"
      >, by
      <template v-for="(row, at) in statement.rows" :key="row">
        <template v-if="at"> then </template>
        <Part :name="`row-${at}`" :label="dimensionName(row)" :about="said(row)">
          <template #default="{ close }">
            <RowChoice
              :statement="statement"
              :ledger="ledger"
              :at="at"
              @change="(rows) => (change(edit.setRows(statement, rows)), close())"
            />
          </template>
        </Part>
      </template>
    </template>
    &nbsp;<Part name="add-row" :label="statement.rows.length ? '+ then by' : '+ by'" adds>
      <template #default="{ close }">
        <RowChoice
          :statement="statement"
          :ledger="ledger"
          :at="null"
          @change="(rows) => (change(edit.setRows(statement, rows)), close())"
        />
      </template> </Part
    >, for the
    <Part name="window" :tone="0" :label="windowWords">
      <template #default="{ close }">
        <Choices
          title="To date in the"
          :choices="Object.entries(GRAINS).map(([key, label]) => ({ key, label }))"
          :chosen="grain"
          @take="(key) => (change(edit.setGrain(statement, key as typeof grain)), close())"
        />
        <AsOfChoice
          :as-of="asOf"
          :policy="statement.as_of"
          @pin="(day) => (change(edit.setAsOf(statement, day)), close())"
          @follow="(change({ ...statement, as_of: { kind: 'last_posted' } }), close())"
        />
      </template>
    </Part>
    <template v-if="statement.bases.length"
      >, against
      <template v-for="(base, at) in statement.bases" :key="`${base.back}-${base.unit}`">
        <template v-if="at"> and </template>
        <Part :name="`base-${at}`" :tone="at + 1" :label="baseName(base.back, base.unit, grain, year)">
          <template #default="{ close }">
            <BaseChoice
              :statement="statement"
              :at="at"
              :year="year"
              @change="(bases) => (change(edit.setBases(statement, bases)), close())"
            />
          </template>
        </Part>
      </template>
    </template>
    &nbsp;<Part name="add-base" :label="statement.bases.length ? '+ and' : '+ against'" adds>
      <template #default="{ close }">
        <BaseChoice
          :statement="statement"
          :at="null"
          :year="year"
          @change="(bases) => (change(edit.setBases(statement, bases)), close())"
        />
      </template>
    </Part>
    <template v-for="(filter, at) in statement.filters" :key="filter.dimension"
      >{{ at ? " and " : ", where " }}
      <Part :name="`filter-${filter.dimension}`" :label="filterWords(at)">
        <FilterChoice
          :statement="statement"
          :ledger="ledger"
          :dimension="filter.dimension"
          @change="
            (members, exclude) => change(edit.setFilter(statement, filter.dimension, members, exclude))
          "
        />
      </Part>
    </template>
    <template v-if="returnsKey !== 'own_day'">, returns on {{ returnsWords }}</template>
    <template v-if="levelsKey !== 'as_it_was'">, levels as they are now</template>
    <template v-if="canReturn || canLevel"
      >&nbsp;<Part name="reading" :label="isPlain ? '+ reading' : 'change the reading'" :adds="isPlain">
        <Choices
          v-if="canReturn"
          title="A return counts on"
          :choices="RETURNS"
          :chosen="returnsKey"
          @take="(key) => change({ ...statement, ...returnsOf(key) })"
        />
        <Choices
          v-if="canLevel"
          title="Where a lookup changed, levels stand"
          :choices="LEVELS"
          :chosen="levelsKey"
          @take="(key) => change({ ...statement, levels: key as typeof levelsKey })"
        /> </Part
    ></template>
    &nbsp;<Part name="add-filter" label="+ where" adds>
      <FilterChoice
        :statement="statement"
        :ledger="ledger"
        :dimension="null"
        @change="
          (members, exclude, dimension) => change(edit.setFilter(statement, dimension, members, exclude))
        "
      />
    </Part>
  </p>
</template>

<style scoped>
.sentence {
  margin: 0;
  font-size: 15.5px;
  line-height: 1.85;
}
</style>
