<script setup lang="ts">
/** The formula of a number with its figures: each operand with its days, lines and terms, the result, and what else was taken into it. */
import { useDays } from "@/composables/dates";
import { REASONS, STEPS, TERMS } from "@/contract/vocabulary";
import { capital, measureName } from "@/words/names";
import { useNumbers } from "@/composables/numbers";
import { computed } from "vue";
import type { Operand, Proof } from "@/contract";
import { useSheet } from "@/state/sheet/sheet";
import { wordsOf } from "@/words/told";
import { factName, formulaWords, signOf, whose } from "@/words/proof";

const { rangeText } = useDays();

const { cell: cellText, count, grouped, operand: operandText } = useNumbers();

const props = defineProps<{ proof: Proof; heading: string }>();
const sheet = useSheet();
const kind = computed(() => props.proof.column.kind);
const formula = computed(() => {
  const { answer } = sheet;
  const { column } = props.proof;
  const known = answer?.columns.some((each) => each.id === column.id);
  return formulaWords(column, answer && known ? wordsOf(column, answer).along : "");
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
  <div class="box">
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
  </div>
</template>

<style scoped>
.box {
  flex: none;
}
p {
  margin: 0;
}
.formula {
  background: var(--soft);
  padding: 8px 10px;
}
.formula p {
  font-size: 0.75rem;
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
.small,
.formula .small {
  font-size: 0.6875rem;
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
  font-size: 0.8125rem;
}
</style>
