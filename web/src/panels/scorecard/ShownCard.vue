<script setup lang="ts">
/** The scorecard of a statement: words, rows by goals, one verdict beside them, and what all of it rests on. */
import { useNumbers } from "@/composables/numbers";
import { computed, ref, toRefs, watch } from "vue";
import type { Answer, CardAsked, LedgerDescription, LineChange, MemberKey, ScoredMetric } from "@/contract";
import { withGoals, withTarget } from "@/model/card";
import { cardPicture } from "@/model/cardPicture";
import ToldWords from "@/panels/movers/ToldWords.vue";
import ProofBoard from "@/panels/proof/ProofBoard.vue";
import CardCaption from "@/panels/scorecard/CardCaption.vue";
import CardHow from "@/panels/scorecard/CardHow.vue";
import CardSide from "@/panels/scorecard/CardSide.vue";
import { token } from "@/panels/series/seriesOption";
import CardTable from "@/panels/scorecard/CardTable.vue";
import { useSheet } from "@/state/sheet/sheet";
import type { Steps } from "@/state/sheet/steps";

const props = defineProps<{
  ledger: LedgerDescription;
  view: Steps;
  answer: Answer;
  correct: (line: number, change: LineChange | null, reason: string) => Promise<string>;
}>();
const sheet = useSheet();
const { layout, scored, pageLoading, proof, question } = toRefs(sheet);
const asked = computed(() => layout.value.card);
const numbers = useNumbers();
const rests = ref<InstanceType<typeof CardCaption> | null>(null);
/** The card as a picture of its own, in the colours that the page has now. */
function picture(): string {
  if (!scored.value) return "";
  const look = {
    font: getComputedStyle(document.body).fontFamily,
    ink: token("--ink"),
    quiet: token("--quiet"),
    line: token("--line"),
    sheet: token("--sheet"),
    met: token("--favourable"),
    missed: token("--adverse"),
  };
  return cardPicture(scored.value, numbers, look, props.answer.told.title, rests.value?.caption ?? "");
}
defineExpose({ picture });
/** The verdict that is looked at: the first of the first row until another one is chosen. */
const chosen = ref<{ path: MemberKey[]; metric: string } | null>(null);
watch(
  () => JSON.stringify(question.value?.statement.rows),
  () => (chosen.value = null),
);

const periods = computed(() => {
  const card = scored.value;
  if (!card) return [];
  const now = card.answer.told.windows[0] ?? "now";
  return [...[...card.told.periods].reverse(), now];
});
const one = computed(() => {
  const card = scored.value;
  if (!card) return null;
  const rows = [...card.answer.rows, card.answer.total];
  const row =
    rows.find((each) => JSON.stringify(each.path) === JSON.stringify(chosen.value?.path)) ??
    card.answer.total;
  const metric = card.told.metrics.find((each) => each.id === chosen.value?.metric) ?? card.told.metrics[0];
  return metric ? { row, metric, label: row.path.length ? row.label : card.answer.told.total } : null;
});
const without = computed(() => scored.value?.told.metrics.filter((each) => !each.goal) ?? []);
function ask(next: Partial<CardAsked>): void {
  props.view.lay({ ...layout.value, card: { ...asked.value, ...next } });
}

function setGoals(): void {
  const now = question.value?.statement;
  if (now) props.view.change(withGoals(now, without.value));
}

function target(metric: ScoredMetric, text: string, path: MemberKey[] | null, period: string): void {
  const now = question.value?.statement;
  if (now) props.view.change(withTarget(now, metric, text, path, period));
}

function toMovers(path: MemberKey[], metric: ScoredMetric, base: number): void {
  const { movers } = layout.value;
  const measure =
    question.value?.statement.measures.find((each) => each.measure === metric.id)?.measure ?? "";
  const within = path.slice(0, Math.max((scored.value?.statement.rows.length ?? 1) - 1, 0));
  props.view.lay({ ...layout.value, page: "movers", movers: { ...movers, path: within, measure, base } });
}

function prove(path: MemberKey[], column: string): void {
  if (column) props.view.select(path, column, false);
}
</script>

<template>
  <div v-if="scored && question" class="scorecard" :aria-busy="pageLoading" data-test="scorecard">
    <ToldWords :sentences="scored.told.sentences" :text="scored.told.text" @prove="prove" />
    <CardHow
      :asked="asked"
      :without="question.statement.bases.length ? without : []"
      :base="answer.told.names[1] ?? ''"
      @ask="ask"
      @goals="setGoals"
    />
    <ProofBoard
      v-slot="{ proving }"
      :answer="answer"
      :ledger="ledger.name"
      :correct="correct"
      @close="view.unselect"
    >
      <div class="sheet" :class="{ proving }">
        <CardTable
          :card="scored"
          :statement="scored.statement"
          :asked="asked"
          :selected="chosen"
          :periods="periods"
          :search="layout.search"
          @select="(path, metric) => (chosen = { path, metric: metric.id })"
        />
        <CardSide
          v-if="one && !proof"
          :card="scored"
          :statement="scored.statement"
          :row="one.row"
          :metric="one.metric"
          :label="one.label"
          :periods="periods"
          @prove="prove"
          @movers="toMovers"
          @target="(text, path, period) => one && target(one.metric, text, path, period)"
        />
        <CardCaption ref="rests" :card="scored" :ledger="ledger" />
      </div>
    </ProofBoard>
  </div>
</template>

<style scoped>
.scorecard {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.sheet {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 19rem;
  background: var(--sheet);
  border: 1px solid var(--line);
  border-radius: 4px;
}
/* Where there is little room the verdict that is looked at stands below. */
@media (max-width: 1180px) {
  .sheet {
    grid-template-columns: minmax(0, 1fr);
  }
}
.sheet.proving {
  grid-template-columns: minmax(0, 1fr);
}
</style>
