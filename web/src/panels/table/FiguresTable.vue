<script setup lang="ts">
/** The working table: rows that open, columns that sort, cells selected one or many; only what is visible is drawn. */
import { REASONS } from "@/contract/vocabulary";
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import { computed, ref } from "vue";
import type { Answer, Layout, MemberKey, Row, Statement } from "@/contract";
import { setWidth } from "@/model/layout";
import type { Line } from "@/model/lines";
import { widthOf } from "@/model/table";
import type { Trends } from "@/model/trends";
import { drawnOf, useDrawn } from "@/composables/drawn";
import FiguresHead from "@/panels/table/FiguresHead.vue";
import { useColumnMoves } from "@/panels/table/columnMoves";
import { watchFilling } from "@/panels/table/filling";
import { useReaching } from "@/panels/table/reaching";
import { useBlock } from "@/panels/table/selecting";
import { useLines } from "@/panels/table/tableLines";
import NoRows from "@/panels/table/NoRows.vue";
import FiguresRow from "@/panels/table/FiguresRow.vue";
import "@/panels/table/table.css";
import type { Told } from "@/words/table";

const [numbers, days] = [useNumbers(), useDays()];

const props = defineProps<{
  answer: Answer;
  statement: Statement;
  layout: Layout;
  selected: { path: MemberKey[]; column: string; rest?: boolean } | null;
  said: Record<string, string>;
  /** Trends of a table in which no time stands across. */
  trends: Trends | null;
  /** How much larger than usual the reader has everything. */
  scale?: number;
}>();
const emit = defineEmits<{
  sort: [column: string];
  toggle: [row: Row];
  select: [path: MemberKey[], column: string, rest: boolean];
  lay: [layout: Layout, dragged: boolean];
  down: [period: string];
  /** Rows without cells that are to be seen, or that a block of cells spans. */
  see: [rows: Row[]];
  fill: [rows: Row[]];
}>();

const box = ref<HTMLElement | null>(null);
const tall = computed(() => 28 * (props.scale ?? 1));
const told = computed<Told>(() => {
  const { answer, statement, layout, said } = props;
  return { answer, statement, layout, said, numbers, days };
});
const { rows, slots, lines, totalLines, reachable, largest, trendWords, trendIn, decimals } = useLines(props);
const widths = computed(() => slots.value.map((each) => widthOf(each.head, props.layout)));
const {
  rows: part,
  columns: across,
  scrolled,
} = useDrawn(
  box,
  () => lines.value.length,
  () => tall.value,
  () => widths.value,
);
const shown = computed(() => drawnOf(lines.value, part.value));
const visible = computed(() => drawnOf(slots.value, across.value));
const bars = computed(() => visible.value.map((each) => each.head.bar));
const {
  block,
  missing: unfilled,
  words: blockWords,
  spotOf,
  extend,
  blockIn,
  selectedBlock,
  forgetWith,
} = useBlock(
  () => reachable.value,
  () => decimals.value,
  numbers,
);
/** Why the focused cell has no figure. */
const missing = ref<string | null>(null);
// The windows are those of one answer, however many of its rows are filled by now.
forgetWith([() => props.answer.windows, () => props.layout]);
watchFilling(
  () => (props.answer.partial ? shown.value.map((each) => each.row) : []),
  unfilled,
  () => props.answer,
  { see: (found) => emit("see", found), fill: (found) => emit("fill", found) },
);

const { nameOf, selectedIn, reachedIn, choose, pressed, keep, focusSelected } = useReaching(
  props,
  { box, lines, totalLines, reachable, widths, tall, scrolled },
  { block, extend, spotOf },
  {
    select: (path, column, rest) => emit("select", path, column, rest),
    toggle: (row) => emit("toggle", row),
  },
);

/** What is drawn of a line. */
function partsOf(line: Line): Omit<InstanceType<typeof FiguresRow>["$props"], "total"> {
  return {
    told: told.value,
    line,
    columns: drawnOf(line.columns, across.value),
    first: across.value.first,
    bars: bars.value,
    before: across.value.before,
    after: across.value.after,
    decimals: decimals.value,
    largest: largest.value,
    trend: trendIn(line),
    selected: selectedIn(line),
    reached: reachedIn(line),
    block: blockIn(line),
  };
}

/** Down into the period that a row stands for. */
function goDown(row: Row): void {
  const level = props.statement.rows[row.path.length - 1];
  const key = row.path.at(-1);
  if (typeof level === "object" && key && key.length > 2) emit("down", key);
}

defineExpose({ focusSelected, selectedBlock });

const { move, hide } = useColumnMoves(props, slots, (next) => emit("lay", next, false));
</script>

<template>
  <div ref="box" class="figures-table" data-test="table">
    <table role="grid" :aria-rowcount="reachable.length" :aria-colcount="slots.length" aria-label="Figures">
      <FiguresHead
        :told="told"
        :slots="visible"
        :before="across.before"
        :after="across.after"
        :layout="layout"
        :trend="trendWords"
        @sort="(column) => emit('sort', column)"
        @move="move"
        @hide="hide"
        @down="(period) => emit('down', period)"
        @widen="(column, width) => emit('lay', setWidth(layout, column, width), true)"
      />
      <component
        :is="which === 'rows' ? 'tbody' : layout.totals === 'above' ? 'tbody' : 'tfoot'"
        v-for="which in layout.totals === 'above' ? ['total', 'rows'] : ['rows', 'total']"
        :key="which"
      >
        <template v-if="which === 'rows'">
          <tr v-if="part.before" class="space" :style="{ height: `${part.before}px` }" aria-hidden="true">
            <td :colspan="99" />
          </tr>
          <FiguresRow
            v-for="line in shown"
            :key="nameOf(line)"
            :ref="keep(line)"
            :data-test="nameOf(line)"
            v-bind="partsOf(line)"
            :total="false"
            @toggle="emit('toggle', line.row)"
            @down="goDown(line.row)"
            @select="(column, extend) => choose(line, column, extend)"
            @over="(column) => choose(line, column, true)"
            @key="(event, column) => pressed(event, line, column)"
            @focus="(reason) => (missing = reason)"
          />
          <tr v-if="part.after" class="space" :style="{ height: `${part.after}px` }" aria-hidden="true">
            <td :colspan="99" />
          </tr>
        </template>
        <template v-else-if="layout.totals !== 'off'">
          <FiguresRow
            v-for="line in totalLines"
            :key="nameOf(line)"
            :ref="keep(line)"
            :data-test="nameOf(line)"
            v-bind="partsOf(line)"
            total
            @select="(column, extend) => choose(line, column, extend)"
            @over="(column) => choose(line, column, true)"
            @key="(event, column) => pressed(event, line, column)"
            @focus="(reason) => (missing = reason)"
          />
        </template>
      </component>
    </table>
    <NoRows v-if="!rows.length" :search="layout.search" :asked="!!statement.rows.length" />
  </div>
  <p v-if="missing && !blockWords" class="sums" role="status" data-test="why">– {{ REASONS[missing] }}</p>
  <p v-if="blockWords" class="sums" role="status" data-test="block-sum">{{ blockWords }}</p>
</template>
