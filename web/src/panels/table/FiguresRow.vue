<script setup lang="ts">
/** One line: its name, its cells with bars of changes, and its trend. */
import { useDays } from "@/composables/dates";
import { STATUS } from "@/contract/vocabulary";
import { computed } from "vue";
import type { Line } from "@/model/lines";
import { favour, lengthOf } from "@/model/numbers";
import type { ShownColumn } from "@/model/table";
import DifferenceBar from "@/parts/DifferenceBar.vue";
import TrendLine from "@/parts/TrendLine.vue";
import { definition, exactly, labelOf, metricHeading, signBefore, spoken, type Told } from "@/words/table";
import { markOf } from "@/words/marks";

const { rangeText } = useDays();

const props = defineProps<{
  told: Told;
  line: Line;
  /** What is drawn of the line, and the position of the first of it. */
  columns: (ShownColumn | null)[];
  first: number;
  bars: boolean[];
  before: number;
  after: number;
  decimals: number[];
  largest: Map<string, number>;
  /** The figures of its trend; null: no trend in this table. */
  trend: (number | null)[] | null;
  /** The column with the focus, and the positions that are selected as a block. */
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
  /** A cell has the focus, or none: why it has no figure, where it has none. */
  focus: [reason: string | null];
}>();

const row = computed(() => props.line.row);
const cells = new Map<string, HTMLElement>();
function keep(column: string, cell: unknown): void {
  if (cell) cells.set(column, cell as HTMLElement);
  else cells.delete(column);
}
defineExpose({ cellOf: (column: string) => cells.get(column) ?? null });
/** Whether the row is a period, into which a click on its name leads. */
const timed = computed(() => {
  const level = props.told.statement.rows[row.value.path.length - 1];
  return (
    typeof level === "object" &&
    typeof row.value.rest !== "number" &&
    (row.value.path.at(-1)?.length ?? 0) > 2
  );
});
const depth = computed(() => row.value.path.length + (typeof row.value.rest === "number" ? 1 : 0));

/** In a series each row has its period; the total has the whole range, which is told beside it. */
const range = computed(() => {
  const { answer } = props.told;
  const asked = answer.windows[0]?.asked;
  return props.total && !row.value.path.length && answer.periods.length && asked
    ? rangeText(asked.first, asked.last)
    : "";
});

function look({ at, column }: ShownColumn): string[] {
  const cell = row.value.cells[at];
  const good = cell ? favour(cell, column) : 0;
  const tone = column.kind === "value" && column.window ? `tone-${Math.min(column.window, 4)}` : "";
  return ["number", good > 0 ? "favourable" : good < 0 ? "adverse" : tone];
}

function text({ at, column }: ShownColumn): string {
  const cell = row.value.cells[at];
  if (!cell) return "";
  const met = cell.met == null ? "" : cell.met ? " ✓" : " ✗";
  return props.told.numbers.cell(cell, column, props.decimals[at] ?? 2, props.told.layout) + met;
}

function bar({ at, column }: ShownColumn): { value: number; largest: number; favour: number } {
  const cell = row.value.cells[at];
  const value = cell ? lengthOf(cell) : 0;
  const largest = row.value.path.length
    ? (props.largest.get(`${at}-${row.value.path.length}`) ?? 0)
    : Math.abs(value);
  return { value, largest, favour: cell ? favour(cell, column) : 0 };
}

function isIn(place: number): boolean {
  const at = props.first + place;
  return props.block !== null && at >= props.block[0] && at <= props.block[1];
}

function title({ at, column }: ShownColumn): string {
  return row.value.cells[at] ? exactly(row.value, column, props.told) : "";
}

function mark({ column }: ShownColumn): string {
  return markOf(props.told.answer, row.value, column, props.told.numbers);
}
</script>

<template>
  <tr
    :class="[
      total ? 'total' : [`depth-${depth}`, row.can_open ? 'parent' : 'leaf'],
      line.place ? 'more' : '',
    ]"
  >
    <th scope="row" :style="total ? {} : { paddingLeft: `${(depth - 1) * 18 + 8}px` }">
      <button
        v-if="row.can_open && !line.place"
        type="button"
        class="opener"
        tabindex="-1"
        :aria-expanded="row.is_open"
        :aria-label="`${row.is_open ? 'Close' : 'Open'} ${row.label}`"
        @click="emit('toggle')"
      >
        {{ row.is_open ? "▾" : "▸" }}
      </button>
      <button
        v-if="timed && !line.place"
        type="button"
        class="name"
        tabindex="-1"
        :title="`Down into ${labelOf(row, told)}`"
        data-test="down-name"
        @click="emit('down')"
      >
        {{ labelOf(row, told) }}
      </button>
      <span v-else :class="{ hidden: line.place }" :title="labelOf(row, told)">{{ labelOf(row, told) }}</span>
      <template v-if="!line.place">
        <small v-if="row.status && row.status !== 'kept'" class="status">{{ STATUS[row.status] }}</small>
        <small v-if="range" class="status" data-test="total-range">{{ range }}</small>
        <small v-if="row.goals" class="status">{{ row.goals.met }} of {{ row.goals.defined }}</small>
      </template>
    </th>
    <th
      v-if="line.metric"
      scope="row"
      class="metric"
      :title="definition(line.metric.column, told)"
      :data-test="`metric-${line.metric.column.id}`"
    >
      {{ metricHeading(line.metric.column, told) }}
    </th>
    <td v-if="before" class="gap" />
    <template v-for="(each, place) in columns" :key="first + place">
      <td
        v-if="each"
        :ref="(cell) => keep(each.column.id, cell)"
        role="gridcell"
        :class="[look(each), { selected: selected === each.column.id, block: isIn(place) }]"
        :tabindex="reached === each.column.id ? 0 : -1"
        :title="title(each)"
        :aria-label="spoken(row, each.column, text(each), told)"
        :data-test="`cell-${each.column.id}`"
        @mousedown="emit('select', each.column.id, $event.shiftKey)"
        @mouseenter="$event.buttons === 1 && emit('over', each.column.id)"
        @focus="emit('focus', row.cells[each.at]?.reason ?? null)"
        @blur="emit('focus', null)"
        @keydown="emit('key', $event, each.column.id)"
      >
        <span v-if="signBefore(row.cells[each.at], each.column, told)" class="sign">{{
          told.layout.sign
        }}</span><span v-if="mark(each)" class="mark" aria-hidden="true" data-test="mark">!</span
        >{{ text(each)
        }}<small v-if="row.cells[each.at]?.of" class="of"> of {{ row.cells[each.at]?.of }}</small>
      </td>
      <td v-else class="number" :class="{ block: isIn(place) }" />
      <td v-if="bars[place]" class="bar"><DifferenceBar v-if="!total && each" v-bind="bar(each)" /></td>
    </template>
    <td v-if="after" class="gap" />
    <td v-if="trend" class="trend">
      <TrendLine v-if="trend.length" :values="trend" />
    </td>
  </tr>
</template>
