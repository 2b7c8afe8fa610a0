<script setup lang="ts">
/** The windows day by day, aligned by position, adding up to the figures above. */
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import { computed, h, ref, watch, type VNode } from "vue";
import type { Cell, DayFigure, OperandDays, Proof } from "@/contract";
import { dayCell, daysGroups, type DaysColumn } from "@/model/proofDays";
import { useSheet } from "@/state/sheet/sheet";
import { dayHeading, daysHeading, daysWords } from "@/words/proof";

const { dayText } = useDays();

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

/** Days that stand on one page: those of a year. */
const DAYS_SHOWN = 366;
const page = ref(1);
watch(length, () => (page.value = 1));
const rows = computed(() => {
  const start = (page.value - 1) * DAYS_SHOWN;
  return Array.from({ length: Math.min(DAYS_SHOWN, length.value - start) }, (_, at) => ({ at: start + at }));
});

function text(cell: Cell | undefined): string {
  return (cell && operandText(cell, props.proof.unit, 4)) ?? "–";
}

function dayFigure(column: DaysColumn, day: DayFigure | undefined, row: number): string {
  if (!day) return "";
  return day.counted ? text(dayCell(column, row)) : "not counted";
}

/** The sums below the columns, in the columns' order, of all days whatever page is shown. */
function sums(): VNode[] {
  return groups.value.flatMap((group, place) => [
    h("span", "Sum"),
    ...group.columns.map((column, at) =>
      h("span", { "data-test": `days-sum-${place}-${at}` }, text(column.sum)),
    ),
  ]);
}
</script>

<template>
  <p v-if="refused" role="alert">{{ refused }}</p>
  <p v-if="explained" class="explained">{{ explained }}</p>
  <ElTable
    :data="rows"
    row-key="at"
    size="small"
    height="100%"
    class="days compact"
    show-summary
    :summary-method="sums"
    aria-label="Days"
    data-test="days"
  >
    <template v-for="(group, place) in groups" :key="place">
      <ElTableColumn v-slot="{ row }" :label="dayHeading(group.columns[0]?.operand)" min-width="76">
        <span :class="{ quiet: !group.days[row.at]?.counted }">{{
          group.days[row.at] ? dayText(group.days[row.at]?.day ?? "") : ""
        }}</span>
      </ElTableColumn>
      <ElTableColumn
        v-for="(column, at) in group.columns"
        :key="at"
        v-slot="{ row }"
        :label="daysHeading(column, proof.column)"
        align="right"
        min-width="68"
      >
        <span :class="{ quiet: !group.days[row.at]?.counted }">{{
          dayFigure(column, group.days[row.at], row.at)
        }}</span>
      </ElTableColumn>
    </template>
  </ElTable>
  <ElPagination
    v-if="length > DAYS_SHOWN"
    v-model:current-page="page"
    size="small"
    layout="prev, pager, next"
    :page-size="DAYS_SHOWN"
    :total="length"
    data-test="days-pages"
  />
</template>

<style scoped>
.explained {
  margin: 0;
  font-size: 0.6875rem;
  color: var(--quiet);
}
.days {
  flex: 1;
  min-height: 220px;
}
</style>
