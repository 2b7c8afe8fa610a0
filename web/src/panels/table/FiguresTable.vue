<script setup lang="ts">
/** The working table: rows that open, columns that sort, cells selected one or many; only what is visible is drawn. */
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from "vue";
import type { Answer, Layout, MemberKey, Row, Statement } from "@/contract";
import { moveColumn, setWidth, turnColumn } from "@/model/layout";
import { rounded, tableDecimals } from "@/model/numbers";
import { bounds, summed, type Block } from "@/model/selection";
import { samePath } from "@/model/statement";
import { drawn, drawnColumns, largestChanges, searched, shownColumns, trendOf, widthOf } from "@/model/table";
import FiguresHead from "@/panels/table/FiguresHead.vue";
import FiguresRow from "@/panels/table/FiguresRow.vue";
import "@/panels/table/table.css";
import type { Told } from "@/words/table";
import { count } from "@/words/words";

const props = defineProps<{
  answer: Answer;
  statement: Statement;
  layout: Layout;
  search: string;
  selected: { path: MemberKey[]; column: string; rest?: boolean } | null;
  said: Record<string, string>;
}>();
const emit = defineEmits<{
  sort: [column: string];
  toggle: [row: Row];
  select: [path: MemberKey[], column: string, rest: boolean];
  lay: [layout: Layout, dragged: boolean];
  down: [period: string];
}>();

const box = ref<HTMLElement | null>(null);
const scrolled = ref({ top: 0, left: 0 });
const size = ref({ width: 1000, height: 600 });
const watcher = new ResizeObserver(() => {
  size.value = { width: box.value?.clientWidth ?? 1000, height: box.value?.clientHeight ?? 600 };
});
onMounted(() => box.value && watcher.observe(box.value));
onBeforeUnmount(() => watcher.disconnect());

const tall = computed(() => (props.layout.size === "large" ? 38 : 28));
const told = computed<Told>(() => ({
  answer: props.answer,
  statement: props.statement,
  layout: props.layout,
  said: props.said,
}));
const rows = computed(() => searched(props.answer.rows, props.search));
/** All rows that can be reached, in the order in which they stand. */
const reachable = computed(() => {
  const { totals } = props.layout;
  if (totals === "off") return rows.value;
  return totals === "above" ? [props.answer.total, ...rows.value] : [...rows.value, props.answer.total];
});
const columns = computed(() => shownColumns(props.answer));
const largest = computed(() => largestChanges(props.answer.rows, columns.value));
const trend = computed(() => trendOf(props.answer, props.statement));
const part = computed(() => drawn(rows.value.length, scrolled.value.top, size.value.height, tall.value));
const shown = computed(() => rows.value.slice(part.value.first, part.value.last));
const widths = computed(() => columns.value.map((each) => widthOf(each, props.layout)));
const across = computed(() => drawnColumns(widths.value, scrolled.value.left, size.value.width));
const visible = computed(() => columns.value.slice(across.value.first, across.value.last));
const decimals = computed(() =>
  // Values and changes of a measure show the same decimals: those that its current total asks for.
  props.answer.columns.map((column) => {
    if (props.layout.decimals[column.measure] !== undefined) return column.decimals;
    const at = props.answer.columns.findIndex((each) => each.measure === column.measure);
    const cell = props.answer.total.cells[at];
    return cell ? tableDecimals(column, cell) : column.decimals;
  }),
);
const block = ref<Block | null>(null);
watch(
  () => [props.answer, props.search],
  () => (block.value = null),
);

const blockWords = computed(() => {
  if (!block.value) return "";
  const { count: cells, sum } = summed(props.answer, reachable.value, block.value);
  if (cells < 2) return "";
  const { left } = bounds(block.value);
  const places = decimals.value[left] ?? 2;
  if (!sum) return count(cells, "cell");
  const mean = { top: sum.top, bottom: sum.bottom * BigInt(cells) };
  return `${count(cells, "cell")} · sum ${rounded(sum, places)} · mean ${rounded(mean, places + 2)}`;
});

function keyOf(row: Row): string {
  return row.path.join("/") + (row.rest === null || row.rest === undefined ? "" : "/…");
}

function selectedIn(row: Row): string | null {
  const { selected } = props;
  if (!selected || !samePath(selected.path, row.path)) return null;
  return !!selected.rest === (typeof row.rest === "number") ? selected.column : null;
}

/** Tab reaches the selected cell, or the first one where none is. */
function reachedIn(row: Row): string | null {
  if (props.selected && reachable.value.some((each) => selectedIn(each) !== null)) return selectedIn(row);
  return row === reachable.value[0] ? (columns.value[0]?.column.id ?? null) : null;
}

function blockIn(row: Row): [number, number] | null {
  if (!block.value) return null;
  const { top, bottom, left, right } = bounds(block.value);
  const at = reachable.value.indexOf(row);
  return at >= top && at <= bottom && (top !== bottom || left !== right) ? [left, right] : null;
}

/** Down into the period that a row stands for. */
function goDown(row: Row): void {
  const level = props.statement.rows[row.path.length - 1];
  const key = row.path.at(-1);
  if (typeof level === "object" && key && key.length > 2) emit("down", key);
}

function columnAt(id: string): number {
  return props.answer.columns.findIndex((each) => each.id === id);
}

function choose(row: Row, column: string, extend: boolean): void {
  const here: [number, number] = [reachable.value.indexOf(row), columnAt(column)];
  if (extend && block.value) block.value = { ...block.value, to: here };
  else {
    block.value = { from: here, to: here };
    emit("select", row.path, column, typeof row.rest === "number");
  }
}

const STEPS: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  PageUp: [-12, 0],
  PageDown: [12, 0],
  Home: [0, -10_000],
  End: [0, 10_000],
};

async function pressed(event: KeyboardEvent, row: Row, column: string): Promise<void> {
  if (event.key === "Enter" || event.key === " ") {
    event.preventDefault();
    if (row.can_open) emit("toggle", row);
    return;
  }
  const step = STEPS[event.key];
  if (!step || event.ctrlKey || event.metaKey || event.altKey) return;
  event.preventDefault();
  const extends_ = event.shiftKey && block.value;
  const from = extends_ && block.value ? block.value.to : [reachable.value.indexOf(row), columnAt(column)];
  const to = Math.min(Math.max((from[0] ?? 0) + step[0], 0), reachable.value.length - 1);
  const over = Math.min(Math.max((from[1] ?? 0) + step[1], 0), columns.value.length - 1);
  const next = reachable.value[to];
  const id = props.answer.columns[over]?.id;
  if (!next || !id) return;
  if (event.shiftKey && !block.value)
    block.value = { from: [reachable.value.indexOf(row), columnAt(column)], to: [to, over] };
  else if (event.shiftKey && block.value) block.value = { ...block.value, to: [to, over] };
  else choose(next, id, false);
  show(rows.value.indexOf(next), over);
  await nextTick();
  if (!event.shiftKey) cellAt(next, id)?.focus();
}

/** A drawn cell, whether it is the selected one by now or will be as soon as the address is. */
function cellAt(row: Row, column: string): HTMLElement | null {
  const name = row === props.answer.total ? "row-total" : `row-${keyOf(row)}`;
  const drawnRows = [...(box.value?.querySelectorAll<HTMLElement>("tr[data-test]") ?? [])];
  const cells =
    drawnRows.find((each) => each.dataset.test === name)?.querySelectorAll<HTMLElement>("td") ?? [];
  return [...cells].find((each) => each.dataset.test === `cell-${column}`) ?? null;
}

/** Bring a cell into what is seen, below the headings and above the total. */
function show(row: number, column: number): void {
  const place = box.value;
  if (!place) return;
  if (row >= 0) {
    const top = row * tall.value;
    const under = tall.value * (props.layout.totals === "off" ? 3 : 4);
    if (top < place.scrollTop) place.scrollTop = top;
    else if (top + under > place.scrollTop + size.value.height)
      place.scrollTop = top + under - size.value.height;
  }
  const left = widths.value.slice(0, column).reduce((sum, each) => sum + each, 0);
  const labels = 260;
  if (left < place.scrollLeft) place.scrollLeft = left;
  else if (left + (widths.value[column] ?? 0) + labels > place.scrollLeft + size.value.width)
    place.scrollLeft = left + (widths.value[column] ?? 0) + labels - size.value.width;
}

async function focusSelected(): Promise<void> {
  await nextTick();
  const cell =
    box.value?.querySelector<HTMLElement>("td.selected") ??
    box.value?.querySelector<HTMLElement>("td[tabindex='0']");
  cell?.focus();
}

/** The cells that are selected as a block, for copying; null where it is one cell. */
function selectedBlock(): { rows: Row[]; columns: [number, number] } | null {
  if (!block.value) return null;
  const { top, bottom, left, right } = bounds(block.value);
  if (top === bottom && left === right) return null;
  return { rows: reachable.value.slice(top, bottom + 1), columns: [left, right] };
}
defineExpose({ focusSelected, selectedBlock });

function move(id: string, by: number): void {
  const ids = columns.value.map((each) => each.column.id);
  emit("lay", moveColumn(props.layout, ids, id, by), false);
}

function onScroll(): void {
  scrolled.value = { top: box.value?.scrollTop ?? 0, left: box.value?.scrollLeft ?? 0 };
}
</script>

<template>
  <div ref="box" class="figures-table" :class="layout.size" data-test="table" @scroll="onScroll">
    <table role="grid" :aria-rowcount="reachable.length" :aria-colcount="columns.length" aria-label="Figures">
      <FiguresHead
        :told="told"
        :columns="visible"
        :before="across.before"
        :after="across.after"
        :layout="layout"
        :trend="trend.length > 0"
        @sort="(column) => emit('sort', column)"
        @move="move"
        @hide="(column) => emit('lay', turnColumn(layout, column), false)"
        @widen="(column, width) => emit('lay', setWidth(layout, column, width), true)"
      />
      <component
        :is="which === 'rows' ? 'tbody' : layout.totals === 'above' ? 'tbody' : 'tfoot'"
        v-for="which in layout.totals === 'above' ? ['total', 'rows'] : ['rows', 'total']"
        :key="which"
      >
        <template v-if="which === 'rows'">
          <tr
            v-if="part.first"
            class="space"
            :style="{ height: `${part.first * tall}px` }"
            aria-hidden="true"
          >
            <td :colspan="99" />
          </tr>
          <FiguresRow
            v-for="row in shown"
            :key="keyOf(row)"
            :data-test="`row-${keyOf(row)}`"
            :told="told"
            :row="row"
            :columns="visible"
            :before="across.before"
            :after="across.after"
            :decimals="decimals"
            :largest="largest"
            :trend="trend"
            :selected="selectedIn(row)"
            :reached="reachedIn(row)"
            :block="blockIn(row)"
            :total="false"
            @toggle="emit('toggle', row)"
            @down="goDown(row)"
            @select="(column, extend) => choose(row, column, extend)"
            @over="(column) => choose(row, column, true)"
            @key="(event, column) => pressed(event, row, column)"
          />
          <tr
            v-if="part.last < rows.length"
            class="space"
            :style="{ height: `${(rows.length - part.last) * tall}px` }"
            aria-hidden="true"
          >
            <td :colspan="99" />
          </tr>
        </template>
        <FiguresRow
          v-else-if="layout.totals !== 'off'"
          data-test="row-total"
          :told="told"
          :row="answer.total"
          :columns="visible"
          :before="across.before"
          :after="across.after"
          :decimals="decimals"
          :largest="largest"
          :trend="trend"
          :selected="selectedIn(answer.total)"
          :reached="reachedIn(answer.total)"
          :block="blockIn(answer.total)"
          total
          @select="(column, extend) => choose(answer.total, column, extend)"
          @over="(column) => choose(answer.total, column, true)"
          @key="(event, column) => pressed(event, answer.total, column)"
        />
      </component>
    </table>
    <p v-if="!answer.rows.length && statement.rows.length" class="nothing">
      No posted line falls into these windows. Move the as-of date, or remove a filter.
    </p>
    <p v-else-if="search && !rows.length" class="nothing">No row is called “{{ search }}”.</p>
  </div>
  <p v-if="blockWords" class="sums" role="status" data-test="block-sum">{{ blockWords }}</p>
</template>
