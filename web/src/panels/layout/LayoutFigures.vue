<script setup lang="ts">
/** Where totals stand, and how figures and periods of the whole table are written. */
import { useReader } from "@/state/reader";
import Option from "@/parts/Option.vue";
import { computed } from "vue";
import type { Answer, Layout, Statement } from "@/contract";
import { localPeriod } from "@/model/days";
import { currencySign } from "@/model/numbers";

const reader = useReader();
const props = defineProps<{ answer: Answer; statement: Statement; layout: Layout }>();
const emit = defineEmits<{ lay: [layout: Layout] }>();

const MARKS = { comma_point: "1,234.50", point_comma: "1.234,50", space_comma: "1\u202f234,50" };
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
      locale: `${MARKS[reader.marks]} (as here)`,
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
      locale: `${localPeriod("2026-03", reader.locale)} (as here)`,
      keys: "2026-03",
    }),
    line("trends", "Trends in the rows", "trends", {
      across: "where time stands across",
      always: "in every table",
      off: "none",
    }),
    {
      test: "headline",
      label: "Totals large above the table",
      value: props.layout.headline ? "yes" : "no",
      options: { no: "no", yes: "yes" },
      take: (value) => set("headline", value === "yes"),
    },
    line("size", "Everything", "size", { normal: "normal", large: "larger, for showing" }),
  ];
});
</script>

<template>
  <label v-for="each in choices" :key="each.test" class="line"
    >{{ each.label }}
    <ElSelect :model-value="each.value" :data-test="`layout-${each.test}`" @change="each.take($event)">
      <Option v-for="(words, value) in each.options" :key="value" :value="value" :label="words" /> </ElSelect
  ></label>
</template>

<style scoped>
.line {
  margin: 0;
  padding: 2px 0;
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: center;
}
.line .el-select {
  width: 190px;
}
</style>
