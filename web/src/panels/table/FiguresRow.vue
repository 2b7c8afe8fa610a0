<script setup lang="ts">
/** One row: its name, its cells with bars of changes, and its trend. */
import { computed } from "vue";
import type { Row } from "@/contract";
import { cellText, favour, lengthOf } from "@/model/numbers";
import type { ShownColumn } from "@/model/table";
import DifferenceBar from "@/parts/DifferenceBar.vue";
import TrendLine from "@/parts/TrendLine.vue";
import { exactly, labelOf, spoken, type Told } from "@/words/table";
import { STATUS } from "@/words/words";

const props = defineProps<{
  told: Told;
  row: Row;
  columns: ShownColumn[];
  before: number;
  after: number;
  decimals: number[];
  largest: Map<string, number>;
  /** Positions of the cells that the trend is drawn from; none: no trend. */
  trend: number[];
  /** The column with the focus, and the columns (by position among all) that are selected as a block. */
  selected: string | null;
  reached: string | null;
  block: [number, number] | null;
  total: boolean;
}>();
const emit = defineEmits<{
  toggle: [];
  down: [];
  select: [column: string, extend: boolean];
  over: [column: string];
  key: [event: KeyboardEvent, column: string];
}>();

const depth = computed(() => props.row.path.length + (typeof props.row.rest === "number" ? 1 : 0));

function look({ at, column }: ShownColumn): string[] {
  const cell = props.row.cells[at];
  const good = cell ? favour(cell, column) : 0;
  const tone = column.kind === "value" && column.window ? `tone-${Math.min(column.window, 4)}` : "";
  return ["number", good > 0 ? "favourable" : good < 0 ? "adverse" : tone];
}

function text({ at, column }: ShownColumn): string {
  const cell = props.row.cells[at];
  if (!cell) return "";
  const met = cell.met == null ? "" : cell.met ? " ✓" : " ✗";
  return cellText(cell, column, props.decimals[at] ?? 2, props.told.layout) + met;
}

function bar({ at, column }: ShownColumn): { value: number; largest: number; favour: number } {
  const cell = props.row.cells[at];
  const value = cell ? lengthOf(cell) : 0;
  const largest = props.row.path.length
    ? (props.largest.get(`${at}-${props.row.path.length}`) ?? 0)
    : Math.abs(value);
  return { value, largest, favour: cell ? favour(cell, column) : 0 };
}

function isIn({ at }: ShownColumn): boolean {
  return props.block !== null && at >= props.block[0] && at <= props.block[1];
}

function title({ at, column }: ShownColumn): string {
  const cell = props.row.cells[at];
  return cell ? exactly(cell, column, props.told.answer.currency) : "";
}
</script>

<template>
  <tr :class="total ? 'total' : [`depth-${depth}`, row.can_open ? 'parent' : 'leaf']">
    <th scope="row" :style="total ? {} : { paddingLeft: `${(depth - 1) * 18 + 8}px` }">
      <button
        v-if="row.can_open"
        type="button"
        class="opener"
        tabindex="-1"
        :aria-expanded="row.is_open"
        :aria-label="`${row.is_open ? 'Close' : 'Open'} ${row.label}`"
        @click="emit('toggle')"
      >
        {{ row.is_open ? "▾" : "▸" }}
      </button>
      <span :title="labelOf(row, told)" @dblclick="emit('down')">{{ labelOf(row, told) }}</span>
      <small v-if="row.status && row.status !== 'kept'" class="status">{{ STATUS[row.status] }}</small>
      <small v-if="row.goals" class="status">{{ row.goals.met }} of {{ row.goals.defined }}</small>
    </th>
    <td v-if="before" class="gap" />
    <template v-for="each in columns" :key="each.column.id">
      <td
        role="gridcell"
        :class="[look(each), { selected: selected === each.column.id, block: isIn(each) }]"
        :tabindex="reached === each.column.id ? 0 : -1"
        :title="title(each)"
        :aria-label="spoken(row, each.column, text(each), told)"
        :data-test="`cell-${each.column.id}`"
        @mousedown="emit('select', each.column.id, $event.shiftKey)"
        @mouseenter="$event.buttons === 1 && emit('over', each.column.id)"
        @keydown="emit('key', $event, each.column.id)"
      >
        {{ text(each) }}
      </td>
      <td v-if="each.bar" class="bar"><DifferenceBar v-if="!total" v-bind="bar(each)" /></td>
    </template>
    <td v-if="after" class="gap" />
    <td v-if="trend.length" class="trend">
      <TrendLine
        :values="trend.map((at) => (row.cells[at]?.value == null ? null : Number(row.cells[at]?.value)))"
      />
    </td>
  </tr>
</template>
