<script setup lang="ts">
/** Statement, frame, table, proof. The address holds the whole state. */
import { storeToRefs } from "pinia";
import { computed, defineAsyncComponent, nextTick, onBeforeUnmount, onMounted, ref, watch } from "vue";
import { useRoute } from "vue-router";
import type { LineChange } from "@/contract";
import { seriesOf } from "@/model/chart";
import { actionOf } from "@/model/keys";
import { hiddenPeriods, laidOut } from "@/model/layout";
import { samePath, setAsOf, setWindow, turnSort } from "@/model/statement";
import FilterBeside from "@/panels/FilterBeside.vue";
import FiguresTools from "@/panels/FiguresTools.vue";
import FramePanel from "@/panels/FramePanel.vue";
import NoticePanel from "@/panels/NoticePanel.vue";
import ProofPanel from "@/panels/proof/ProofPanel.vue";
import StatementPanel from "@/panels/StatementPanel.vue";
import FiguresTable from "@/panels/table/FiguresTable.vue";
import Trouble from "@/parts/Trouble.vue";
import { useActions } from "@/pages/figuresActions";
import { useFigures } from "@/state/figures";
import { useLedgers } from "@/state/ledgers";
import { usePerson } from "@/state/person";
import { usePostings } from "@/state/postings";
import { useView } from "@/state/view";
import { labelOf, type Told } from "@/words/table";

/** Loaded when they are first asked for. */
const SeriesChart = defineAsyncComponent(() => import("@/panels/SeriesChart.vue"));
const PalettePanel = defineAsyncComponent(() => import("@/panels/PalettePanel.vue"));
const KeysPanel = defineAsyncComponent(() => import("@/panels/KeysPanel.vue"));
const PastedPanel = defineAsyncComponent(() => import("@/panels/PastedPanel.vue"));

const route = useRoute();
const ledgers = useLedgers();
const figures = useFigures();
const postings = usePostings();
const view = useView();
usePerson();
const { open, said } = storeToRefs(ledgers);
const { layout } = storeToRefs(view);
const {
  question,
  answer,
  answered,
  check,
  checkRefused,
  outdated,
  proof,
  loading,
  failure,
  selected,
  trends,
} = storeToRefs(figures);
const trouble = ref("");
const empty = computed(() => open.value !== null && open.value.lines === 0);
const seen = computed(() => (answer.value ? laidOut(answer.value, layout.value) : null));
const told = computed<Told | null>(() =>
  seen.value && answered.value
    ? { answer: seen.value, statement: answered.value, layout: layout.value, said: said.value }
    : null,
);
/** A pasted answer is checked against all rows, whatever is searched for. */
const toldWhole = computed<Told | null>(() =>
  told.value && answer.value
    ? { ...told.value, answer: laidOut(answer.value, { ...layout.value, search: "" }) }
    : null,
);
const notShown = computed(() => (answer.value ? hiddenPeriods(answer.value, layout.value) : 0));
/** With time across the chart is that of the selected row, else of all. */
const series = computed(() => {
  if (!answer.value || !answered.value) return null;
  const spot = selected.value;
  const row = answer.value.rows.find(
    (each) => spot && samePath(each.path, spot.path) && (typeof each.rest === "number") === !!spot.rest,
  );
  return seriesOf(answer.value, answered.value, row);
});
const year = computed(() => answer.value?.as_of ?? new Date().toISOString().slice(0, 10));

const table = ref<InstanceType<typeof FiguresTable> | null>(null);
const tools = ref<InstanceType<typeof FiguresTools> | null>(null);
const beside = ref<InstanceType<typeof FilterBeside> | null>(null);
const chart = ref<{ picture: () => string } | null>(null);
const page = useActions({ told, table, tools, beside, chart, show });

watch(() => route.fullPath, attempt, { immediate: true });
// What was just posted at Intake may arrive after its page has been left.
watch(() => open.value?.version, attempt);
// However many of its rows are filled meanwhile, an answer keeps its windows.
watch([() => answer.value?.windows, () => layout.value.trends], () =>
  figures.drawTrends(layout.value.trends === "always"),
);
// Which periods of a large table are empty is known when they are filled: before they are scrolled to.
watch(
  [() => answer.value?.windows, () => layout.value.empty_periods],
  () => layout.value.empty_periods === "hidden" && figures.fillAll(),
);
onMounted(() => window.addEventListener("keydown", pressed));
onBeforeUnmount(() => window.removeEventListener("keydown", pressed));
onBeforeUnmount(ledgers.watchPostings());

async function attempt(): Promise<void> {
  if (route.path === "/figures") await show();
}

async function show(): Promise<void> {
  trouble.value = "";
  try {
    await view.take();
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error);
  }
}

function pressed(event: KeyboardEvent): void {
  const target = event.target as HTMLElement;
  const writing = target.matches("input:not([type=checkbox]), textarea, select");
  if (event.key === "Escape" && !writing) {
    page.close();
    return;
  }
  const action = actionOf(event);
  if (!action || (writing && action !== "palette") || page.isOver.value) return;
  event.preventDefault();
  void page.act(action);
}

/** Correct or void a posted line, and show the figures of the version that this makes. */
async function correctLine(line: number, next: LineChange | null, reason: string): Promise<string> {
  if (!open.value || !figures.view) return "";
  const refused = await postings.correctLine(open.value.name, line, next, reason);
  if (refused) return refused;
  await page.takeNewest();
  return "";
}

async function closeProof(): Promise<void> {
  view.unselect();
  await nextTick();
  await table.value?.focusSelected();
}
</script>

<template>
  <div class="page">
    <h1 class="hidden">Figures</h1>
    <Trouble v-if="trouble || failure" :message="trouble || failure?.message || ''">
      <template v-if="failure && failure.kind === 'question'"
        >Change the statement, or undo the last step.</template
      >
      <button v-else type="button" data-test="again" @click="page.again">Try again</button>
    </Trouble>
    <div v-if="empty" class="empty">
      <p>Nothing is posted in {{ open?.name }} yet.</p>
      <RouterLink :to="{ path: '/intake', query: { ledger: String(open?.id) } }"
        >Post files at Intake</RouterLink
      >
    </div>
    <template v-else-if="open && question">
      <div class="top">
        <StatementPanel
          :statement="question.statement"
          :ledger="open"
          :answer="answer"
          @change="view.change"
          @beside="(beside) => view.lay({ ...layout, beside })"
        />
        <FiguresTools
          ref="tools"
          :question="question"
          :has-chart="!!series"
          :charted="!!layout.chart"
          :copied="page.copied.value"
          @act="page.act"
          @open="view.open"
        />
      </div>
      <div
        v-if="told && answer && seen && answered"
        :class="{ stale: loading || outdated }"
        :aria-busy="loading"
        class="work"
      >
        <p v-if="outdated" class="outdated" role="status" data-test="outdated">
          Not what the statement asks for now: these are the figures of the last one that was answered.
        </p>
        <FramePanel
          :answer="answer"
          :statement="answered"
          :folded="!!layout.chart && !!series"
          @as-of="(day) => question && view.change(setAsOf(question.statement, day))"
          @dates="
            (first, last) =>
              question && view.change(setWindow(question.statement, { kind: 'dates', first, last }))
          "
        />
        <div class="lower" :class="{ proving: proof || page.pasting.value, beside: layout.beside }">
          <FilterBeside
            v-if="layout.beside"
            ref="beside"
            :statement="question.statement"
            :ledger="open"
            :dimension="layout.beside"
            @change="view.change"
            @close="view.lay({ ...layout, beside: '' })"
          />
          <div class="left">
            <SeriesChart
              v-if="layout.chart && series"
              ref="chart"
              :drawing="series.drawing"
              :chart="layout.chart"
              :answer="series.answer"
              :statement="series.statement"
              :of="told && series.row ? labelOf(series.row, told) : ''"
              @range="
                (first, last) =>
                  question && view.change(setWindow(question.statement, { kind: 'dates', first, last }))
              "
              @down="page.down"
              @draw="(next) => view.lay({ ...layout, chart: next })"
            />
            <section class="sheet" aria-label="Figures">
              <FiguresTable
                ref="table"
                :answer="seen"
                :statement="answered"
                :layout="layout"
                :selected="selected"
                :said="said"
                :trends="trends"
                @sort="(column) => question && view.change(turnSort(question.statement, column))"
                @toggle="view.toggle"
                @select="view.select"
                @lay="view.lay"
                @down="page.down"
                @see="figures.see"
                @fill="figures.fill"
              />
              <NoticePanel
                :answer="answer"
                :check="check"
                :refused="checkRefused"
                :outdated="outdated"
                :statement="answered"
                :hidden-periods="notShown"
              />
            </section>
          </div>
          <PastedPanel
            v-if="page.pasting.value && !proof && toldWhole"
            :told="toldWhole"
            :fill="figures.fillAll"
            @prove="view.select"
            @close="page.pasting.value = false"
          />
          <ProofPanel
            v-else-if="proof"
            :proof="proof"
            :currency="answer.currency"
            :ledger="open.name"
            :correct="correctLine"
            @close="closeProof"
          />
        </div>
      </div>
      <PalettePanel
        v-if="page.palette.value"
        :statement="question.statement"
        :ledger="open"
        :as-of="year"
        :answer="answer"
        @act="page.act"
        @open="view.open"
        @change="view.change"
        @close="page.close"
      />
      <KeysPanel v-if="page.keys.value" @close="page.close" />
    </template>
    <p v-if="loading && !answer" class="empty">Adding up …</p>
  </div>
</template>

<style scoped>
.page {
  display: flex;
  flex-direction: column;
  gap: 8px;
  height: 100%;
  padding: 8px 18px 10px;
}
.top {
  display: flex;
  gap: 16px;
  justify-content: space-between;
}
.work {
  display: flex;
  flex-direction: column;
  gap: 10px;
  flex: 1;
  min-height: 0;
}
.outdated {
  margin: 0;
  padding: 4px 12px;
  background: var(--warn);
}
.stale {
  opacity: 0.6;
  transition: opacity 0.2s 0.15s;
}
.lower {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
  flex: 1;
  min-height: 0;
}
.lower.proving {
  grid-template-columns: minmax(0, 1fr) 330px;
}
.lower.beside {
  grid-template-columns: 170px minmax(0, 1fr);
}
.lower.beside.proving {
  grid-template-columns: 170px minmax(0, 1fr) 330px;
}
.left {
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-height: 0;
  min-width: 0;
}
.sheet {
  flex: 1;
  display: flex;
  flex-direction: column;
  border: 1px solid var(--line);
  min-height: 0;
}
.empty {
  text-align: center;
  padding: 60px;
  color: var(--quiet);
}
</style>
