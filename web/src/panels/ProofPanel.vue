<script setup lang="ts">
/** The evidence for the selected number: formula with its figures, both windows, the lines with file and row. */
import { computed, ref } from "vue";
import type { LineChange, LinesPage, Operand, Proof } from "@/contract";
import { dayText, rangeText } from "@/model/days";
import { cellText, decimal, fractionOf, grouped, rounded } from "@/model/numbers";
import LineCorrection from "@/panels/LineCorrection.vue";
import StretchChart from "@/parts/StretchChart.vue";
import { capital, count, HEADINGS, measureName, REASONS, TERMS } from "@/words/words";

const props = defineProps<{
  proof: Proof;
  lines: LinesPage | null;
  operand: number;
  currency: string;
  correct: (line: number, change: LineChange | null, reason: string) => Promise<string>;
}>();
const correcting = ref<number | null>(null);
const emit = defineEmits<{ lines: [operand: number, offset: number]; close: [] }>();

const kind = computed(() => props.proof.column.kind);
const name = computed(() => (props.proof.labels.length ? props.proof.labels.join(" › ") : "All rows"));
const heading = computed(() =>
  kind.value === "value" ? "value" : (HEADINGS[kind.value] ?? kind.value).toLowerCase(),
);
const result = computed(() => {
  const { result: cell, column } = props.proof;
  return cell.value === null
    ? (REASONS[cell.reason ?? ""] ?? "")
    : cellText(cell, column, fullDecimals(cell.value));
});
const SIGNS: Record<string, string> = {
  difference: "−",
  percent_change: "−",
  attainment: "÷",
  share_of_all: "÷",
  share_of_parent: "÷",
};
const unequal = computed(() => kind.value === "percent_change" && props.proof.operands[1]);

function fullDecimals(value: string): number {
  return props.proof.column.unit === "percent" ? 1 : Math.min(value.split(".")[1]?.length ?? 0, 4);
}

function exact(operand: Operand): string {
  const value = fractionOf(operand.cell);
  if (value === null) return REASONS[operand.cell.reason ?? ""] ?? "–";
  if (operand.cell.numerator) return rounded(value, 6);
  return grouped(operand.cell.value ?? "0");
}

function days(operand: Operand): string {
  return operand.days.map((each) => rangeText(each.first, each.last)).join(", ") || "no days";
}

function who(operand: Operand): string {
  if (operand.about === "scope") return operand.path.length ? "Parent" : "All";
  return operand.window ? "Base" : "Current";
}

const pages = computed(() => {
  const page = props.lines;
  return page ? { from: page.offset + 1, to: page.offset + page.lines.length, total: page.total } : null;
});
</script>

<template>
  <aside class="proof" aria-label="Proof" data-test="proof">
    <header>
      <h2>{{ name }} · {{ heading }}</h2>
      <button type="button" class="plain" aria-label="Close the proof" @click="emit('close')">✕</button>
    </header>
    <p class="quiet">
      {{ capital(measureName(proof.column.measure))
      }}<template v-if="proof.column.unit === 'currency'">, {{ currency }}</template>
    </p>
    <div class="formula" data-test="formula">
      <div v-for="(each, at) in proof.operands" :key="at">
        <p>
          <span :style="{ color: `var(--window-text-${Math.min(each.window, 4)})` }">
            <template v-if="at">{{ SIGNS[kind] }}&nbsp;</template>{{ who(each) }}: {{ days(each) }}
          </span>
          <strong class="number" :data-test="`operand-${at}`">{{ exact(each) }}</strong>
        </p>
        <p class="small">
          <span
            >{{ count(each.counted_days, "day") }} · {{ count(each.lines, "line")
            }}<template v-if="each.lines_left_out"> · {{ each.lines_left_out }} lack a value</template></span
          >
        </p>
        <p v-for="term in each.terms.length > 1 ? each.terms : []" :key="term.name" class="small">
          <span>{{ term.divides ? "÷" : term.sign < 0 ? "−" : "+" }} {{ TERMS[term.name] ?? term.name }}</span
          ><span class="number">{{ grouped(term.value) }}</span>
        </p>
      </div>
      <p v-if="unequal && unequal.cell.value !== null" class="small">
        <span>÷ base</span><span class="number">{{ rounded(decimal(unequal.cell.value), 2) }}</span>
      </p>
      <p class="result">
        <strong>{{ capital(heading) }}</strong><strong class="number" data-test="result">{{ result }}</strong>
      </p>
    </div>
    <p v-if="proof.month_end_rule_matters" class="quiet">
      The last day of a month goes to the last day of the other month: this moved the base's last day.
    </p>
    <StretchChart v-if="proof.operands.some((each) => each.stretches.length)" :operands="proof.operands" />
    <div v-if="proof.operands.length > 1" class="tabs" role="group" aria-label="Whose lines">
      <button
        v-for="(each, at) in proof.operands"
        :key="at"
        type="button"
        :aria-pressed="operand === at"
        :class="{ on: operand === at }"
        @click="emit('lines', at, 0)"
      >
        {{ who(each) }}: {{ count(each.lines, "line") }}
      </button>
    </div>
    <div v-if="lines" class="lines">
      <table>
        <thead>
          <tr>
            <th>Day</th>
            <th>Order</th>
            <th>Product</th>
            <th class="number">Amount</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="line in lines.lines" :key="line.id">
            <tr class="first" data-test="line">
              <td>{{ dayText(line.day) }}</td>
              <td>{{ line.members.order ?? line.line_ref ?? "" }}</td>
              <td :title="line.members.product">{{ line.members.product ?? "" }}</td>
              <td class="number" :class="{ adverse: line.amount.startsWith('-') }">
                {{ grouped(line.amount) }}
              </td>
            </tr>
            <tr class="source" data-test="line-source">
              <td colspan="4" :title="line.members.customer">
                <div class="from">
                  <span
                    >{{ line.file }}, row {{ line.row
                    }}<template v-if="line.side === 'return'"> · return</template
                    ><template v-if="line.quantity">
                      · {{ grouped(line.quantity) }}
                      {{ /^-?1(\.0+)?$/.test(line.quantity) ? "unit" : "units" }}</template
                    ><template v-if="line.members.customer"> · {{ line.members.customer }}</template></span
                  ><button
                    type="button"
                    class="plain"
                    :aria-expanded="correcting === line.id"
                    :aria-label="`Correct ${line.file}, row ${line.row}`"
                    data-test="line-correct"
                    @click="correcting = correcting === line.id ? null : line.id"
                  >
                    correct
                  </button>
                </div>
              </td>
            </tr>
            <tr v-if="correcting === line.id">
              <td colspan="4">
                <LineCorrection :line="line" :correct="correct" @close="correcting = null" />
              </td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
    <p v-if="pages" class="pages">
      <span data-test="line-count">{{
        pages.total
          ? `${pages.from.toLocaleString("en")}–${pages.to.toLocaleString("en")} of ${count(pages.total, "line")}`
          : "no lines"
      }}</span>
      <button
        type="button"
        class="plain"
        :disabled="pages.from <= 1"
        @click="emit('lines', operand, Math.max(pages.from - 51, 0))"
      >
        earlier page
      </button>
      <button
        type="button"
        class="plain"
        :disabled="pages.to >= pages.total"
        @click="emit('lines', operand, pages.to)"
      >
        next page
      </button>
    </p>
  </aside>
</template>

<style scoped>
.proof {
  display: flex;
  flex-direction: column;
  gap: 6px;
  background: var(--sheet);
  border: 1px solid var(--line);
  border-top: 4px solid var(--window-0);
  padding: 10px 14px;
  min-height: 0;
  overflow: hidden;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: start;
}
h2 {
  font-size: 14px;
  margin: 0;
  overflow-wrap: anywhere;
}
p {
  margin: 0;
}
.formula {
  background: var(--soft);
  padding: 8px 10px;
}
.formula p {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
.small,
small {
  font-size: 11px;
  color: var(--quiet);
}
.result {
  border-top: 1px solid #948a72;
  margin-top: 4px;
  padding-top: 4px;
}
.tabs {
  display: flex;
  gap: 6px;
}
.tabs button {
  border: 1px solid var(--line);
  background: none;
  padding: 2px 8px;
  border-radius: 3px;
  cursor: pointer;
  font-size: 12px;
}
.tabs .on {
  background: var(--soft);
  font-weight: 700;
}
.lines {
  flex: 1;
  overflow: auto;
  min-height: 60px;
}
table {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
  font-size: 11px;
}
th:nth-child(1) {
  width: 28%;
}
th:nth-child(2) {
  width: 18%;
}
th:nth-child(4) {
  width: 22%;
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
  padding: 2px 4px 0 0;
  vertical-align: top;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.first td {
  border-top: 1px solid var(--soft);
}
.source td {
  padding-top: 0;
  font-size: 10px;
  color: var(--quiet);
}
.from {
  display: flex;
  justify-content: space-between;
  gap: 6px;
}
.from span {
  overflow: hidden;
  text-overflow: ellipsis;
}
.from button {
  padding: 0;
}
.pages {
  font-size: 12px;
  color: var(--quiet);
}
</style>
