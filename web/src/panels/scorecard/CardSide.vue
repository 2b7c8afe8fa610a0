<script setup lang="ts">
/** One verdict of a card: both windows with their days, the goal, what was reached; its history; and where to go from it. */
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import { computed } from "vue";
import type { Card, MemberKey, Row, ScoredMetric, Statement } from "@/contract";
import { REASONS } from "@/contract/vocabulary";
import { cellOf, gapOf, historyOf, targetOf } from "@/model/card";
import type { Fraction } from "@/model/numbers";
import TargetForm from "@/panels/scorecard/TargetForm.vue";

const props = defineProps<{
  card: Card;
  statement: Statement;
  row: Row;
  metric: ScoredMetric;
  /** What the row is called. */
  label: string;
  /** What the periods of the history are called, the earliest first, and the current one. */
  periods: string[];
}>();
const emit = defineEmits<{
  prove: [path: MemberKey[], column: string];
  movers: [path: MemberKey[], metric: ScoredMetric, base: number];
  target: [target: string, path: MemberKey[] | null, period: string];
}>();
const { cell: cellText, rounded, count } = useNumbers();
const { rangeText } = useDays();
const goal = computed(() => props.statement.goals.find((each) => each.metric === props.metric.id) ?? null);
const goalOf = computed(() => goal.value?.of ?? "base");
const window = computed(() => (goal.value?.of === "figure" ? 0 : (goal.value?.base ?? 0)));
const answer = computed(() => props.card.answer);

function lineOf(at: number, column: string): { name: string; days: string; text: string } | null {
  const cell = cellOf(answer.value, props.row, column);
  const head = answer.value.columns.find((each) => each.id === column);
  const of = answer.value.windows[at];
  if (!cell || !head || !of) return null;
  return {
    name: answer.value.told.windows[at] ?? "",
    days: of.asked
      ? `${rangeText(of.asked.first, of.asked.last)} · ${count(of.counted_days, "day")}`
      : "no such period",
    text: cell.value === null ? (REASONS[cell.reason ?? ""] ?? "–") : cellText(cell, head, head.decimals),
  };
}
const now = computed(() => lineOf(0, props.metric.value));
const then = computed(() => (props.metric.base ? lineOf(window.value, props.metric.base) : null));
const verdict = computed(() =>
  props.metric.goal ? cellOf(answer.value, props.row, props.metric.goal) : null,
);
const reached = computed(() => {
  const head = answer.value.columns.find((each) => each.id === props.metric.goal);
  const cell = verdict.value;
  return cell && head && cell.value !== null ? cellText(cell, head, head.decimals) : "";
});
/** The target in units of the measure, and how far the figure is from it. */
const away = computed(() => {
  const head = answer.value.columns.find((each) => each.id === props.metric.value);
  const base = props.metric.base ? cellOf(answer.value, props.row, props.metric.base) : null;
  const target = verdict.value && targetOf(verdict.value, goalOf.value, base);
  const gap = gapOf(cellOf(answer.value, props.row, props.metric.value), target);
  if (!target || !gap || !head) return null;
  const percent = head.unit === "percent";
  const written = (value: Fraction, plus: boolean): string =>
    rounded(percent ? { ...value, top: value.top * 100n } : value, head.decimals, plus);
  return {
    target: written(target, false) + (percent ? "%" : ""),
    gap: written(gap, true) + (percent ? " pt" : ""),
  };
});
/** This goal over the last periods, the latest first. */
const history = computed(() => {
  const goals = answer.value.columns.filter((each) => each.kind === "goal").map((each) => each.id);
  const at = goals.indexOf(props.metric.goal);
  return historyOf(props.card, props.row)
    .map((met, place) => ({ name: props.periods[place] ?? "", met: met[at] ?? null }))
    .reverse();
});
const period = computed(() => answer.value.windows[0]?.key ?? "");
const unit = computed(() =>
  goalOf.value === "base" && props.statement.bases.length
    ? `% of ${answer.value.told.names[window.value || 1]}`
    : "",
);
</script>

<template>
  <aside class="one" data-test="card-side" :aria-label="`${label}, ${metric.name}`">
    <h2>{{ label }} · {{ metric.name }}</h2>
    <p class="quiet" data-test="card-verdict">
      {{
        !metric.goal || !verdict?.target
          ? "no goal: it is not judged"
          : verdict.met === null || verdict.met === undefined
            ? REASONS[verdict.reason ?? ""]
            : verdict.met
              ? "goal met"
              : "goal missed"
      }}
    </p>
    <dl>
      <template v-for="(line, at) in [now, then]" :key="at">
        <template v-if="line">
          <dt :class="`window-${at ? window : 0}`">
            {{ line.name }} <small>{{ line.days }}</small>
          </dt>
          <dd>{{ line.text }}</dd>
        </template>
      </template>
      <template v-if="away">
        <dt>
          Goal: {{ metric.direction === "at_least" ? "at least" : "at most" }} {{ verdict?.target
          }}{{ goalOf === "base" ? "%" : "" }}
        </dt>
        <dd>{{ away.target }}</dd>
        <dt class="sum">Reached</dt>
        <dd class="sum" :class="verdict?.met ? 'favourable' : 'adverse'">{{ reached }} · {{ away.gap }}</dd>
      </template>
    </dl>
    <ol v-if="metric.goal" class="past">
      <li v-for="each in history" :key="each.name">
        {{ each.name }} <span>{{ each.met === null ? "–" : each.met ? "met" : "missed" }}</span>
      </li>
    </ol>
    <ElButton data-test="card-prove" @click="emit('prove', row.path, metric.goal || metric.value)"
      >Prove it</ElButton
    >
    <ElButton
      v-if="statement.bases.length"
      data-test="card-movers"
      @click="emit('movers', row.path, metric, window || 1)"
      >Who moved</ElButton
    >
    <TargetForm
      :goal="goal"
      :path="row.path"
      :row="label"
      :period="period"
      :period-name="periods.at(-1) ?? ''"
      :unit="unit"
      @set="(target, path, of) => emit('target', target, path, of)"
    />
  </aside>
</template>

<style scoped>
.one {
  padding: 10px 14px;
  border-left: 1px solid var(--line);
  min-width: 0;
}
h2 {
  margin: 0;
  font: 600 0.9375rem var(--sans);
}
dl {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 3px 10px;
  margin: 0 0 10px;
  padding: 8px 10px;
  background: var(--soft);
  font-size: 0.8125rem;
}
dd {
  margin: 0;
  font-weight: 600;
  text-align: right;
  font-variant-numeric: tabular-nums lining-nums;
}
small {
  display: block;
  color: var(--quiet);
}
.window-0 {
  color: var(--window-text-0);
}
.window-1 {
  color: var(--window-text-1);
}
.sum {
  padding-top: 4px;
  border-top: 1px solid var(--part);
}
.past {
  margin: 0 0 8px;
  padding: 0;
  list-style: none;
  font-size: 0.8125rem;
}
.past li {
  display: flex;
  justify-content: space-between;
}
</style>
