<script setup lang="ts">
/** Statement, frame, table, proof. The address holds the whole state. */
import { storeToRefs } from "pinia";
import { computed, defineAsyncComponent, ref, toRefs } from "vue";
import type { LineChange, SavedStatement } from "@/contract";
import { provideNumbers } from "@/composables/numbers";
import { provideParts } from "@/composables/parts";
import EmptyLedger from "@/panels/EmptyLedger.vue";
import FiguresTools from "@/panels/FiguresTools.vue";
import ShownFigures from "@/panels/ShownFigures.vue";
import WelcomeNote from "@/panels/WelcomeNote.vue";
import StatementPanel from "@/panels/StatementPanel.vue";
import Trouble from "@/parts/Trouble.vue";
import { withBeside } from "@/model/layout";
import { STATEMENT_PAGES } from "@/model/opening";
import { useActions } from "@/pages/figuresActions";
import { useSeen } from "@/pages/figuresSeen";
import { useWatching } from "@/pages/figuresWatching";
import { useLedgers } from "@/state/ledgers";
import { usePerson } from "@/state/person";
import { useReader } from "@/state/reader";
import { usePostings } from "@/state/postings";
import { useStatements } from "@/state/statements";
import { useAddressBar } from "@/state/sheet/address";
import { createSheet, provideSheet } from "@/state/sheet/sheet";
import { useSteps } from "@/state/sheet/steps";

/** Loaded when they are first asked for. */
const ShownMovers = defineAsyncComponent(() => import("@/panels/movers/ShownMovers.vue"));
const ShownCard = defineAsyncComponent(() => import("@/panels/scorecard/ShownCard.vue"));
const HandedFigures = defineAsyncComponent(() => import("@/panels/briefs/HandedFigures.vue"));
const PalettePanel = defineAsyncComponent(() => import("@/panels/PalettePanel.vue"));

const ledgers = useLedgers();
const reader = useReader();
const sheet = provideSheet(createSheet(null, () => reader.marks));
const bar = useAddressBar(STATEMENT_PAGES);
const view = useSteps(sheet, bar, true);
const numbers = provideNumbers(sheet.marks);
const parts = provideParts();
const postings = usePostings();
const statements = useStatements();
usePerson();
const { open, said } = storeToRefs(ledgers);
const { question, layout, answer, answered, loading, failure } = toRefs(sheet);
/** What the server refused: the statement, or who moved in it. */
const refused = computed(() => failure.value ?? sheet.pageFailure);
const PAGE_NAMES = { figures: "Figures", movers: "Movers", scorecard: "Scorecard" };
const empty = computed(() => open.value !== null && open.value.lines === 0);
const { seen, told, toldWhole, notShown, series } = useSeen(sheet, said, numbers);
const year = computed(() => answer.value?.as_of ?? new Date().toISOString().slice(0, 10));

const tools = ref<InstanceType<typeof FiguresTools> | null>(null);
const shown = ref<InstanceType<typeof ShownFigures> | null>(null);
const table = computed(() => shown.value?.table ?? null);
const beside = computed(() => shown.value?.beside ?? null);
const movers = ref<{ picture: () => string } | null>(null);
const card = ref<{ picture: () => string } | null>(null);
const chart = computed(() => movers.value ?? card.value ?? shown.value?.chart ?? null);
const { trouble, show } = useWatching(sheet, view, bar);
const page = useActions({ sheet, view, parts, told, table, tools, beside, chart, show });

function openStatement(saved: SavedStatement): void {
  statements.opened = saved;
  view.open(saved);
}

/** Correct or void a posted line, and show the figures of the version that this makes. */
async function correctLine(line: number, next: LineChange | null, reason: string): Promise<string> {
  if (!open.value || !sheet.question) return "";
  const refused = await postings.correctLine(open.value.name, line, next, reason);
  if (refused) return refused;
  await page.takeNewest();
  return "";
}
</script>

<template>
  <div class="page">
    <h1 class="hidden">{{ PAGE_NAMES[layout.page] }}</h1>
    <Trouble v-if="trouble || refused" :message="trouble || refused?.message || ''">
      <template v-if="refused && refused.kind === 'question'"
        >Change the statement, or undo the last step.</template
      >
      <ElButton v-else data-test="again" @click="page.again">Try again</ElButton>
    </Trouble>
    <EmptyLedger v-if="empty && open" :ledger="open" />
    <template v-else-if="open && question">
      <FiguresTools
        ref="tools"
        :question="question"
        :has-chart="
          layout.page === 'figures' ? !!series : layout.page === 'scorecard' || !!sheet.moved?.steps.length
        "
        :charted="!!layout.chart"
        :copied="page.copied.value"
        :can-undo="bar.canUndo.value"
        :can-redo="bar.canRedo.value"
        @act="page.act"
        @open="openStatement"
        @lay="view.lay"
      />
      <WelcomeNote />
      <StatementPanel
        :statement="question.statement"
        :ledger="open"
        :answer="answer"
        @change="view.change"
        @beside="(beside) => view.lay({ ...layout, beside: withBeside(layout.beside, beside) })"
      />
      <ShownMovers
        v-if="layout.page === 'movers' && answer && answered"
        ref="movers"
        :ledger="open"
        :view="view"
        :answer="answer"
        :statement="answered"
        :correct="correctLine"
      />
      <ShownCard
        v-else-if="layout.page === 'scorecard' && answer"
        ref="card"
        :ledger="open"
        :view="view"
        :answer="answer"
        :correct="correctLine"
      />
      <ShownFigures
        v-else-if="answer && answered && seen && told && toldWhole"
        ref="shown"
        :ledger="open"
        :view="view"
        :answer="answer"
        :statement="answered"
        :seen="seen"
        :told="told"
        :told-whole="toldWhole"
        :not-shown="notShown"
        :series="series"
        :pasting="page.pasting.value"
        :correct="correctLine"
        @down="page.down"
        @close-pasted="page.pasting.value = false"
      />
      <HandedFigures
        v-if="page.over.value"
        :what="page.over.value"
        :question="question"
        :layout="layout"
        :ledger="open"
        :answer="answer"
        :title="page.titled()"
        @close="page.over.value = null"
      />
      <PalettePanel
        v-if="page.palette.value"
        :statement="question.statement"
        :ledger="open"
        :as-of="year"
        :answer="answer"
        @act="page.act"
        @open="openStatement"
        @change="view.change"
        @close="page.close"
      />
    </template>
    <p v-if="loading && !answer" class="waiting">Adding up …</p>
  </div>
</template>

<style scoped>
.page {
  display: flex;
  flex-direction: column;
  gap: 8px;
  height: 100%;
  overflow: hidden auto;
  padding: 8px 18px 10px;
}
.waiting {
  text-align: center;
  padding: 60px;
  color: var(--quiet);
}
</style>
