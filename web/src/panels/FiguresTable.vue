<script setup lang="ts">
/** The working table: rows that open, columns that sort, changes as bars; only what is visible is drawn. */
import { computed, nextTick, onBeforeUnmount, onMounted, ref } from "vue";
import type { Answer, MemberKey, Row, Statement } from "@/contract";
import { rangeText } from "@/model/days";
import { cellText, favour, grouped, lengthOf, tableDecimals } from "@/model/numbers";
import { samePath } from "@/model/statement";
import { drawn, groups, largestChanges, type ShownColumn } from "@/model/table";
import DifferenceBar from "@/parts/DifferenceBar.vue";
import {
  capital,
  DEFINITIONS,
  dimensionName,
  FAIRNESS,
  HEADINGS,
  many,
  measureName,
  REASONS,
  STATUS,
  windowHeading,
} from "@/words/words";

const props = defineProps<{
  answer: Answer;
  statement: Statement;
  selected: { path: MemberKey[]; column: string } | null;
  said: Record<string, string>;
}>();
const emit = defineEmits<{
  sort: [column: string];
  toggle: [row: Row];
  select: [path: MemberKey[], column: string];
}>();

const ROW = 28;
const box = ref<HTMLElement | null>(null);
const scrolled = ref(0);
const tall = ref(600);
const watcher = new ResizeObserver(() => (tall.value = box.value?.clientHeight ?? 600));
onMounted(() => box.value && watcher.observe(box.value));
onBeforeUnmount(() => watcher.disconnect());

const byMeasure = computed(() => groups(props.answer));
const columns = computed(() => byMeasure.value.flatMap((group) => group.columns));
const largest = computed(() => largestChanges(props.answer.rows, columns.value));
const part = computed(() => drawn(props.answer.rows.length, scrolled.value, tall.value, ROW));
const shown = computed(() => props.answer.rows.slice(part.value.first, part.value.last));
const decimals = computed(() =>
  // Values and changes of a measure show the same decimals: those that its current total asks for.
  columns.value.map(({ column }) => {
    const current = columns.value.find((each) => each.column.measure === column.measure);
    const cell = props.answer.total.cells[current?.at ?? 0];
    return cell ? tableDecimals(column, cell) : column.decimals;
  }),
);
const rowHeading = computed(() => capital(props.statement.rows.map(dimensionName).join(" › ")) || "All");

function heading({ column }: ShownColumn): string {
  if (column.kind === "value")
    return windowHeading(props.answer, column.window, props.statement.window.grain);
  const unfair = compares(column.kind) && props.answer.windows[column.window]?.fairness === "unequal";
  return (HEADINGS[column.kind] ?? column.kind) + (unfair ? " !" : "");
}

function compares(kind: string): boolean {
  return kind !== "value" && !kind.startsWith("share");
}

function headingTitle({ column }: ShownColumn): string {
  const window = props.answer.windows[column.window];
  const days = window?.asked ? rangeText(window.asked.first, window.asked.last) : "no such period";
  const about = `${capital(measureName(column.measure))}: ${DEFINITIONS[column.measure] ?? ""}${props.said[column.measure] ? ` ${props.said[column.measure]}.` : ""}`;
  if (column.kind === "value") return `${about} ${days}`;
  if (column.kind.startsWith("share"))
    return `${about} Share of ${column.kind === "share_of_all" ? "all rows" : "the row above"}, ${days}${column.parts_overlap ? "; parts overlap" : ""}`;
  const fair = window?.fairness ? ` (${FAIRNESS[window.fairness]})` : "";
  return `${about} ${HEADINGS[column.kind]} against ${days}${fair}`;
}

function sorted(id: string): "ascending" | "descending" | "none" {
  const sort = props.statement.sort;
  return sort?.column !== id ? "none" : sort.descending ? "descending" : "ascending";
}

function text(row: Row, shownColumn: ShownColumn, index: number): string {
  const cell = row.cells[shownColumn.at];
  return cell ? cellText(cell, shownColumn.column, decimals.value[index] ?? 2) : "";
}

function title(row: Row, { at, column }: ShownColumn): string {
  const cell = row.cells[at];
  if (!cell) return "";
  if (cell.value === null) return REASONS[cell.reason ?? ""] ?? "";
  return cell.numerator
    ? `${cell.value} = ${grouped(cell.numerator)} ÷ ${grouped(cell.denominator ?? "1")}`
    : `${grouped(cell.value)} ${column.unit === "currency" ? props.answer.currency : ""}`;
}

function favourOf(row: Row, { at, column }: ShownColumn): number {
  const cell = row.cells[at];
  return cell ? favour(cell, column) : 0;
}

function look(row: Row, shownColumn: ShownColumn): string[] {
  const good = favourOf(row, shownColumn);
  const { column } = shownColumn;
  const tone = column.kind === "value" && column.window ? `tone-${Math.min(column.window, 4)}` : "";
  return ["number", good > 0 ? "favourable" : good < 0 ? "adverse" : tone];
}

function bar(row: Row, { at, column }: ShownColumn): { value: number; largest: number; favour: number } {
  const cell = row.cells[at];
  return {
    value: cell ? lengthOf(cell) : 0,
    largest: row.path.length
      ? (largest.value.get(`${at}-${row.path.length}`) ?? 0)
      : Math.abs(cell ? lengthOf(cell) : 0),
    favour: cell ? favour(cell, column) : 0,
  };
}

function isSelected(row: Row, column: string): boolean {
  return !!props.selected && props.selected.column === column && samePath(props.selected.path, row.path);
}

/** Tab reaches the selected cell, or the total's first where none is. */
function reach(row: Row, column: string): number {
  if (props.selected) return isSelected(row, column) ? 0 : -1;
  return row.path.length === 0 && column === columns.value[0]?.column.id ? 0 : -1;
}

async function move(event: KeyboardEvent, row: Row, column: string): Promise<void> {
  const rows = [...props.answer.rows, props.answer.total];
  const at = rows.findIndex((each) => samePath(each.path, row.path));
  const across = columns.value.findIndex((each) => each.column.id === column);
  const steps: Record<string, [number, number]> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
  };
  const step = steps[event.key];
  if (event.key === "Enter" || event.key === " ") {
    event.preventDefault();
    if (row.can_open) emit("toggle", row);
    return;
  }
  if (!step) return;
  event.preventDefault();
  const next = rows[Math.min(Math.max(at + step[0], 0), rows.length - 1)];
  const over = columns.value[Math.min(Math.max(across + step[1], 0), columns.value.length - 1)];
  if (!next || !over) return;
  emit("select", next.path, over.column.id);
  const index = props.answer.rows.indexOf(next);
  if (box.value && index >= 0) {
    const top = index * ROW;
    if (top < box.value.scrollTop) box.value.scrollTop = top;
    else if (top + ROW * 4 > box.value.scrollTop + tall.value)
      box.value.scrollTop = top + ROW * 4 - tall.value;
  }
  await nextTick();
  box.value?.querySelector<HTMLElement>("td.selected")?.focus();
}

function onScroll(): void {
  scrolled.value = box.value?.scrollTop ?? 0;
}
</script>

<template>
  <div ref="box" class="table" data-test="table" @scroll="onScroll">
    <table>
      <thead>
        <tr>
          <th scope="col" class="corner" rowspan="2">{{ rowHeading }}</th>
          <th
            v-for="group in byMeasure"
            :key="group.measure"
            scope="colgroup"
            :colspan="group.columns.reduce((sum, each) => sum + (each.bar ? 2 : 1), 0)"
            class="group"
          >
            {{ capital(measureName(group.measure))
            }}<template v-if="group.columns[0]?.column.unit.startsWith('currency')"
              >, {{ answer.currency }}</template
            >
          </th>
        </tr>
        <tr>
          <template v-for="each in columns" :key="each.column.id">
            <th scope="col" class="number" :aria-sort="sorted(each.column.id)" :title="headingTitle(each)">
              <button
                type="button"
                :data-test="`sort-${each.column.id}`"
                @click="emit('sort', each.column.id)"
              >
                {{ heading(each)
                }}<span v-if="sorted(each.column.id) !== 'none'" aria-hidden="true">{{
                  sorted(each.column.id) === "descending" ? " ↓" : " ↑"
                }}</span>
              </button>
            </th>
            <th v-if="each.bar" class="bar">
              <span class="hidden">{{ heading(each) }} as a bar</span>
            </th>
          </template>
        </tr>
      </thead>
      <tbody>
        <tr v-if="part.first" class="space" :style="{ height: `${part.first * ROW}px` }" aria-hidden="true">
          <td :colspan="99" />
        </tr>
        <tr
          v-for="row in shown"
          :key="JSON.stringify(row.path)"
          :class="[`depth-${row.path.length}`, row.can_open ? 'parent' : 'leaf']"
          :data-test="`row-${row.path.join('/')}`"
        >
          <th scope="row" :style="{ paddingLeft: `${(row.path.length - 1) * 18 + 8}px` }">
            <button
              v-if="row.can_open"
              type="button"
              class="opener"
              :aria-expanded="row.is_open"
              :aria-label="`${row.is_open ? 'Close' : 'Open'} ${row.label}`"
              @click="emit('toggle', row)"
            >
              {{ row.is_open ? "▾" : "▸" }}
            </button>
            <span :title="row.label">{{ row.label }}</span>
            <small v-if="row.status && row.status !== 'kept'" class="status">{{ STATUS[row.status] }}</small>
          </th>
          <template v-for="(each, index) in columns" :key="each.column.id">
            <td
              :class="[look(row, each), { selected: isSelected(row, each.column.id) }]"
              :tabindex="reach(row, each.column.id)"
              :title="title(row, each)"
              :aria-label="row.cells[each.at]?.value === null ? title(row, each) : undefined"
              :data-test="`cell-${each.column.id}`"
              @click="emit('select', row.path, each.column.id)"
              @keydown="move($event, row, each.column.id)"
            >
              {{ text(row, each, index) }}
            </td>
            <td v-if="each.bar" class="bar"><DifferenceBar v-bind="bar(row, each)" /></td>
          </template>
        </tr>
        <tr
          v-if="part.last < answer.rows.length"
          class="space"
          :style="{ height: `${(answer.rows.length - part.last) * ROW}px` }"
          aria-hidden="true"
        >
          <td :colspan="99" />
        </tr>
      </tbody>
      <tfoot>
        <tr data-test="row-total">
          <th scope="row">
            {{ statement.rows.length ? `All ${many(statement.rows[0] ?? "")}` : "All lines" }}
          </th>
          <template v-for="(each, index) in columns" :key="each.column.id">
            <td
              :class="[look(answer.total, each), { selected: isSelected(answer.total, each.column.id) }]"
              :tabindex="reach(answer.total, each.column.id)"
              :title="title(answer.total, each)"
              :data-test="`cell-${each.column.id}`"
              @click="emit('select', [], each.column.id)"
              @keydown="move($event, answer.total, each.column.id)"
            >
              {{ text(answer.total, each, index) }}
            </td>
            <td v-if="each.bar" class="bar" />
          </template>
        </tr>
      </tfoot>
    </table>
    <p v-if="!answer.rows.length" class="nothing">
      No posted line falls into these windows. Move the as-of date, or remove a filter.
    </p>
  </div>
</template>

<style scoped>
.table {
  overflow: auto;
  flex: 1;
  min-height: 0;
  background: var(--sheet);
}
table {
  border-collapse: separate;
  border-spacing: 0;
  width: 100%;
}
th,
td {
  padding: 0 7px;
  height: 28px;
  white-space: nowrap;
  border-bottom: 1px solid var(--soft);
}
thead th {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--sheet);
  font-weight: 700;
}
thead tr:nth-child(2) th {
  top: 28px;
  border-bottom: 1px solid var(--line);
}
.group {
  text-align: center;
  border-left: 1px solid var(--line);
}
thead button {
  border: 0;
  background: none;
  font-weight: 700;
  padding: 0;
  cursor: pointer;
  color: var(--quiet);
}
thead button:hover {
  color: var(--ink);
  text-decoration: underline;
}
.corner,
tbody th,
tfoot th {
  position: sticky;
  left: 0;
  z-index: 1;
  text-align: left;
  background: var(--sheet);
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
}
thead .corner {
  z-index: 3;
  vertical-align: bottom;
  padding-bottom: 5px;
  color: var(--quiet);
  border-bottom: 1px solid var(--line);
}
tbody th {
  font-weight: 400;
}
.parent th,
.parent td {
  font-weight: 700;
  background: var(--soft);
}
.parent.depth-2 th,
.parent.depth-2 td {
  font-weight: 400;
  background: #f8f5ec;
}
.opener {
  border: 0;
  background: none;
  cursor: pointer;
  width: 18px;
  padding: 0;
}
.leaf th span {
  margin-left: 18px;
}
tfoot th,
tfoot td {
  position: sticky;
  bottom: 0;
  background: var(--sheet);
  font-weight: 700;
  border-top: 2px solid var(--wood);
  border-bottom: 0;
}
.bar {
  padding: 0 4px;
  width: 72px;
}
.status {
  color: var(--quiet);
  font-weight: 400;
  margin-left: 6px;
}
.tone-1 {
  color: var(--window-text-1);
}
.tone-2 {
  color: var(--window-text-2);
}
.tone-3 {
  color: var(--window-text-3);
}
.tone-4 {
  color: var(--window-text-4);
}
td.selected {
  box-shadow: inset 0 0 0 2px var(--window-0);
  background: #e1eceb;
}
td[tabindex] {
  cursor: cell;
}
.space td {
  border: 0;
}
.nothing {
  padding: 24px;
  text-align: center;
  color: var(--quiet);
}
</style>
