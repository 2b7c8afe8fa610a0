<script setup lang="ts">
/** How a chart is drawn: bars or lines, its key, axes and bounds of its axes. */
import Field from "@/parts/Field.vue";
import Option from "@/parts/Option.vue";
import type { Chart } from "@/contract";
import { MOST_ROWS, type SeriesDrawing, type Several } from "@/model/chart";
import type { SeriesWords } from "@/panels/series/seriesWords";
import Part from "@/parts/Part.vue";
import { capital } from "@/words/names";

const props = defineProps<{
  chart: Chart;
  drawing: SeriesDrawing;
  words: SeriesWords;
  compares: boolean;
  several: Several | null;
  /** How high the picture is, in pixels. */
  height: number;
}>();
const emit = defineEmits<{ draw: [chart: Chart] }>();

function set(parts: Partial<Chart>): void {
  emit("draw", { ...props.chart, ...parts });
}

function turnAxis(at: number): void {
  const id = props.drawing.drawn[at]?.column.id ?? "";
  set({ axes: { ...props.chart.axes, [id]: props.words.axis(at) ? "left" : "right" } });
}

/** A bound of the left (0) or right (1) axis. */
function bound(end: "low" | "high", at: number, text: string): void {
  const [left, right] = props.chart[end];
  set({ [end]: at ? [left, text] : [text, right] });
}
</script>

<template>
  <Part name="chart-how" label="How it is drawn" offers>
    <div class="how">
      <label
        >Drawn as
        <ElSelect
          :model-value="chart.lines"
          data-test="chart-lines"
          @change="set({ lines: $event as Chart['lines'] })"
        >
          <Option value="own" label="bars and lines" />
          <Option value="line" label="lines" />
          <Option value="bar" label="bars" /> </ElSelect
      ></label>
      <label
        >Key
        <ElSelect
          :model-value="chart.key"
          data-test="chart-key"
          @change="set({ key: $event as Chart['key'] })"
        >
          <Option value="top" label="above" />
          <Option value="right" label="right" />
          <Option value="none" label="hidden" /> </ElSelect
      ></label>
      <ElCheckbox
        v-for="(each, at) in drawing.drawn"
        :key="each.column.id"
        :model-value="words.axis(at) === 1"
        :data-test="`chart-right-${each.column.id}`"
        @change="turnAxis(at)"
        >{{ words.nameOf(at) }} on the right</ElCheckbox
      >
      <label v-if="several"
        >Rows
        <ElSelect
          :model-value="chart.rows"
          data-test="chart-rows"
          @change="set({ rows: $event as Chart['rows'] })"
        >
          <Option value="one" label="the selected one" />
          <Option value="lines" label="several, as lines" />
          <Option value="multiples" label="several, small" /> </ElSelect
      ></label>
      <label v-if="several && chart.rows !== 'one'"
        >Which
        <ElSelectV2
          :model-value="chart.picked"
          :options="several.offered.map(({ key, label }) => ({ value: key, label }))"
          multiple
          filterable
          collapse-tags
          collapse-tags-tooltip
          :multiple-limit="MOST_ROWS"
          placeholder="the first ten"
          style="width: 22ch"
          data-test="chart-picked"
          @change="set({ picked: $event as string[] })"
      /></label>
      <label
        >Height
        <ElInputNumber
          :model-value="height"
          :min="120"
          :max="900"
          :step="20"
          data-test="chart-height"
          @change="set({ height: $event ?? 0 })"
        />
        pixels</label
      >
      <ElCheckbox
        v-if="compares"
        :model-value="chart.ahead"
        data-test="chart-ahead"
        @change="set({ ahead: !chart.ahead })"
        >bases of periods to come</ElCheckbox
      >
      <ElCheckbox
        v-if="compares"
        :model-value="chart.percent"
        data-test="chart-percent"
        @change="set({ percent: !chart.percent })"
        >% change too</ElCheckbox
      >
      <p v-for="(which, at) in ['left', 'right']" :key="which">
        <label
          >{{ capital(which) }} axis from
          <Field
            style="width: 12ch"
            :value="chart.low[at] ?? ''"
            :data-test="`chart-low-${which}`"
            @change="bound('low', at, $event)"
        /></label>
        <label
          >to
          <Field
            style="width: 12ch"
            :value="chart.high[at] ?? ''"
            :data-test="`chart-high-${which}`"
            @change="bound('high', at, $event)"
        /></label>
      </p>
    </div>
  </Part>
</template>

<style scoped>
.how {
  display: grid;
  gap: 6px;
}
.how p {
  margin: 0;
  display: flex;
  gap: 8px;
}
</style>
