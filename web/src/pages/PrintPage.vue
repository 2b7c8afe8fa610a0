<script setup lang="ts">
/** The figures as a page to print: the statement, its windows, the whole table, and what was left out. */
import { FAIRNESS } from "@/contract/vocabulary";
import { capital } from "@/words/names";
import { computed, defineAsyncComponent, ref, toRefs, watch } from "vue";
import { useRoute } from "vue-router";
import { fromAddress } from "@/model/address";
import { seriesOf } from "@/model/chart";
import { dayText, rangeText } from "@/model/days";
import { hiddenPeriods, laidOut } from "@/model/layout";
import { tableDecimals } from "@/model/numbers";
import { linesOf, slotsOf, withTotal, type Line } from "@/model/lines";
import { groupsOf, shownColumns, type ShownColumn } from "@/model/table";
import NoticePanel from "@/panels/NoticePanel.vue";
import Trouble from "@/parts/Trouble.vue";
import { createSheet, provideSheet } from "@/state/sheet/sheet";
import { provideNumbers } from "@/composables/numbers";
import { useLedgers } from "@/state/ledgers";
import {
  definition,
  groupHeading,
  heading,
  headingBase,
  labelOf,
  meanings,
  metricHeading,
  rowHeading,
  signBefore,
  type Told,
} from "@/words/table";

const route = useRoute();
const ledgers = useLedgers();
/** A sheet of its own: that of the figures stays as it was left. */
const sheet = provideSheet(createSheet());
const numbers = provideNumbers(sheet.marks);
const { cell: cellText, count } = numbers;
const { answer, answered, check, failure } = toRefs(sheet);
const trouble = ref("");
const view = computed(() => fromAddress(route.query));
const told = computed<Told | null>(() => {
  if (!answer.value || !answered.value || !view.value) return null;
  const { layout } = view.value;
  return {
    answer: laidOut(answer.value, layout),
    statement: answered.value,
    layout,
    said: ledgers.said,
    numbers,
  };
});
const slots = computed(() => (told.value ? slotsOf(shownColumns(told.value.answer), told.value.layout) : []));
const heads = computed(() => slots.value.map((each) => each.head));
const lines = computed(() => {
  if (!told.value) return [];
  const { answer: seen, layout } = told.value;
  return linesOf(withTotal(seen.rows, seen.total, layout), slots.value, layout);
});

function figure(line: Line, each: ShownColumn | null): string {
  const cell = each && line.row.cells[each.at];
  if (!told.value || !cell) return "";
  const { answer: seen, layout } = told.value;
  const total = seen.total.cells[each.at] ?? cell;
  const decimals = layout.decimals[each.column.measure] ?? tableDecimals(each.column, total);
  const sign = signBefore(cell, each.column, told.value);
  return (
    sign + cellText(cell, each.column, decimals, layout) + (cell.met == null ? "" : cell.met ? " ✓" : " ✗")
  );
}
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
      <RouterLink :to="{ path: '/figures', query: route.query }">Back to the figures</RouterLink>
    </p>
    <Trouble v-if="trouble || failure" :message="trouble || failure?.message || ''" />
    <p v-if="!view">There is nothing to print: open it from the figures.</p>
    <template v-if="told && answer && answered">
      <h1>{{ answer.ledger }}</h1>
      <p class="caption" data-test="print-caption">{{ caption }}</p>
      <ul class="windows">
        <li v-for="(window, at) in answer.windows" :key="at">
          <strong>{{ at ? `Base ${at}` : "Current" }}:</strong>
          {{ window.asked ? rangeText(window.asked.first, window.asked.last) : "each period its own" }},
          {{ count(window.counted_days, "day")
          }}<template v-if="window.fairness">, {{ FAIRNESS[window.fairness] }}</template
          ><template v-if="window.partly_covered">, partly covered</template>
        </li>
        <li v-for="each in means" :key="each" data-test="print-means">{{ each }}</li>
        <li>As of {{ dayText(answer.as_of) }}, version {{ answer.version }}, {{ answer.currency }}</li>
      </ul>
      <SeriesChart
        v-if="series && told.layout.chart"
        still
        :drawing="series.drawing"
        :chart="told.layout.chart"
        :answer="series.answer"
        :statement="series.statement"
        :of="series.row ? labelOf(series.row, told) : ''"
      />
      <table>
        <thead>
          <tr>
            <th rowspan="2" scope="col">{{ rowHeading(told) }}</th>
            <th
              v-for="(group, at) in groupsOf(heads, told.layout)"
              :key="at"
              scope="colgroup"
              :colspan="group.columns.length"
              class="group"
            >
              {{ groupHeading(group, told) }}
            </th>
          </tr>
          <tr>
            <th v-for="each in heads" :key="each.column.id" scope="col" class="number">
              {{ heading(each.column, told) }}
              <small v-if="headingBase(each.column, told)">{{ headingBase(each.column, told) }}</small>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="(line, at) in lines"
            :key="at"
            :class="{ total: !line.row.path.length, parent: line.row.can_open }"
            data-test="print-row"
          >
            <th
              scope="row"
              :style="{
                paddingLeft: `${Math.max(line.row.path.length - (typeof line.row.rest === 'number' ? 0 : 1), 0) * 14 + 4}px`,
              }"
            >
              <template v-if="!line.place">{{ labelOf(line.row, told) }}</template>
              <span v-if="line.metric" class="metric">{{ metricHeading(line.metric.column, told) }}</span>
            </th>
            <td v-for="(each, place) in line.columns" :key="place" class="number">
              {{ figure(line, each) }}
            </td>
          </tr>
        </tbody>
      </table>
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
  background: #fff;
  min-height: 100%;
  overflow: auto;
  height: 100%;
}
.tools {
  display: flex;
  gap: 16px;
}
h1 {
  font-size: 18px;
  margin: 0 0 4px;
}
.caption {
  font-size: 14px;
  max-width: 900px;
}
.windows {
  padding-left: 18px;
  font-size: 12px;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 12px;
}
th,
td {
  padding: 3px 8px;
  border-bottom: 1px solid var(--line);
}
th {
  text-align: left;
  font-weight: 400;
}
thead th {
  font-weight: 700;
  vertical-align: bottom;
}
th.number {
  text-align: right;
}
.group {
  text-align: center;
}
.total th,
.total td,
.parent th,
.parent td {
  font-weight: 700;
}
.metric {
  float: right;
  padding-left: 12px;
}
tr {
  break-inside: avoid;
}
thead {
  display: table-header-group;
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
