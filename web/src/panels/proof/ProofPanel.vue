<script setup lang="ts">
/** The evidence for the selected number: formula with its figures, both windows, the lines with file and row. */
import { HEADINGS, REASONS, STEPS, TERMS } from "@/contract/vocabulary";
import { capital, measureName, periodName } from "@/words/names";
import { useNumbers } from "@/composables/numbers";
import { computed, ref, toRefs } from "vue";
import type { LineChange, Operand, Proof } from "@/contract";
import { rangeText } from "@/model/days";
import DaysTable from "@/panels/proof/DaysTable.vue";
import LinesTable from "@/panels/proof/LinesTable.vue";
import ProofFrame from "@/parts/ProofFrame.vue";
import StretchChart from "@/parts/StretchChart.vue";
import { useSheet } from "@/state/sheet/sheet";
import { wordsOf } from "@/words/told";
import { factName, formulaWords, pictureWords, signOf, whose } from "@/words/proof";

const { cell: cellText, count, grouped, operand: operandText } = useNumbers();

const props = defineProps<{
  proof: Proof;
  currency: string;
  ledger: string;
  correct: (line: number, change: LineChange | null, reason: string) => Promise<string>;
}>();
const emit = defineEmits<{ close: [] }>();
const sheet = useSheet();
const { operand } = toRefs(sheet);
/** Whether the days stand in place of the lines. */
const byDay = ref(false);
const pictured = computed(() => props.proof.operands.some((each) => each.stretches.length > 0));
const formula = computed(() => {
  const { answer } = sheet;
  const { column } = props.proof;
  const known = answer?.columns.some((each) => each.id === column.id);
  return formulaWords(column, answer && known ? wordsOf(column, answer).along : "");
});

/** A period's sortable name, as periods are labelled. */
const PERIOD = /^\d{4}(-(H[12]|Q[1-4]|P\d\d|W\d\d|\d\d(-\d\d)?))?$/;

const kind = computed(() => props.proof.column.kind);
const name = computed(() =>
  props.proof.labels.length
    ? props.proof.labels.map((each) => (PERIOD.test(each) ? periodName(each) : each)).join(" › ")
    : "All rows",
);
const heading = computed(() => {
  const { step } = props.proof.column;
  if (step) return (STEPS[step] ?? step).toLowerCase();
  return kind.value === "value" ? "value" : (HEADINGS[kind.value] ?? kind.value).toLowerCase();
});
const result = computed(() => {
  const { result: cell, column } = props.proof;
  return cell.value === null
    ? (REASONS[cell.reason ?? ""] ?? "")
    : cellText(cell, column, fullDecimals(cell.value));
});

function fullDecimals(value: string): number {
  return props.proof.column.unit === "percent" ? 1 : Math.min(value.split(".")[1]?.length ?? 0, 4);
}

function exact(operand: Operand): string {
  const text = operandText(operand.cell, props.proof.unit, 6);
  return text === null ? (REASONS[operand.cell.reason ?? ""] ?? "–") : text;
}

function factText(fact: Proof["facts"][number]): string {
  if (fact.reason) return REASONS[fact.reason] ?? "";
  return /^-?\d/.test(fact.value) ? grouped(fact.value) : fact.value;
}

function days(operand: Operand): string {
  return operand.days.map((each) => rangeText(each.first, each.last)).join(", ") || "no days";
}
</script>

<template>
  <aside class="proof" aria-label="Proof" data-test="proof">
    <header>
      <h2>{{ name }} · {{ heading }}</h2>
      <ElButton link aria-label="Close the proof" @click="emit('close')">✕</ElButton>
    </header>
    <p class="quiet">
      {{ capital(measureName(proof.column.measure))
      }}<template v-if="proof.column.unit === 'currency'">, {{ currency }}</template>
    </p>
    <div class="formula" data-test="formula">
      <div v-for="(each, at) in proof.operands" :key="at">
        <p>
          <span :style="{ color: `var(--window-text-${Math.min(each.window, 4)})` }">
            <template v-if="at">{{ signOf(kind, at) }}&nbsp;</template>{{ whose(each) }}: {{ days(each) }}
          </span>
          <strong class="number" :data-test="`operand-${at}`">{{ exact(each) }}</strong>
        </p>
        <p class="small">
          <span
            >{{ count(each.counted_days, "day") }} · {{ count(each.lines, "line")
            }}<template v-if="each.first_line_day && each.last_line_day"
              >, {{ rangeText(each.first_line_day, each.last_line_day) }}</template
            ><template v-if="each.lines_left_out"> · {{ each.lines_left_out }} lack a value</template
            ><template v-if="each.divisor > 1"> · ÷ {{ count(each.divisor, "period") }}</template></span
          >
        </p>
        <p v-for="term in each.terms.length > 1 ? each.terms : []" :key="term.name" class="small">
          <span
            >{{ term.divides ? "÷" : term.sign < 0 ? "−" : "+" }}
            {{ TERMS[term.name] ?? measureName(term.name) }}</span
          ><span class="number">{{ term.value ? grouped(term.value) : REASONS[term.reason ?? ""] }}</span>
        </p>
      </div>
      <p class="result">
        <strong>{{ capital(heading) }}</strong><strong class="number" data-test="result">{{ result }}</strong>
      </p>
      <p v-if="formula" class="small" data-test="formula-words">{{ formula }}</p>
    </div>
    <p v-for="fact in proof.facts" :key="fact.name" class="small fact">
      <span>{{ factName(fact.name, STEPS) }}</span><span class="number">{{ factText(fact) }}</span>
    </p>
    <p v-if="proof.month_end_rule_matters" class="quiet">
      The last day of a month goes to the last day of the other month: this moved the base's last day.
    </p>
    <ProofFrame :operands="proof.operands" />
    <!-- The table of days is the picture opened: it stands in its place. -->
    <template v-if="pictured && !byDay">
      <StretchChart :operands="proof.operands" :unit="proof.unit" @click="byDay = true" />
      <p class="small" data-test="picture-words">{{ pictureWords(proof.column) }}</p>
    </template>
    <div class="tabs" role="group" aria-label="Whose lines">
      <ElButton
        v-for="(each, at) in proof.operands"
        :key="at"
        :aria-pressed="!byDay && operand === at"
        :class="{ on: !byDay && operand === at }"
        :data-test="`lines-of-${at}`"
        @click="((byDay = false), sheet.showLines({ ...sheet.wanted, operand: at, offset: 0 }))"
      >
        {{ whose(each) }}: {{ count(each.lines, "line") }}
      </ElButton>
      <ElButton
        v-if="pictured"
        :aria-pressed="byDay"
        :class="{ on: byDay }"
        data-test="by-day"
        @click="byDay = !byDay"
      >
        By day
      </ElButton>
    </div>
    <DaysTable v-if="byDay && pictured" :proof="proof" />
    <LinesTable v-else :ledger="ledger" :correct="correct" />
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
  overflow: hidden auto;
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
.proof > svg,
.formula,
.tabs {
  flex: none;
}
.formula {
  background: var(--soft);
  padding: 8px 10px;
}
.formula p {
  font-size: 12px;
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
.small,
.formula .small {
  font-size: 11px;
  color: var(--quiet);
}
.fact {
  display: flex;
  justify-content: space-between;
}
.result {
  border-top: 1px solid var(--part);
  margin-top: 4px;
  padding-top: 4px;
  white-space: nowrap;
}
.formula .result {
  font-size: 13px;
}
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
}
.tabs button {
  border: 1px solid var(--line);
  background: none;
  padding: 2px 6px;
  border-radius: 3px;
  cursor: pointer;
  font-size: 11px;
  white-space: nowrap;
}
.tabs .on {
  background: var(--soft);
  font-weight: 700;
}
</style>
