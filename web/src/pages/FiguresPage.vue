<script setup lang="ts">
/** Statement, frame, table, proof. The address holds the whole state. */
import { refDebounced, whenever } from "@vueuse/core";
import { storeToRefs } from "pinia";
import { computed, defineAsyncComponent, nextTick, onBeforeUnmount, ref, toRefs, watch } from "vue";
import { useRoute } from "vue-router";
import type { LineChange } from "@/contract";
import { provideNumbers } from "@/composables/numbers";
import { provideParts } from "@/composables/parts";
import { setAsOf, setWindow, turnSort } from "@/model/statement";
import FilterBeside from "@/panels/FilterBeside.vue";
import FiguresTools from "@/panels/FiguresTools.vue";
import FramePanel from "@/panels/frame/FramePanel.vue";
import NoticePanel from "@/panels/NoticePanel.vue";
import StatementPanel from "@/panels/StatementPanel.vue";
import FiguresTable from "@/panels/table/FiguresTable.vue";
import Board from "@/parts/Board.vue";
import Trouble from "@/parts/Trouble.vue";
import { useActions } from "@/pages/figuresActions";
import { useSeen } from "@/pages/figuresSeen";
import { useLedgers } from "@/state/ledgers";
import { usePerson } from "@/state/person";
import { usePostings } from "@/state/postings";
import { useAddressBar } from "@/state/sheet/address";
import { createSheet, provideSheet } from "@/state/sheet/sheet";
import { useSteps } from "@/state/sheet/steps";
import { labelOf } from "@/words/table";

/** Loaded when they are first asked for; the proof, which is a click away, as soon as there is nothing else to do. */
const loadProof = () => import("@/panels/proof/ProofPanel.vue");
const ProofPanel = defineAsyncComponent(loadProof);
const SeriesChart = defineAsyncComponent(() => import("@/panels/series/SeriesChart.vue"));
const PalettePanel = defineAsyncComponent(() => import("@/panels/PalettePanel.vue"));
const KeysPanel = defineAsyncComponent(() => import("@/panels/KeysPanel.vue"));
const PastedPanel = defineAsyncComponent(() => import("@/panels/PastedPanel.vue"));

const route = useRoute();
const ledgers = useLedgers();
const sheet = provideSheet(createSheet());
const bar = useAddressBar("/figures");
const view = useSteps(sheet, bar, true);
const numbers = provideNumbers(sheet.marks);
const parts = provideParts();
const postings = usePostings();
usePerson();
const { open, said } = storeToRefs(ledgers);
const {
  question,
  layout,
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
} = toRefs(sheet);
const trouble = ref("");
// A quick answer dims nothing: to dim and to clear what is on screen would hold up the words and the figures themselves.
const slow = refDebounced(loading, 150);
const empty = computed(() => open.value !== null && open.value.lines === 0);
const { seen, told, toldWhole, notShown, series } = useSeen(sheet, said, numbers);
const year = computed(() => answer.value?.as_of ?? new Date().toISOString().slice(0, 10));

const table = ref<InstanceType<typeof FiguresTable> | null>(null);
const tools = ref<InstanceType<typeof FiguresTools> | null>(null);
const beside = ref<InstanceType<typeof FilterBeside> | null>(null);
const chart = ref<{ picture: () => string } | null>(null);
const page = useActions({ sheet, view, parts, told, table, tools, beside, chart, show });

watch(() => route.fullPath, attempt, { immediate: true });
// What was just posted at Intake may arrive after its page has been left.
watch(() => open.value?.version, attempt);
// However many of its rows are filled meanwhile, an answer keeps its windows.
watch([() => answer.value?.windows, () => layout.value.trends], () =>
  sheet.drawTrends(layout.value.trends === "always"),
);
// Which periods of a large table are empty is known when they are filled: before they are scrolled to.
watch(
  [() => answer.value?.windows, () => layout.value.empty_periods],
  () => layout.value.empty_periods === "hidden" && sheet.fillAll(),
);
onBeforeUnmount(ledgers.watchPostings());
whenever(answer, () => void setTimeout(loadProof), { once: true });

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

/** Correct or void a posted line, and show the figures of the version that this makes. */
async function correctLine(line: number, next: LineChange | null, reason: string): Promise<string> {
  if (!open.value || !sheet.question) return "";
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
      <ElButton v-else data-test="again" @click="page.again">Try again</ElButton>
    </Trouble>
    <div v-if="empty" class="empty">
      <p>Nothing is posted in {{ open?.name }} yet.</p>
      <RouterLink :to="{ path: '/intake', query: { ledger: String(open?.id) } }"
        >Post files at Intake</RouterLink
      >
    </div>
    <template v-else-if="open && question">
      <FiguresTools
        ref="tools"
        :question="question"
        :has-chart="!!series"
        :charted="!!layout.chart"
        :copied="page.copied.value"
        :can-undo="bar.canUndo.value"
        :can-redo="bar.canRedo.value"
        @act="page.act"
        @open="view.open"
        @lay="view.lay"
      />
      <StatementPanel
        :statement="question.statement"
        :ledger="open"
        :answer="answer"
        @change="view.change"
        @beside="(beside) => view.lay({ ...layout, beside })"
      />
      <div
        v-if="told && answer && seen && answered"
        :class="{ stale: (loading && slow) || outdated }"
        :aria-busy="loading"
        class="work"
      >
        <p v-if="outdated" class="outdated" role="status" data-test="outdated">
          Not what the statement asks for now: these are the figures of the last one that was answered.
        </p>
        <Board :besides="!!layout.beside" :proves="!!proof || page.pasting.value">
          <template #frame>
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
          </template>
          <template #beside>
            <FilterBeside
              v-if="layout.beside"
              ref="beside"
              :statement="question.statement"
              :ledger="open"
              :dimension="layout.beside"
              @change="view.change"
              @close="view.lay({ ...layout, beside: '' })"
            />
          </template>
          <template #chart>
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
          </template>
          <template #table>
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
              @see="sheet.see"
              @fill="sheet.fill"
            />
            <NoticePanel
              :answer="answer"
              :check="check"
              :refused="checkRefused"
              :outdated="outdated"
              :statement="answered"
              :hidden-periods="notShown"
            />
          </template>
          <template #side>
            <PastedPanel
              v-if="page.pasting.value && !proof && toldWhole"
              :told="toldWhole"
              :fill="sheet.fillAll"
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
          </template>
        </Board>
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
  transition: opacity 0.2s;
}
.empty {
  text-align: center;
  padding: 60px;
  color: var(--quiet);
}
</style>
