<script setup lang="ts">
/** The totals of the first measures large, each with its changes and what they are against, in order of weight. */
import { REASONS } from "@/contract/vocabulary";
import { useNumbers } from "@/composables/numbers";
import { computed } from "vue";
import type { AnsweredColumn, Layout } from "@/contract";
import type { PeriodChange } from "@/model/chart";
import { headlinesOf } from "@/model/headline";
import { favourOf, tableDecimals, type Fraction } from "@/model/numbers";
import { metricHeading, type Told } from "@/words/table";

const numbers = useNumbers();
const props = defineProps<{ told: Told; layout: Layout }>();
const found = computed(() => headlinesOf(props.told.answer));

const times100 = (value: Fraction): Fraction => ({ ...value, top: value.top * 100n });

function decimals(column: AnsweredColumn): number {
  const cell = props.told.answer.total.cells[props.told.answer.columns.indexOf(column)];
  return props.layout.decimals[column.measure] ?? (cell ? tableDecimals(column, cell) : column.decimals);
}

function difference({ column, difference: by }: PeriodChange): string {
  if (column.unit === "percent") return `${numbers.rounded(times100(by), column.decimals, true)} pt`;
  return numbers.rounded(by, decimals(column), true);
}

function against({ column }: PeriodChange): string {
  const name = props.told.answer.told.names[column.window] ?? "";
  return `against ${name}`;
}
</script>

<template>
  <section class="headline" aria-label="Totals" data-test="headline">
    <div v-for="each in found" :key="each.column.id" :data-test="`headline-${each.column.id}`">
      <p class="name">{{ metricHeading(each.column, told) }}</p>
      <p class="figure">
        {{
          each.cell.value === null
            ? (REASONS[each.cell.reason ?? ""] ?? "–")
            : numbers.cell(each.cell, each.column, decimals(each.column), layout)
        }}
      </p>
      <p v-for="change in each.changes" :key="change.column.id" class="change">
        <strong :class="favourOf(change.difference, change.column.polarity)">{{ difference(change) }}</strong>
        <span v-if="change.percent" :class="favourOf(change.difference, change.column.polarity)"
          >{{ numbers.rounded(times100(change.percent), 1, true) }}%</span
        >
        <span class="quiet">{{ against(change) }}</span>
        <span
          v-if="told.answer.told.unequal[change.column.window]"
          :title="told.answer.told.unequal[change.column.window]"
          >!</span
        >
      </p>
    </div>
  </section>
</template>

<style scoped>
.headline {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 44px;
  padding: 8px 14px;
  background: var(--sheet);
  border: 1px solid var(--line);
}
p {
  margin: 0;
}
.name {
  color: var(--quiet);
}
.figure {
  font-size: 2.125rem;
  line-height: 1.15;
  font-variant-numeric: lining-nums tabular-nums;
}
.change {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: baseline;
  font-size: var(--size-note);
}
.change strong {
  font-size: var(--size-heading);
}
</style>
