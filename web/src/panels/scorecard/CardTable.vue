<script setup lang="ts">
/** Rows by metrics: every goal as a bead on its rod, how many are met, and how it was in the periods before. */
import { computed } from "vue";
import type { AnsweredColumn, Card, CardAsked, MemberKey, Row, ScoredMetric, Statement } from "@/contract";
import { cellOf, historyOf, orderedRows, verdictsOf, wholeOf } from "@/model/card";
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import GoalBead from "@/panels/scorecard/GoalBead.vue";
import HistoryMarks from "@/panels/scorecard/HistoryMarks.vue";

const props = defineProps<{
  card: Card;
  statement: Statement;
  asked: CardAsked;
  selected: { path: MemberKey[]; metric: string } | null;
  periods: string[];
  /** Only rows whose name holds this text. */
  search: string;
}>();
const emit = defineEmits<{ select: [path: MemberKey[], metric: ScoredMetric] }>();
const { cell: cellText } = useNumbers();
const { rangeText } = useDays();
const total = computed(() => props.card.answer.total);
const rows = computed(() =>
  [
    ...(props.statement.rows.length ? orderedRows(props.card.answer.rows, props.asked.order) : []).filter(
      (row) => row.label.toLowerCase().includes(props.search.toLowerCase()),
    ),
    total.value,
  ].map((of) => ({ of })),
);

function columnOf(id: string): AnsweredColumn | undefined {
  return props.card.answer.columns.find((each) => each.id === id);
}

function goalOf(metric: ScoredMetric): "base" | "figure" {
  return props.statement.goals.find((each) => each.metric === metric.id)?.of ?? "base";
}

function nameOf(row: Row): string {
  return row.path.length ? row.label : props.card.answer.told.total;
}

function isMissed(row: Row): boolean {
  const whole = wholeOf(verdictsOf(props.card.answer, row));
  return whole === "some" || whole === "none";
}

/** How many goals are met, which are missed, which cannot be told. */
function metWords(row: Row): string {
  const goals = props.card.told.metrics.filter((each) => each.goal);
  const named = (met: boolean | null): string =>
    goals
      .filter((each) => (cellOf(props.card.answer, row, each.goal)?.met ?? null) === met)
      .map((each) => each.name)
      .join(", ");
  return [
    ["met", named(true)],
    ["missed", named(false)],
    ["cannot be told", named(null)],
  ]
    .flatMap(([what, names]) => (names ? [`${what}: ${names}`] : []))
    .join("; ");
}

function valueText(row: Row, metric: ScoredMetric): string {
  const [cell, column] = [cellOf(props.card.answer, row, metric.value), columnOf(metric.value)];
  return cell && column ? cellText(cell, column, column.decimals) : "";
}

/** Both windows of a verdict with their days and figures, and the goal. */
function aboutOf(row: Row, metric: ScoredMetric): string {
  const { windows, told } = props.card.answer;
  const goal = props.statement.goals.find((each) => each.metric === metric.id);
  const lines = [
    [0, metric.value] as const,
    [goal?.of === "base" ? goal.base : 0, metric.base] as const,
  ].flatMap(([at, id]) => {
    const [cell, column, days] = [cellOf(props.card.answer, row, id), columnOf(id), windows[at]?.asked];
    if (!cell || !column) return [];
    const range = days ? ` (${rangeText(days.first, days.last)})` : "";
    return [`${told.windows[at]}${range}: ${cellText(cell, column, column.decimals)}`];
  });
  return [`${nameOf(row)}, ${metric.name}`, ...lines, metric.goal_words].filter(Boolean).join("; ");
}

function isSelected(row: Row, metric: ScoredMetric): boolean {
  return JSON.stringify(props.selected) === JSON.stringify({ path: row.path, metric: metric.id });
}
</script>

<template>
  <ElTable
    :data="rows"
    :row-key="({ of }) => JSON.stringify(of.path)"
    :row-class-name="({ row }) => (row.of.path.length ? '' : 'whole')"
    data-test="card"
  >
    <ElTableColumn :label="card.told.rows || ' '" min-width="140">
      <template #default="{ row: { of: row } }">
        <span class="name" :style="{ paddingLeft: `${Math.max(row.path.length - 1, 0) * 16}px` }">
          <i :class="{ flag: isMissed(row) }" :title="isMissed(row) ? 'Not all goals met' : ''" />
          <span :data-test="`card-row-${nameOf(row)}`">{{ nameOf(row) }}</span>
        </span>
      </template>
    </ElTableColumn>
    <ElTableColumn v-for="metric in card.told.metrics" :key="metric.id" min-width="174">
      <template #header>
        <span class="head"
          ><strong>{{ metric.name }}</strong
          ><small>{{ metric.goal_words || "no goal yet" }}</small></span
        >
      </template>
      <template #default="{ row: { of: row } }">
        <ElButton
          text
          class="verdict"
          :class="{ selected: isSelected(row, metric) }"
          :data-test="`goal-${metric.id}-${nameOf(row)}`"
          :title="aboutOf(row, metric)"
          @click="emit('select', row.path, metric)"
        >
          <GoalBead
            v-if="metric.goal && cellOf(card.answer, row, metric.goal)"
            :cell="cellOf(card.answer, row, metric.goal)!"
            :column="columnOf(metric.goal)!"
            :goal-of="goalOf(metric)"
          />
          <span v-else class="bare">{{ valueText(row, metric) }}</span>
        </ElButton>
      </template>
    </ElTableColumn>
    <ElTableColumn v-if="statement.goals.length" label="Goals met" width="104">
      <template #default="{ row: { of: row } }">
        <span v-if="row.goals" :title="metWords(row)" tabindex="0" :data-test="`met-${nameOf(row)}`"
          ><template v-if="row.goals.defined"
            ><strong>{{ row.goals.met }} of {{ row.goals.defined }}</strong></template
          ><template v-else>none of 0</template></span
        >
      </template>
    </ElTableColumn>
    <ElTableColumn v-if="statement.goals.length && periods.length > 1" :width="24 + 18 * periods.length">
      <template #header
        ><small>{{ periods[0] }} – {{ periods.at(-1) }}</small></template
      >
      <template #default="{ row: { of: row } }"
        ><HistoryMarks :verdicts="historyOf(card, row)" :periods="periods"
      /></template>
    </ElTableColumn>
  </ElTable>
</template>

<style scoped>
.name {
  display: inline-flex;
  gap: 8px;
  align-items: center;
}
.name i {
  border: 6px solid transparent;
  border-top: 0;
  border-bottom: 10px solid transparent;
}
.name .flag {
  border-bottom-color: var(--adverse);
}
:deep(.el-table__row .el-table__cell) {
  padding: 2px 0;
}
.head {
  display: grid;
  line-height: 1.2;
  color: var(--ink);
}
.head small {
  color: var(--quiet);
  font-weight: 400;
}
.verdict {
  width: 100%;
  padding: 4px 6px;
  font: inherit;
}
.verdict :deep(> span) {
  width: 100%;
}
.selected {
  box-shadow: inset 0 0 0 2px var(--window-0);
}
.bare {
  width: 100%;
  text-align: right;
  font-variant-numeric: tabular-nums lining-nums;
}
:deep(.whole td) {
  border-top: 2px solid var(--wood);
  font-weight: 600;
}
</style>
