<script setup lang="ts">
/** The whole table on paper: every row, with the headings on every sheet. */
import { useNumbers } from "@/composables/numbers";
import { computed } from "vue";
import { tableDecimals } from "@/model/numbers";
import { linesOf, slotsOf, withTotal, type Line } from "@/model/lines";
import { groupsOf, shownColumns, type ShownColumn } from "@/model/table";
import {
  groupHeading,
  heading,
  headingBase,
  labelOf,
  metricHeading,
  rowHeading,
  signBefore,
  type Told,
} from "@/words/table";

const props = defineProps<{ told: Told }>();
const { cell: cellText } = useNumbers();
const slots = computed(() => slotsOf(shownColumns(props.told.answer), props.told.layout));
const heads = computed(() => slots.value.map((each) => each.head));
const lines = computed(() => {
  const { answer: seen, layout } = props.told;
  return linesOf(withTotal(seen.rows, seen.total, layout), slots.value, layout);
});

function figure(line: Line, each: ShownColumn | null): string {
  const cell = each && line.row.cells[each.at];
  if (!cell) return "";
  const { answer: seen, layout } = props.told;
  const total = seen.total.cells[each.at] ?? cell;
  const decimals = layout.decimals[each.column.measure] ?? tableDecimals(each.column, total);
  const sign = signBefore(cell, each.column, props.told);
  return (
    sign + cellText(cell, each.column, decimals, layout) + (cell.met == null ? "" : cell.met ? " ✓" : " ✗")
  );
}
</script>

<template>
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
</template>

<style scoped>
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 0.75rem;
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
</style>
