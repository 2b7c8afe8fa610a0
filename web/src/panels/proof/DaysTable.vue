<script setup lang="ts">
/** The windows day by day, aligned by position, adding up to the figures above. */
import { useNumbers } from "@/composables/numbers";
import { computed, ref, watch } from "vue";
import type { Cell, DayFigure, OperandDays, Proof } from "@/contract";
import { dayText } from "@/model/days";
import { dayCell, daysGroups, type DaysColumn } from "@/model/proofDays";
import { useSheet } from "@/state/sheet/sheet";
import { dayHeading, daysHeading, daysWords } from "@/words/proof";

const { operand: operandText } = useNumbers();

const props = defineProps<{ proof: Proof }>();
const sheet = useSheet();
const found = ref<OperandDays[]>([]);
const refused = ref("");
watch(
  () => props.proof,
  async (proof) => {
    refused.value = "";
    try {
      const days = await sheet.days();
      if (proof === props.proof) found.value = days;
    } catch (error) {
      refused.value = error instanceof Error ? error.message : String(error);
    }
  },
  { immediate: true },
);
const derived = computed(() => props.proof.column.measure_kind === "derived");
const groups = computed(() => daysGroups(props.proof.operands, found.value, derived.value));
const length = computed(() => Math.max(0, ...groups.value.map((each) => each.days.length)));
const explained = computed(() => daysWords(props.proof.column, props.proof.operands[0]));

function text(cell: Cell | undefined): string {
  return (cell && operandText(cell, props.proof.unit, 4)) ?? "–";
}

function dayFigure(column: DaysColumn, day: DayFigure | undefined, row: number): string {
  if (!day) return "";
  return day.counted ? text(dayCell(column, row)) : "not counted";
}
</script>

<template>
  <p v-if="refused" role="alert">{{ refused }}</p>
  <p v-if="explained" class="explained">{{ explained }}</p>
  <div class="days" tabindex="0" role="region" aria-label="Days">
    <table data-test="days">
      <thead>
        <tr>
          <template v-for="(group, side) in groups" :key="side">
            <th scope="col">{{ dayHeading(group.columns[0]?.operand) }}</th>
            <th v-for="(column, at) in group.columns" :key="at" scope="col" class="number">
              {{ daysHeading(column, proof.column) }}
            </th>
          </template>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in length" :key="row" data-test="day">
          <template v-for="(group, side) in groups" :key="side">
            <td :class="{ quiet: !group.days[row - 1]?.counted }">
              {{ group.days[row - 1] ? dayText(group.days[row - 1]?.day ?? "") : "" }}
            </td>
            <td
              v-for="(column, at) in group.columns"
              :key="at"
              class="number"
              :class="{ quiet: !group.days[row - 1]?.counted }"
            >
              {{ dayFigure(column, group.days[row - 1], row - 1) }}
            </td>
          </template>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <template v-for="(group, side) in groups" :key="side">
            <th scope="row">Sum</th>
            <td
              v-for="(column, at) in group.columns"
              :key="at"
              class="number"
              :data-test="`days-sum-${side}-${at}`"
            >
              {{ text(column.sum) }}
            </td>
          </template>
        </tr>
      </tfoot>
    </table>
  </div>
</template>

<style scoped>
.explained {
  margin: 0;
  font-size: 11px;
  color: var(--quiet);
}
.days {
  flex: 1;
  overflow: auto;
  min-height: 180px;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 11px;
}
th {
  text-align: left;
  vertical-align: bottom;
  position: sticky;
  top: 0;
  background: var(--sheet);
}
th.number {
  text-align: right;
}
td {
  padding: 2px 6px 0 0;
  border-top: 1px solid var(--soft);
  white-space: nowrap;
}
tfoot th,
tfoot td {
  position: sticky;
  bottom: 0;
  background: var(--sheet);
  font-weight: 700;
  border-top: 2px solid var(--wood);
}
</style>
