<script setup lang="ts">
/** Headings: groups by measure over columns that sort, move, hide and take a width. */
import { computed } from "vue";
import type { Layout } from "@/contract";
import type { Slot } from "@/model/lines";
import { groupsOf, type MeasureGroup } from "@/model/table";
import {
  definition,
  groupHeading,
  heading,
  headingBase,
  metricHeading,
  rowHeading,
  rowTitle,
  type Told,
} from "@/words/table";

const props = defineProps<{
  told: Told;
  slots: Slot[];
  before: number;
  after: number;
  layout: Layout;
  /** What the trends are drawn from; empty where there are none. */
  trend: string;
}>();
const emit = defineEmits<{
  sort: [column: string];
  move: [column: string, by: number];
  hide: [column: string];
  widen: [column: string, width: number];
  down: [period: string];
}>();

const heads = computed(() => props.slots.map((each) => each.head));
const groups = computed(() => groupsOf(heads.value, props.layout));
const below = computed(() => props.layout.measures === "below");
const DRAGGED = "application/x-lofty-column";
/** Pixels that a key press makes a column wider. */
const STEP_OF_WIDTH = 12;

/** The period that a group of columns stands for, where it can be gone into. */
function periodOf({ columns }: MeasureGroup): string {
  const path = columns[0]?.column.across ?? [];
  const level = props.told.statement.across[path.length - 1];
  const key = path.at(-1) ?? "";
  return typeof level === "object" && key.length > 2 ? key : "";
}

function sorted({ columns }: Slot): "ascending" | "descending" | "none" {
  const { sort } = props.told.statement;
  if (!columns.some((each) => each.column.id === sort?.column)) return "none";
  return sort?.descending ? "descending" : "ascending";
}

function title({ columns }: Slot): string {
  const said = columns.map((each) => definition(each.column, props.told)).join("\n");
  return below.value
    ? `${said}\nSorts by ${columns[0] ? metricHeading(columns[0].column, props.told) : ""}.`
    : said;
}

function pressed(event: KeyboardEvent, id: string): void {
  if (event.altKey && /^Arrow(Left|Right)$/.test(event.key)) {
    event.preventDefault();
    if (event.shiftKey) {
      const cell = (event.target as HTMLElement).closest("th");
      const wide = cell?.getBoundingClientRect().width ?? 0;
      if (wide) emit("widen", id, wide + (event.key === "ArrowLeft" ? -STEP_OF_WIDTH : STEP_OF_WIDTH));
      return;
    }
    emit("move", id, event.key === "ArrowLeft" ? -1 : 1);
  } else if (event.key === "Delete") {
    event.preventDefault();
    emit("hide", id);
  }
}

function dropped(event: DragEvent, id: string): void {
  const from = event.dataTransfer?.getData(DRAGGED);
  const ids = heads.value.map((each) => each.column.id);
  if (from && from !== id) emit("move", from, ids.indexOf(id) - ids.indexOf(from));
}

/** The width follows the pointer until it is let go. */
function drag(event: PointerEvent, id: string): void {
  const cell = (event.target as HTMLElement).closest("th");
  if (!cell) return;
  event.preventDefault();
  const start = cell.getBoundingClientRect().width - event.clientX;
  const move = (at: PointerEvent): void => emit("widen", id, start + at.clientX);
  const end = (): void => {
    window.removeEventListener("pointermove", move);
    window.removeEventListener("pointerup", end);
  };
  window.addEventListener("pointermove", move);
  window.addEventListener("pointerup", end);
}
</script>

<template>
  <thead>
    <tr>
      <th
        scope="col"
        class="corner"
        rowspan="2"
        :title="rowTitle(told)"
        :style="
          layout.widths.rows ? { width: `${layout.widths.rows}px`, minWidth: `${layout.widths.rows}px` } : {}
        "
      >
        {{ rowHeading(told) }}
        <span class="edge" aria-hidden="true" @pointerdown="drag($event, 'rows')" />
      </th>
      <th v-if="below" scope="col" class="metric" rowspan="2">Measure</th>
      <td v-if="before" rowspan="2" class="gap" :style="{ minWidth: `${before}px` }" />
      <th
        v-for="group in groups"
        :key="`${group.across.join('|')} ${group.measure} ${group.along} ${group.columns[0]?.column.id}`"
        scope="colgroup"
        :colspan="group.columns.reduce((sum, each) => sum + (each.bar ? 2 : 1), 0)"
        class="group"
      >
        <button
          v-if="periodOf(group)"
          type="button"
          tabindex="-1"
          :title="`Down into ${groupHeading(group, told)}`"
          data-test="down-across"
          @click="emit('down', periodOf(group))"
        >
          {{ groupHeading(group, told) }}
        </button>
        <template v-else>{{ groupHeading(group, told) }}</template>
      </th>
      <td v-if="after" rowspan="2" class="gap" :style="{ minWidth: `${after}px` }" />
      <th v-if="trend" scope="col" rowspan="2" class="trend" :title="trend" data-test="trend-head">Trend</th>
    </tr>
    <tr>
      <template v-for="slot in slots" :key="slot.head.column.id">
        <th
          scope="col"
          class="number"
          :aria-sort="sorted(slot)"
          :title="title(slot)"
          :style="
            layout.widths[slot.head.column.id]
              ? {
                  width: `${layout.widths[slot.head.column.id]}px`,
                  minWidth: `${layout.widths[slot.head.column.id]}px`,
                }
              : {}
          "
        >
          <button
            type="button"
            draggable="true"
            :data-test="`sort-${slot.head.column.id}`"
            @click="emit('sort', slot.head.column.id)"
            @keydown="pressed($event, slot.head.column.id)"
            @dragstart="($event as DragEvent).dataTransfer?.setData(DRAGGED, slot.head.column.id)"
            @dragover.prevent
            @drop.prevent="dropped($event, slot.head.column.id)"
          >
            {{ heading(slot.head.column, told)
            }}<span v-if="sorted(slot) !== 'none'" aria-hidden="true">{{
              sorted(slot) === "descending" ? " ↓" : " ↑"
            }}</span>
            <small v-if="headingBase(slot.head.column, told)">{{
              headingBase(slot.head.column, told)
            }}</small>
          </button>
          <span class="edge" aria-hidden="true" @pointerdown="drag($event, slot.head.column.id)" />
        </th>
        <th v-if="slot.head.bar" class="bar">
          <span class="hidden">{{ heading(slot.head.column, told) }} as a bar</span>
        </th>
      </template>
    </tr>
  </thead>
</template>
