<script setup lang="ts">
/** What is shown: measures, what stands beside them, and measures of one's own. */
import { computed } from "vue";
import type { LedgerDescription, Statement } from "@/contract";
import { defineMeasure, moveMeasure, setMeasureBases, setName, setShares, undefine } from "@/model/limits";
import * as edit from "@/model/statement";
import MeasureChoice from "@/panels/statement/MeasureChoice.vue";
import AlongChoice from "@/panels/statement/AlongChoice.vue";
import MeasureName from "@/panels/statement/MeasureName.vue";
import MeasureForm from "@/panels/statement/MeasureForm.vue";
import ShareChoice from "@/panels/statement/ShareChoice.vue";
import ShowChoice from "@/panels/statement/ShowChoice.vue";
import Part from "@/parts/Part.vue";
import type { Pieces } from "@/words/told";

const props = defineProps<{ statement: Statement; ledger: LedgerDescription; said: Pieces }>();
const emit = defineEmits<{ change: [statement: Statement] }>();

const timed = computed(() => edit.grains(props.statement).length > 0);
/** The ledger's measures and the statement's own. */
const measures = computed<LedgerDescription["measures"]>(() => [
  ...props.ledger.measures,
  ...props.statement.defined.map((each) => ({
    name: each.name,
    kind: "derived" as const,
    unit: each.unit,
    decimals: each.decimals,
    polarity: each.polarity,
    description: `${each.name} = ${each.expression}`,
    unavailable: null,
  })),
]);
const free = computed(() =>
  measures.value.filter(
    (each) => timed.value || !props.statement.measures.some((shown) => shown.measure === each.name),
  ),
);

function told(name: string): string | undefined {
  return measures.value.find((each) => each.name === name)?.description;
}

function kindOf(name: string): string {
  return measures.value.find((each) => each.name === name)?.kind ?? "additive";
}

function own(name: string): Statement["defined"][number] | undefined {
  return props.statement.defined.find((each) => each.name === name);
}

/** How many shares stand before those of a measure. */
function sharesBefore(at: number): number {
  return props.statement.measures.slice(0, at).reduce((sum, each) => sum + each.shares.length, 0);
}

function change(statement: Statement | null): void {
  if (statement) emit("change", statement);
}
</script>

<template>
  <span class="list">
    <template v-for="(shown, at) in statement.measures" :key="at">
      <template v-if="at">, and </template>
      <Part
        :name="`measure-${at}`"
        :label="said.of('measures', at)"
        :about="told(shown.measure)"
        kind="measure"
        :at="at"
        :removes="statement.measures.length > 1"
        @remove="change(edit.removeMeasure(statement, at))"
        @move="(from, to) => change(moveMeasure(statement, from, to))"
      >
        <template #default="{ close }">
          <ElTabs model-value="measure">
            <ElTabPane label="Measure" name="measure">
              <MeasureChoice
                :measures="measures"
                :shown="statement.measures"
                :current="shown.measure"
                @take="
                  (name, derived) => (change(edit.replaceMeasure(statement, at, name, derived)), close())
                "
                @remove="(change(edit.removeMeasure(statement, at)), close())"
              />
            </ElTabPane>
            <ElTabPane label="Heading" name="heading">
              <MeasureName
                :name="shown.name"
                :plain="said.of('measures', at)"
                @take="(name) => (change(setName(statement, at, name)), close())"
              />
            </ElTabPane>
            <ElTabPane v-if="own(shown.measure)" label="How it is computed" name="own">
              <MeasureForm
                :defined="own(shown.measure)"
                @define="(defined) => (change(defineMeasure(statement, defined)), close())"
                @remove="(change(undefine(statement, shown.measure)), close())"
              />
            </ElTabPane>
          </ElTabs>
        </template>
      </Part>
      with
      <Part :name="`show-${at}`" :label="said.of('show', at) || 'nothing beside it'">
        <ElTabs model-value="show">
          <ElTabPane label="Beside it" name="show">
            <ShowChoice
              :shown="shown"
              :statement="statement"
              :at="at"
              :said="said"
              @change="(show) => change(edit.setShow(statement, at, show))"
              @against="(bases) => change(setMeasureBases(statement, at, bases))"
            />
          </ElTabPane>
          <ElTabPane label="Shares" name="shares">
            <ShareChoice
              :shown="shown"
              :statement="statement"
              :said="said.all('share_scopes').slice(sharesBefore(at))"
              :derived="kindOf(shown.measure) === 'derived'"
              @change="(shares) => change(setShares(statement, at, shares))"
            />
          </ElTabPane>
          <ElTabPane label="Along the periods" name="along">
            <AlongChoice
              :along="shown.along ?? null"
              :additive="kindOf(shown.measure) === 'additive'"
              :words="said.of('measures', at)"
              :timed="timed"
              @take="(along) => change(edit.setAlong(statement, at, along))"
            />
          </ElTabPane>
        </ElTabs>
      </Part>
    </template>
    <Part name="add-measure" label="+ measure" adds>
      <template #default="{ close }">
        <ElTabs :model-value="free.length ? 'measure' : 'own'">
          <ElTabPane v-if="free.length" label="Measure" name="measure">
            <MeasureChoice
              :measures="free"
              :shown="[]"
              @take="(name) => (change(edit.addMeasure(statement, name)), close())"
            />
          </ElTabPane>
          <ElTabPane label="Of your own" name="own">
            <MeasureForm
              :names="measures.map((each) => each.name)"
              @define="(defined) => (change(defineMeasure(statement, defined)), close())"
            />
          </ElTabPane>
        </ElTabs>
      </template>
    </Part>
  </span>
</template>
