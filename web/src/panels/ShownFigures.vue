<script setup lang="ts">
/** What was answered, in its places: frame, filter beside, chart, table with its notices, proof. */
import { refDebounced } from "@vueuse/core";
import { computed, defineAsyncComponent, nextTick, onBeforeUnmount, ref, toRefs, watchEffect } from "vue";
import type { Answer, LedgerDescription, LineChange, Statement } from "@/contract";
import { setAsOf, setWindow, turnSort } from "@/model/statement";
import { severalOf, type seriesOf } from "@/model/chart";
import FiltersBeside from "@/panels/FiltersBeside.vue";
import FramePanel from "@/panels/frame/FramePanel.vue";
import NoticePanel from "@/panels/NoticePanel.vue";
import SidePanel from "@/panels/proof/SidePanel.vue";
import HeadlinePanel from "@/panels/HeadlinePanel.vue";
import FiguresTable from "@/panels/table/FiguresTable.vue";
import Board from "@/parts/Board.vue";
import { useReader } from "@/state/reader";
import { useSheet } from "@/state/sheet/sheet";
import type { Steps } from "@/state/sheet/steps";
import { labelOf, type Told } from "@/words/table";

/** Loaded when it is first asked for. */
const SeriesChart = defineAsyncComponent(() => import("@/panels/series/SeriesChart.vue"));

const props = defineProps<{
  ledger: LedgerDescription;
  view: Steps;
  answer: Answer;
  /** The statement that was answered. */
  statement: Statement;
  /** The answer as it is laid out, in words, and in words whatever is searched for. */
  seen: Answer;
  told: Told;
  toldWhole: Told;
  notShown: number;
  series: ReturnType<typeof seriesOf> | null;
  pasting: boolean;
  correct: (line: number, change: LineChange | null, reason: string) => Promise<string>;
}>();
const emit = defineEmits<{ down: [period: string]; closePasted: [] }>();
const sheet = useSheet();
const reader = useReader();
const { question, layout, check, checkRefused, outdated, proof, loading, selected, trends } = toRefs(sheet);
/** The statement that is asked by now. */
const asked = computed(() => question.value?.statement ?? props.statement);
// A quick answer dims nothing: to dim and to clear what is on screen would hold up the words and the figures themselves.
const slow = refDebounced(loading, 150);

/** With time across the chart can hold the series of several rows. */
const several = computed(() =>
  props.series?.row ? severalOf(props.seen, props.statement, layout.value.chart?.picked) : null,
);

/** However much stands above it, the table keeps room for some rows: the page is then longer than the screen. In rem. */
const least = computed(
  () => 23 + (layout.value.chart && props.series ? 15 : 0) + (layout.value.headline ? 7 : 0),
);
/** A statement that asks to be seen larger has the whole page larger, as long as it is there. */
watchEffect(() => (reader.showing = layout.value.size === "large"));
onBeforeUnmount(() => (reader.showing = false));

const table = ref<InstanceType<typeof FiguresTable> | null>(null);
const beside = ref<InstanceType<typeof FiltersBeside> | null>(null);
const chart = ref<{ picture: () => string } | null>(null);
defineExpose({ table, beside, chart });

function range(first: string, last: string | null): void {
  props.view.change(setWindow(asked.value, { kind: "dates", first, last }));
}

async function closeProof(): Promise<void> {
  props.view.unselect();
  await nextTick();
  await table.value?.focusSelected();
}
</script>

<template>
  <div
    :class="{ stale: (loading && slow) || outdated }"
    :aria-busy="loading"
    class="work"
    :style="{ minHeight: `${least}rem` }"
  >
    <p v-if="outdated" class="outdated" role="status" data-test="outdated">
      Not what the statement asks for now: these are the figures of the last one that was answered.
    </p>
    <Board :besides="!!layout.beside" :proves="!!proof || pasting">
      <template #frame>
        <FramePanel
          :answer="answer"
          :statement="statement"
          @as-of="(day) => view.change(setAsOf(asked, day))"
          @dates="range"
        />
      </template>
      <template #beside>
        <FiltersBeside
          v-if="layout.beside"
          ref="beside"
          :statement="asked"
          :ledger="ledger"
          :beside="layout.beside"
          @change="view.change"
          @lay="(names) => view.lay({ ...layout, beside: names })"
        />
      </template>
      <template #headline>
        <HeadlinePanel v-if="layout.headline" :told="told" :layout="layout" />
      </template>
      <template #chart>
        <SeriesChart
          v-if="layout.chart && series"
          ref="chart"
          :drawing="series.drawing"
          :chart="layout.chart"
          :answer="series.answer"
          :statement="series.statement"
          :of="series.row ? labelOf(series.row, told) : ''"
          :several="several"
          @range="range"
          @down="(period) => emit('down', period)"
          @draw="(next) => view.lay({ ...layout, chart: next })"
        />
      </template>
      <template #table>
        <FiguresTable
          ref="table"
          :answer="seen"
          :statement="statement"
          :layout="layout"
          :selected="selected"
          :said="told.said"
          :trends="trends"
          :scale="reader.scale"
          @sort="(column) => view.change(turnSort(asked, column))"
          @toggle="view.toggle"
          @select="view.select"
          @lay="view.lay"
          @down="(period) => emit('down', period)"
          @see="sheet.see"
          @fill="sheet.fill"
        />
        <NoticePanel
          :answer="answer"
          :check="check"
          :refused="checkRefused"
          :outdated="outdated"
          :statement="statement"
          :hidden-periods="notShown"
        />
      </template>
      <template #side>
        <SidePanel
          :proof="proof"
          :pasting="pasting"
          :told="toldWhole"
          :fill="sheet.fillAll"
          :currency="answer.currency"
          :ledger="ledger.name"
          :correct="correct"
          @prove="view.select"
          @close-proof="closeProof"
          @close-pasted="emit('closePasted')"
        />
      </template>
    </Board>
  </div>
</template>

<style scoped>
.work {
  display: flex;
  flex-direction: column;
  gap: 10px;
  flex: 1 0 auto;
  height: 0;
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
</style>
