<script setup lang="ts">
/** The figures as a page to print: the statement, its windows, the whole table, and what was left out. */
import { useDays } from "@/composables/dates";
import { FAIRNESS } from "@/contract/vocabulary";
import { capital } from "@/words/names";
import { computed, defineAsyncComponent, ref, toRefs, watch } from "vue";
import { useRoute } from "vue-router";
import { fromAddress } from "@/model/address";
import { seriesOf, severalOf } from "@/model/chart";
import { hiddenPeriods, laidOut } from "@/model/layout";
import PrintTable from "@/panels/print/PrintTable.vue";
import HeadlinePanel from "@/panels/HeadlinePanel.vue";
import NoticePanel from "@/panels/NoticePanel.vue";
import Trouble from "@/parts/Trouble.vue";
import { createSheet, provideSheet } from "@/state/sheet/sheet";
import { provideNumbers } from "@/composables/numbers";
import { useLedgers } from "@/state/ledgers";
import { useReader } from "@/state/reader";
import { definition, labelOf, meanings, type Told } from "@/words/table";

const days = useDays();
const { dayText, rangeText } = days;

const route = useRoute();
const ledgers = useLedgers();
const reader = useReader();
/** A sheet of its own: that of the figures stays as it was left. */
const sheet = provideSheet(createSheet(null, () => reader.marks));
const numbers = provideNumbers(sheet.marks);
const { count } = numbers;
const { answer, answered, check, failure } = toRefs(sheet);
const trouble = ref("");
/** On paper it is a table, whatever page it comes from. */
const view = computed(() => {
  const found = fromAddress(route.query);
  return found && { ...found, layout: { ...found.layout, page: "figures" as const } };
});
/** Where it was printed from: movers and scorecards are printed as the table that they are. */
const back = computed(() => {
  const { from } = route.query;
  return typeof from === "string" && /^\/(movers|scorecard)\?/.test(from)
    ? from
    : { path: "/figures", query: route.query };
});
const told = computed<Told | null>(() => {
  if (!answer.value || !answered.value || !view.value) return null;
  const { layout } = view.value;
  return {
    answer: laidOut(answer.value, layout),
    statement: answered.value,
    layout,
    said: ledgers.said,
    numbers,
    days,
  };
});
/** What the ledger says of what the statement names, what is meant by headings that were renamed, and which rows are left out. */
const means = computed(() => {
  if (!told.value) return [];
  const { answer: seen, layout } = told.value;
  const named = seen.columns.flatMap((each) => {
    const { [each.id]: name } = layout.headings;
    return name && told.value ? [`${name}: ${definition(each, told.value)}`] : [];
  });
  const search = layout.search.trim();
  return [
    ...meanings(told.value),
    ...new Set(named),
    ...(search ? [`Only rows whose name holds “${search}”`] : []),
  ];
});
/** The chart is printed where it is seen. */
const SeriesChart = defineAsyncComponent(() => import("@/panels/series/SeriesChart.vue"));
const series = computed(() =>
  answer.value && answered.value && view.value?.layout.chart ? seriesOf(answer.value, answered.value) : null,
);
const caption = computed(() => (answered.value && answer.value ? answer.value.told.sentence : ""));

watch(
  () => route.fullPath,
  async () => {
    if (route.path !== "/print" || !view.value) return;
    try {
      await ledgers.choose(view.value.question.ledger);
      const { open } = ledgers;
      const { question, layout } = view.value;
      const asked = { question: { ...question, ledger: open?.name ?? "" }, selected: null, layout };
      if (open) await sheet.show(asked, open.version);
      if (answer.value) await sheet.fill(answer.value.rows);
    } catch (error) {
      trouble.value = error instanceof Error ? error.message : String(error);
    }
  },
  { immediate: true },
);

function print(): void {
  window.print();
}
</script>

<template>
  <div class="print" data-test="print-page">
    <p class="tools">
      <ElButton data-test="print-now" @click="print">Print</ElButton>
      <RouterLink :to="back">{{ typeof back === "string" ? "Back" : "Back to the figures" }}</RouterLink>
    </p>
    <Trouble v-if="trouble || failure" :message="trouble || failure?.message || ''" />
    <p v-if="!view">There is nothing to print: open it from the figures.</p>
    <template v-if="told && answer && answered">
      <h1>{{ answer.ledger }}</h1>
      <p class="caption" data-test="print-caption">{{ caption }}</p>
      <ul class="windows">
        <li v-for="(window, at) in answer.windows" :key="at">
          <strong>{{ capital(answer.told.names[at] ?? "") }}:</strong>
          {{ window.asked ? rangeText(window.asked.first, window.asked.last) : "each period its own" }},
          {{ count(window.counted_days, "day")
          }}<template v-if="window.fairness">, {{ FAIRNESS[window.fairness] }}</template
          ><template v-if="window.partly_covered">, partly covered</template>
        </li>
        <li v-for="each in means" :key="each" data-test="print-means">{{ each }}</li>
        <li>As of {{ dayText(answer.as_of) }}, version {{ answer.version }}, {{ answer.currency }}</li>
      </ul>
      <HeadlinePanel v-if="told.layout.headline" :told="told" :layout="told.layout" class="headline" />
      <SeriesChart
        v-if="series && told.layout.chart"
        still
        :drawing="series.drawing"
        :chart="told.layout.chart"
        :answer="series.answer"
        :statement="series.statement"
        :of="series.row ? labelOf(series.row, told) : ''"
        :several="series.row ? severalOf(told.answer, told.statement, told.layout.chart?.picked) : null"
      />
      <PrintTable :told="told" />
      <NoticePanel
        :answer="answer"
        :check="check"
        :statement="answered"
        :hidden-periods="hiddenPeriods(answer, told.layout)"
      />
      <p class="quiet">{{ capital(count(answer.posted_lines, "posted line")) }} in the ledger.</p>
    </template>
  </div>
</template>

<style scoped>
.print {
  padding: 16px 24px;
  background: var(--sheet);
  min-height: 100%;
  overflow: auto;
  height: 100%;
}
.tools {
  display: flex;
  gap: 16px;
}
h1 {
  font-size: 1.125rem;
  margin: 0 0 4px;
}
.caption {
  font-size: 0.875rem;
  max-width: 900px;
}
.windows {
  padding-left: 18px;
  font-size: 0.75rem;
}
@media print {
  .tools {
    display: none;
  }
  .print {
    padding: 0;
    overflow: visible;
    height: auto;
  }
}
</style>
