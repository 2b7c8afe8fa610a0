<script setup lang="ts">
/** How the table is laid out: columns shown and in what order, where totals stand, how figures and periods are written. */
import { computed } from "vue";
import type { Answer, Layout, Statement } from "@/contract";
import { localPeriod } from "@/model/days";
import { laidOut, moveColumn, PLAIN, turnColumn } from "@/model/layout";
import { currencySign, localMarks } from "@/model/numbers";
import { capital, columnWords, measureName } from "@/words/words";

const props = defineProps<{ answer: Answer; statement: Statement; layout: Layout }>();
const emit = defineEmits<{ lay: [layout: Layout] }>();

const MOST_LISTED = 60;
const MARKS = { comma_point: "1,234.50", point_comma: "1.234,50", space_comma: "1\u202f234,50" };
const all = computed(() => {
  const shown = laidOut(props.answer, { ...props.layout, hidden: [], totals_across: "before" }).columns;
  return shown.slice(0, MOST_LISTED).map((column) => ({
    id: column.id,
    words: [...column.across_labels, columnWords(column, props.answer, props.statement)].join(" · "),
    hidden: props.layout.hidden.includes(column.id),
  }));
});
/** The measures, and whether their decimals can be chosen: those of percentages are the measure's own. */
const measures = computed(() =>
  [...new Set(props.answer.columns.map((each) => each.measure))].map((measure) => ({
    measure,
    decimals: props.answer.columns.some(
      (each) => each.measure === measure && each.unit !== "percent" && each.unit !== "points",
    ),
  })),
);
const metrics = computed(
  () => new Set(props.answer.columns.map((each) => `${each.measure} ${each.along}`)).size,
);

function set<Name extends keyof Layout>(name: Name, value: Layout[Name]): void {
  emit("lay", { ...props.layout, [name]: value });
}

function move(id: string, by: number): void {
  emit(
    "lay",
    moveColumn(
      props.layout,
      all.value.map((each) => [each.id]),
      id,
      by,
    ),
  );
}

function chosen(event: Event): string | null {
  return (event.target as HTMLSelectElement).value || null;
}

function write(measure: string, part: Layout["written"][string]): void {
  const { [measure]: before, ...others } = props.layout.written;
  const own = { ...before, ...part };
  set("written", own.negatives || own.zeros ? { ...others, [measure]: own } : others);
}

function decimals(measure: string, text: string): void {
  const others = Object.fromEntries(
    Object.entries(props.layout.decimals).filter(([name]) => name !== measure),
  );
  const places = /^\d$/.test(text.trim()) ? { [measure]: Number(text) } : {};
  set("decimals", { ...others, ...places });
}
</script>

<template>
  <div class="layout" data-test="layout-choice">
    <p class="title">Columns</p>
    <p v-for="(each, at) in all" :key="each.id" class="column">
      <label
        ><input
          type="checkbox"
          :checked="!each.hidden"
          :data-test="`column-${each.id}`"
          @change="emit('lay', turnColumn(layout, each.id))"
        />
        {{ each.words }}</label
      >
      <span>
        <button
          type="button"
          class="plain"
          :disabled="at === 0"
          :aria-label="`${each.words} to the left`"
          :data-test="`left-${each.id}`"
          @click="move(each.id, -1)"
        >
          ←
        </button>
        <button
          type="button"
          class="plain"
          :disabled="at === all.length - 1"
          :aria-label="`${each.words} to the right`"
          @click="move(each.id, 1)"
        >
          →
        </button>
      </span>
    </p>
    <label class="line"
      >Total row
      <select
        :value="layout.totals"
        data-test="layout-totals"
        @change="set('totals', ($event.target as HTMLSelectElement).value as Layout['totals'])"
      >
        <option value="below">below</option>
        <option value="above">above</option>
        <option value="off">off</option>
      </select></label
    >
    <label v-if="metrics > 1" class="line"
      >Measures stand
      <select
        :value="layout.measures"
        data-test="layout-measures"
        @change="set('measures', ($event.target as HTMLSelectElement).value as Layout['measures'])"
      >
        <option value="beside">beside each other</option>
        <option value="below">below each other</option>
      </select></label
    >
    <label v-if="statement.across.length" class="line"
      >Totals across
      <select
        :value="layout.totals_across"
        data-test="layout-across"
        @change="set('totals_across', ($event.target as HTMLSelectElement).value as Layout['totals_across'])"
      >
        <option value="before">before</option>
        <option value="after">after</option>
        <option value="off">off</option>
      </select></label
    >
    <label v-if="answer.periods.length" class="line"
      >Periods without figures
      <select
        :value="layout.empty_periods"
        data-test="layout-empty"
        @change="set('empty_periods', ($event.target as HTMLSelectElement).value as Layout['empty_periods'])"
      >
        <option value="shown">shown</option>
        <option value="hidden">hidden</option>
      </select></label
    >
    <label class="line"
      >Negative figures
      <select
        :value="layout.negatives"
        data-test="layout-negatives"
        @change="set('negatives', ($event.target as HTMLSelectElement).value as Layout['negatives'])"
      >
        <option value="minus">−12.00</option>
        <option value="brackets">(12.00)</option>
      </select></label
    >
    <label class="line"
      >Thousands and decimals
      <select
        :value="layout.marks"
        data-test="layout-marks"
        @change="set('marks', ($event.target as HTMLSelectElement).value as Layout['marks'])"
      >
        <option v-for="(example, marks) in MARKS" :key="marks" :value="marks">
          {{ example }}{{ marks === localMarks() ? " (as here)" : "" }}
        </option>
      </select></label
    >
    <label class="line"
      >Sign of the currency
      <select
        :value="layout.sign ? 'cells' : 'heading'"
        data-test="layout-sign"
        @change="
          set(
            'sign',
            ($event.target as HTMLSelectElement).value === 'cells' ? currencySign(answer.currency) : '',
          )
        "
      >
        <option value="heading">{{ answer.currency }} in headings</option>
        <option value="cells">{{ currencySign(answer.currency) }} in every cell</option>
      </select></label
    >
    <label class="line"
      >Zero
      <select
        :value="layout.zeros"
        data-test="layout-zeros"
        @change="set('zeros', ($event.target as HTMLSelectElement).value as Layout['zeros'])"
      >
        <option value="figure">0.00</option>
        <option value="dash">-</option>
        <option value="blank">blank</option>
      </select></label
    >
    <p class="title">Of single measures: decimals, negative figures, zero</p>
    <p v-for="each in measures" :key="each.measure" class="line">
      {{ capital(measureName(each.measure)) }}
      <span>
        <input
          v-if="each.decimals"
          size="2"
          :value="layout.decimals[each.measure] ?? ''"
          placeholder="own"
          :aria-label="`Decimals of ${measureName(each.measure)}`"
          :data-test="`decimals-${each.measure}`"
          @change="decimals(each.measure, ($event.target as HTMLInputElement).value)"
        />
        <select
          :value="layout.written[each.measure]?.negatives ?? ''"
          :aria-label="`Negative figures of ${measureName(each.measure)}`"
          :data-test="`negatives-${each.measure}`"
          @change="write(each.measure, { negatives: chosen($event) as Layout['negatives'] })"
        >
          <option value="">as all</option>
          <option value="minus">−12</option>
          <option value="brackets">(12)</option>
        </select>
        <select
          :value="layout.written[each.measure]?.zeros ?? ''"
          :aria-label="`Zeros of ${measureName(each.measure)}`"
          :data-test="`zeros-${each.measure}`"
          @change="write(each.measure, { zeros: chosen($event) as Layout['zeros'] })"
        >
          <option value="">as all</option>
          <option value="figure">0</option>
          <option value="dash">-</option>
          <option value="blank">blank</option>
        </select>
      </span>
    </p>
    <label class="line"
      >Periods as
      <select
        :value="layout.periods"
        data-test="layout-periods"
        @change="set('periods', ($event.target as HTMLSelectElement).value as Layout['periods'])"
      >
        <option value="words">Mar 2026</option>
        <option value="locale">{{ localPeriod("2026-03") }} (as here)</option>
        <option value="keys">2026-03</option>
      </select></label
    >
    <label class="line"
      >Text and rows
      <select
        :value="layout.size"
        data-test="layout-size"
        @change="set('size', ($event.target as HTMLSelectElement).value as Layout['size'])"
      >
        <option value="normal">normal</option>
        <option value="large">larger, for showing</option>
      </select></label
    >
    <button type="button" class="plain" data-test="layout-plain" @click="emit('lay', PLAIN)">
      All as it was
    </button>
  </div>
</template>

<style scoped>
.layout {
  display: grid;
  gap: 4px;
  min-width: 300px;
}
.title {
  margin: 0;
  font-weight: 700;
}
.column {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  margin: 0;
}
.line select,
.line input:not([type="checkbox"]) {
  min-height: 24px;
}
.line {
  margin: 0;
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: center;
}
</style>
