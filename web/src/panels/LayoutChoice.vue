<script setup lang="ts">
/** How the table is laid out: columns shown and in what order, where totals stand, how figures and periods are written. */
import Field from "@/parts/Field.vue";
import Option from "@/parts/Option.vue";
import { PLAIN } from "@/contract/vocabulary";
import { capital, measureName } from "@/words/names";
import { computed } from "vue";
import type { Answer, Layout, Statement } from "@/contract";
import { localPeriod } from "@/model/days";
import { alikeAcross, laidOut, moveAlike, setHeading, turnColumn } from "@/model/layout";
import { currencySign, localMarks } from "@/model/numbers";
import { wordsOf } from "@/words/told";

const props = defineProps<{ answer: Answer; statement: Statement; layout: Layout }>();
const emit = defineEmits<{ lay: [layout: Layout] }>();

const MOST_LISTED = 60;
const MARKS = { comma_point: "1,234.50", point_comma: "1.234,50", space_comma: "1\u202f234,50" };
const all = computed(() => {
  const shown = laidOut(props.answer, { ...props.layout, hidden: [], totals_across: "before" }).columns;
  // What stands under every member or period across is one line here.
  return alikeAcross(shown)
    .slice(0, MOST_LISTED)
    .map((columns) => ({
      ids: columns.map((each) => each.id),
      id: columns[0]?.id ?? "",
      words: columns[0] ? wordsOf(columns[0], props.answer).named : "",
      hidden: columns.every((each) => props.layout.hidden.includes(each.id)),
    }));
});
/** The measures, each of which is written in its own way where that is wanted. */
const measures = computed(() =>
  [...new Set(props.answer.columns.map((each) => each.measure))].map((measure) => ({
    measure,
  })),
);
const metrics = computed(
  () => new Set(props.answer.columns.map((each) => `${each.measure} ${each.along}`)).size,
);

function set<Name extends keyof Layout>(name: Name, value: Layout[Name]): void {
  emit("lay", { ...props.layout, [name]: value });
}

interface Line {
  test: string;
  label: string;
  value: string;
  options: Record<string, string>;
  take: (value: string) => void;
}

/** One part of the layout as a line with its choices. */
function line<
  Name extends
    | "totals"
    | "measures"
    | "totals_across"
    | "empty_periods"
    | "negatives"
    | "zeros"
    | "marks"
    | "trends"
    | "periods"
    | "size",
>(test: string, label: string, name: Name, options: Record<Layout[Name], string>): Line {
  return {
    test,
    label,
    value: props.layout[name],
    options,
    take: (value) => set(name, value as Layout[Name]),
  };
}

const choices = computed<Line[]>(() => {
  const sign = currencySign(props.answer.currency);
  return [
    line("totals", "Total row", "totals", { below: "below", above: "above", off: "off" }),
    ...(metrics.value > 1
      ? [
          line("measures", "Measures stand", "measures", {
            beside: "beside each other",
            below: "below each other",
          }),
        ]
      : []),
    ...(props.statement.across.length
      ? [line("across", "Totals across", "totals_across", { before: "before", after: "after", off: "off" })]
      : []),
    ...(props.answer.periods.length
      ? [line("empty", "Periods without figures", "empty_periods", { shown: "shown", hidden: "hidden" })]
      : []),
    {
      test: "percent-decimals",
      label: "Decimals of percentages",
      value: props.layout.percent_decimals === null ? "own" : String(props.layout.percent_decimals),
      options: { own: "their own", 0: "12%", 1: "12.3%", 2: "12.34%", 3: "12.345%" },
      take: (value) => set("percent_decimals", value === "own" ? null : Number(value)),
    },
    line("negatives", "Negative figures", "negatives", { minus: "−12.00", brackets: "(12.00)" }),
    line("marks", "Thousands and decimals", "marks", {
      locale: `${MARKS[localMarks()]} (as here)`,
      ...MARKS,
    }),
    {
      test: "sign",
      label: "Sign of the currency",
      value: props.layout.sign ? "cells" : "heading",
      options: { heading: `${props.answer.currency} in headings`, cells: `${sign} in every cell` },
      take: (value) => set("sign", value === "cells" ? sign : ""),
    },
    line("zeros", "Zero", "zeros", { figure: "0.00", dash: "-", blank: "blank" }),
    line("periods", "Periods as", "periods", {
      words: "Mar 2026",
      locale: `${localPeriod("2026-03")} (as here)`,
      keys: "2026-03",
    }),
    line("trends", "Trends in the rows", "trends", {
      across: "where time stands across",
      always: "in every table",
      off: "none",
    }),
    line("size", "Text and rows", "size", { normal: "normal", large: "larger, for showing" }),
  ];
});

function move(id: string, by: number): void {
  const shown = laidOut(props.answer, { ...props.layout, hidden: [], totals_across: "before" }).columns;
  emit("lay", moveAlike(props.layout, shown, id, by));
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
      <ElCheckbox
        :model-value="!each.hidden"
        :data-test="`column-${each.id}`"
        @change="emit('lay', turnColumn(layout, ...each.ids))"
        >{{ each.words }}</ElCheckbox
      >
      <span>
        <ElButton
          link
          :disabled="at === 0"
          :aria-label="`${each.words} to the left`"
          :data-test="`left-${each.id}`"
          @click="move(each.id, -1)"
        >
          ←
        </ElButton>
        <ElButton
          link
          :disabled="at === all.length - 1"
          :aria-label="`${each.words} to the right`"
          @click="move(each.id, 1)"
        >
          →
        </ElButton>
      </span>
    </p>
    <details>
      <summary data-test="headings">Headings</summary>
      <label v-for="each in all" :key="each.id" class="line"
        >{{ each.words }}
        <Field
          style="width: 19ch"
          maxlength="60"
          :value="layout.headings[each.id] ?? ''"
          placeholder="as it is"
          :data-test="`heading-${each.id}`"
          @change="emit('lay', setHeading(layout, each.ids, $event))"
      /></label>
    </details>
    <label v-for="each in choices" :key="each.test" class="line"
      >{{ each.label }}
      <ElSelect :model-value="each.value" :data-test="`layout-${each.test}`" @change="each.take($event)">
        <Option
          v-for="(words, value) in each.options"
          :key="value"
          :value="value"
          :label="words"
        /> </ElSelect
    ></label>
    <p class="title">Of single measures: decimals, negative figures, zero</p>
    <p v-for="each in measures" :key="each.measure" class="line">
      {{ capital(measureName(each.measure)) }}
      <span>
        <Field
          style="width: 7ch"
          :value="layout.decimals[each.measure] ?? ''"
          placeholder="own"
          :aria-label="`Decimals of ${measureName(each.measure)}`"
          :data-test="`decimals-${each.measure}`"
          @change="decimals(each.measure, $event)"
        />
        <ElSelect
          :model-value="layout.written[each.measure]?.negatives ?? ''"
          :aria-label="`Negative figures of ${measureName(each.measure)}`"
          :data-test="`negatives-${each.measure}`"
          @change="write(each.measure, { negatives: ($event || null) as Layout['negatives'] })"
        >
          <Option value="" label="as all" />
          <Option value="minus" label="−12" />
          <Option value="brackets" label="(12)" />
        </ElSelect>
        <ElSelect
          :model-value="layout.written[each.measure]?.zeros ?? ''"
          :aria-label="`Zeros of ${measureName(each.measure)}`"
          :data-test="`zeros-${each.measure}`"
          @change="write(each.measure, { zeros: ($event || null) as Layout['zeros'] })"
        >
          <Option value="" label="as all" />
          <Option value="figure" label="0" />
          <Option value="dash" label="-" />
          <Option value="blank" label="blank" />
        </ElSelect>
      </span>
    </p>
    <ElButton link data-test="layout-plain" @click="emit('lay', PLAIN)"> All as it was </ElButton>
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
.column > span {
  flex: none;
  white-space: nowrap;
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
