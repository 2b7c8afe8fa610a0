<script setup lang="ts">
/** The windows day by day, aligned by position, adding up to the figures above. */
import { computed, ref, watch } from "vue";
import type { DayFigure, Proof } from "@/contract";
import { dayText } from "@/model/days";
import { decimal, grouped, rounded, type Fraction } from "@/model/numbers";
import { useFigures } from "@/state/figures";

const props = defineProps<{ proof: Proof }>();
const figures = useFigures();
const found = ref<DayFigure[][]>([]);
const refused = ref("");
watch(
  () => props.proof,
  async (proof) => {
    refused.value = "";
    try {
      const days = await figures.days();
      if (proof === props.proof) found.value = days;
    } catch (error) {
      refused.value = error instanceof Error ? error.message : String(error);
    }
  },
  { immediate: true },
);
const sides = computed(() => found.value.slice(0, 2));
const length = computed(() => Math.max(0, ...sides.value.map((each) => each.length)));
const sums = computed(() => sides.value.map(sumOf));

function sumOf(days: DayFigure[]): string {
  const values = days.flatMap((each) => (each.value === null ? [] : [decimal(each.value)]));
  const sum = values.reduce<Fraction>(
    (one, other) => ({
      top: one.top * other.bottom + other.top * one.bottom,
      bottom: one.bottom === other.bottom ? one.bottom * one.bottom : one.bottom * other.bottom,
    }),
    { top: 0n, bottom: 1n },
  );
  return rounded(sum, 2);
}
</script>

<template>
  <p v-if="refused" role="alert">{{ refused }}</p>
  <div class="days" tabindex="0" role="region" aria-label="Days">
    <table data-test="days">
      <thead>
        <tr>
          <template v-for="(_, side) in sides" :key="side">
            <th scope="col">{{ side ? "Base day" : "Day" }}</th>
            <th scope="col" class="number">{{ side ? "Base" : "Current" }}</th>
          </template>
        </tr>
      </thead>
      <tbody>
        <tr v-for="at in length" :key="at" data-test="day">
          <template v-for="(days, side) in sides" :key="side">
            <td :class="{ quiet: !days[at - 1]?.counted }">
              {{ days[at - 1] ? dayText(days[at - 1]?.day ?? "") : "" }}
            </td>
            <td class="number" :class="{ quiet: !days[at - 1]?.counted }">
              {{
                !days[at - 1]
                  ? ""
                  : days[at - 1]?.counted
                    ? grouped(days[at - 1]?.value ?? "0")
                    : "not counted"
              }}
            </td>
          </template>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <template v-for="(sum, side) in sums" :key="side">
            <th scope="row">Sum</th>
            <td class="number" :data-test="`days-sum-${side}`">{{ sum }}</td>
          </template>
        </tr>
      </tfoot>
    </table>
  </div>
</template>

<style scoped>
.days {
  flex: 1;
  overflow: auto;
  min-height: 130px;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 11px;
}
th {
  text-align: left;
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
