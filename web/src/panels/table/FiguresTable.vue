<script setup lang="ts">
/** The working table: rows that open, columns that sort, cells selected one or many; only what is visible is drawn. */
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from "vue";
import type { Answer, Layout, MemberKey, Row, Statement } from "@/contract";
import { isFilled, MOST_AT_ONCE } from "@/model/filling";
import { moveColumn, setWidth, turnColumn } from "@/model/layout";
import { rounded, tableDecimals } from "@/model/numbers";
import { bounds, summed, type Block } from "@/model/selection";
import { samePath } from "@/model/statement";
import { holds, linesOf, slotFrom, slotsOf, type Line, type Slot } from "@/model/lines";
import { drawn, drawnColumns, largestChanges, shownColumns, widthOf } from "@/model/table";
import { numberAt, trendKey, trendOf, type Trends } from "@/model/trends";
import FiguresHead from "@/panels/table/FiguresHead.vue";
import FiguresRow from "@/panels/table/FiguresRow.vue";
import "@/panels/table/table.css";
import type { Told } from "@/words/table";
import { capital, count, GRAINS, measureName, REASONS } from "@/words/words";

const props = defineProps<{
  answer: Answer;
  statement: Statement;
  layout: Layout;
  selected: { path: MemberKey[]; column: string; rest?: boolean } | null;
  said: Record<string, string>;
  /** Trends of a table in which no time stands across. */
  trends: Trends | null;
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
const rows = computed(() => props.answer.rows);
const columns = computed(() => shownColumns(props.answer));
const slots = computed(() => slotsOf(columns.value, props.layout));
const lines = computed(() => linesOf(rows.value, slots.value, props.layout));
const totalLines = computed(() => linesOf([props.answer.total], slots.value, props.layout));
/** All lines that can be reached, in the order in which they stand. */
const reachable = computed(() => {
  const { totals } = props.layout;
  if (totals === "off") return lines.value;
  return totals === "above" ? [...totalLines.value, ...lines.value] : [...lines.value, ...totalLines.value];
});
const largest = computed(() => largestChanges(props.answer.rows, columns.value));
/** Where each line's trend is drawn from, by its place within its row; null where none has one. */
const trended = computed(() => {
  if (props.layout.trends === "off") return null;
  const found = totalLines.value.map((line) => trendOf(props.answer, props.statement, line.metric));
  return found.some((each) => each.length) ? found : null;
});
const trendWords = computed(() => {
  if (trended.value) return "The figures of the whole periods across";
  if (!props.trends) return "";
  const { grain, measure } = props.trends;
  return `${capital(measureName(measure))} by ${GRAINS[grain]} in the current window, whole ${GRAINS[grain]}s only`;
});

/** The figures of a line's trend; null where no line has one. */
function trendIn({ row, place }: Line): (number | null)[] | null {
  if (trended.value) return (trended.value[place] ?? []).map((at) => numberAt(row.cells[at]?.value));
  if (!props.trends) return null;
  return place || typeof row.rest === "number" ? [] : (props.trends.values.get(trendKey(row.path)) ?? []);
}
const part = computed(() => drawn(lines.value.length, scrolled.value.top, size.value.height, tall.value));
const shown = computed(() => lines.value.slice(part.value.first, part.value.last));
const widths = computed(() => slots.value.map((each) => widthOf(each.head, props.layout)));
const across = computed(() => drawnColumns(widths.value, scrolled.value.left, size.value.width));
const visible = computed(() => slots.value.slice(across.value.first, across.value.last));
const bars = computed(() => visible.value.map((each) => each.head.bar));
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
/** Why the cell that has the focus has no figure. */
const missing = ref<string | null>(null);
// The windows are those of one answer, however many of its rows are filled by now.
watch([() => props.answer.windows, () => props.layout], () => (block.value = null));
/** Of a large table the rows that are seen, and a few more, are filled. */
watch(
  () => (props.answer.partial ? shown.value.map((each) => each.row) : []),
  (near) => {
    const empty = near.filter((row) => !isFilled(row, props.answer));
    if (empty.length) emit("see", empty);
  },
  { immediate: true },
);
const spanned = computed(() => (block.value ? summed(reachable.value, block.value) : null));
watch(spanned, (found) => {
  if (found?.missing.length && found.missing.length <= MOST_AT_ONCE) emit("fill", found.missing);
});

const blockWords = computed(() => {
  if (!block.value || !spanned.value) return "";
  const { count: cells, sum, missing } = spanned.value;
  if (missing.length) return `${count(missing.length, "row")} still to come`;
  if (cells < 2) return "";
  const { top, left } = bounds(block.value);
  const places = decimals.value[reachable.value[top]?.columns[left]?.at ?? 0] ?? 2;
  if (!sum) return count(cells, "cell");
  const mean = { top: sum.top, bottom: sum.bottom * BigInt(cells) };
  return `${count(cells, "cell")} · sum ${rounded(sum, places)} · mean ${rounded(mean, places + 2)}`;
});

function nameOf({ row, place }: Line): string {
  const rest = row.rest === null || row.rest === undefined ? "" : "/…";
  const name = row === props.answer.total ? "row-total" : `row-${row.path.join("/")}${rest}`;
  return place ? `${name}~${place}` : name;
}

function selectedIn(line: Line): string | null {
  const { selected } = props;
  if (!selected || !samePath(selected.path, line.row.path) || !holds(line, selected.column)) return null;
  return !!selected.rest === (typeof line.row.rest === "number") ? selected.column : null;
}

const isSelectedShown = computed(
  () => !!props.selected && reachable.value.some((each) => selectedIn(each) !== null),
);

/** Tab reaches the selected cell, or the first one where none is. */
function reachedIn(line: Line): string | null {
  if (isSelectedShown.value) return selectedIn(line);
  return line === reachable.value[0] ? (line.columns.find(Boolean)?.column.id ?? null) : null;
}

function blockIn(line: Line): [number, number] | null {
  if (!block.value) return null;
  const { top, bottom, left, right } = bounds(block.value);
  const at = reachable.value.indexOf(line);
  return at >= top && at <= bottom && (top !== bottom || left !== right) ? [left, right] : null;
}

/** What is drawn of a line. */
function drawnOf(line: Line): Omit<InstanceType<typeof FiguresRow>["$props"], "total"> {
  return {
    told: told.value,
    line,
    columns: line.columns.slice(across.value.first, across.value.last),
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

function spotOf(line: Line, id: string): [number, number] {
  return [reachable.value.indexOf(line), line.columns.findIndex((each) => each?.column.id === id)];
}

function choose(line: Line, column: string, extend: boolean): void {
  const here = spotOf(line, column);
  if (extend && block.value) block.value = { ...block.value, to: here };
  else {
    block.value = { from: here, to: here };
    emit("select", line.row.path, column, typeof line.row.rest === "number");
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

async function pressed(event: KeyboardEvent, line: Line, column: string): Promise<void> {
  if (event.key === "Enter" || event.key === " ") {
    event.preventDefault();
    if (line.row.can_open) emit("toggle", line.row);
    return;
  }
  const step = STEPS[event.key];
  if (!step || event.ctrlKey || event.metaKey || event.altKey) return;
  event.preventDefault();
  const extends_ = event.shiftKey && block.value;
  const from = extends_ && block.value ? block.value.to : spotOf(line, column);
  const to = Math.min(Math.max(from[0] + step[0], 0), reachable.value.length - 1);
  const next = reachable.value[to];
  const over = next ? slotFrom(next, from[1] + step[1], step[1]) : null;
  const id = next && over !== null ? next.columns[over]?.column.id : undefined;
  if (!next || over === null || !id) return;
  if (event.shiftKey && !block.value) block.value = { from: spotOf(line, column), to: [to, over] };
  else if (event.shiftKey && block.value) block.value = { ...block.value, to: [to, over] };
  else choose(next, id, false);
  show(lines.value.indexOf(next), over);
  await nextTick();
  // Also while a block grows: the cell that it began at may be drawn no longer, and keys would be lost with it.
  cellAt(next, id)?.focus({ preventScroll: true });
}

/** A drawn cell, whether it is the selected one by now or will be as soon as the address is. */
function cellAt(line: Line, column: string): HTMLElement | null {
  const name = nameOf(line);
  const drawnRows = [...(box.value?.querySelectorAll<HTMLElement>("tr[data-test]") ?? [])];
  const cells =
    drawnRows.find((each) => each.dataset.test === name)?.querySelectorAll<HTMLElement>("td") ?? [];
  return [...cells].find((each) => each.dataset.test === `cell-${column}`) ?? null;
}

/** Bring a cell into what is seen, below the headings and above the total. */
function show(line: number, slot: number): void {
  const place = box.value;
  if (!place) return;
  if (line >= 0) {
    const top = line * tall.value;
    const under = tall.value * (props.layout.totals === "off" ? 3.5 : 3.5 + totalLines.value.length);
    if (top < place.scrollTop) place.scrollTop = top;
    else if (top + under > place.scrollTop + size.value.height)
      place.scrollTop = top + under - size.value.height;
  }
  const left = widths.value.slice(0, slot).reduce((sum, each) => sum + each, 0);
  const labels = 260;
  if (left < place.scrollLeft) place.scrollLeft = left;
  else if (left + (widths.value[slot] ?? 0) + labels > place.scrollLeft + size.value.width)
    place.scrollLeft = left + (widths.value[slot] ?? 0) + labels - size.value.width;
  // Drawn at once, not at the next frame: the cell is there to be focused.
  onScroll();
}

async function focusSelected(): Promise<void> {
  await nextTick();
  const cell =
    box.value?.querySelector<HTMLElement>("td.selected") ??
    box.value?.querySelector<HTMLElement>("td[tabindex='0']");
  cell?.focus();
}

/** The cells that are selected as a block, for copying; null where it is one cell. */
function selectedBlock(): { lines: Line[]; slots: [number, number] } | null {
  if (!block.value) return null;
  const { top, bottom, left, right } = bounds(block.value);
  if (top === bottom && left === right) return null;
  return { lines: reachable.value.slice(top, bottom + 1), slots: [left, right] };
}
defineExpose({ focusSelected, selectedBlock });

function idsOf({ columns: stacked }: Slot): string[] {
  return stacked.map((each) => each.column.id);
}

function move(id: string, by: number): void {
  emit("lay", moveColumn(props.layout, slots.value.map(idsOf), id, by), false);
}

function hide(id: string): void {
  const slot = slots.value.find((each) => each.head.column.id === id);
  if (slot) emit("lay", turnColumn(props.layout, ...idsOf(slot)), false);
}

function onScroll(): void {
  scrolled.value = { top: box.value?.scrollTop ?? 0, left: box.value?.scrollLeft ?? 0 };
}
</script>

<template>
  <div ref="box" class="figures-table" :class="layout.size" data-test="table" @scroll="onScroll">
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
          <tr
            v-if="part.first"
            class="space"
            :style="{ height: `${part.first * tall}px` }"
            aria-hidden="true"
          >
            <td :colspan="99" />
          </tr>
          <FiguresRow
            v-for="line in shown"
            :key="nameOf(line)"
            :data-test="nameOf(line)"
            v-bind="drawnOf(line)"
            :total="false"
            @toggle="emit('toggle', line.row)"
            @down="goDown(line.row)"
            @select="(column, extend) => choose(line, column, extend)"
            @over="(column) => choose(line, column, true)"
            @key="(event, column) => pressed(event, line, column)"
            @focus="(reason) => (missing = reason)"
          />
          <tr
            v-if="part.last < lines.length"
            class="space"
            :style="{ height: `${(lines.length - part.last) * tall}px` }"
            aria-hidden="true"
          >
            <td :colspan="99" />
          </tr>
        </template>
        <template v-else-if="layout.totals !== 'off'">
          <FiguresRow
            v-for="line in totalLines"
            :key="nameOf(line)"
            :data-test="nameOf(line)"
            v-bind="drawnOf(line)"
            total
            @select="(column, extend) => choose(line, column, extend)"
            @over="(column) => choose(line, column, true)"
            @key="(event, column) => pressed(event, line, column)"
            @focus="(reason) => (missing = reason)"
          />
        </template>
      </component>
    </table>
    <p v-if="layout.search && !rows.length" class="nothing">No row is called “{{ layout.search }}”.</p>
    <p v-else-if="!rows.length && statement.rows.length" class="nothing">
      No posted line falls into these windows. Move the as-of date, or remove a filter.
    </p>
  </div>
  <p v-if="missing && !blockWords" class="sums" role="status" data-test="why">– {{ REASONS[missing] }}</p>
  <p v-if="blockWords" class="sums" role="status" data-test="block-sum">{{ blockWords }}</p>
</template>
