<script setup lang="ts">
/** A series over time, above its table: each period's figure and its bases', with what runs along them. */
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import { BarChart, LineChart } from "echarts/charts";
import {
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  TitleComponent,
  TooltipComponent,
} from "echarts/components";
import { LabelLayout } from "echarts/features";
import * as echarts from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import { computed, onBeforeUnmount, onMounted, ref, watch } from "vue";
import type { Answer, Chart, Statement } from "@/contract";
import type { SeriesDrawing, Several } from "@/model/chart";
import ChartHow from "@/panels/series/ChartHow.vue";
import { seriesOption } from "@/panels/series/seriesOption";
import { severalOption } from "@/panels/series/severalOption";
import { seriesWords } from "@/panels/series/seriesWords";
import { useReader } from "@/state/reader";
import { useResizeObserver } from "@vueuse/core";

const numbers = useNumbers();

echarts.use([
  BarChart,
  LineChart,
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  TitleComponent,
  TooltipComponent,
  LabelLayout,
  SVGRenderer,
]);

const props = defineProps<{
  drawing: SeriesDrawing;
  /** How it is drawn; none of it changes a figure. */
  chart: Chart;
  answer: Answer;
  statement: Statement;
  /** The row whose series it is, where time stands across. */
  of: string;
  /** The series of several rows, where time stands across. */
  several?: Several | null;
  /** To be looked at only, on paper. */
  still?: boolean;
}>();
const emit = defineEmits<{
  range: [first: string, last: string];
  down: [period: string];
  draw: [chart: Chart];
}>();
/** Two periods that are chosen by clicks, the first still alone. */
const from = ref<number | null>(null);
const box = ref<HTMLElement | null>(null);
let drawn: echarts.ECharts | null = null;
useResizeObserver(box, () => {
  drawn?.resize();
  if (together.value) draw();
});

const words = seriesWords(props, numbers, useDays());
/** Several rows are drawn where that is asked for and there are several. */
const together = computed(() => (props.chart.rows === "one" ? null : (props.several ?? null)));
/** How high the picture is where nobody said otherwise. */
const USUAL = 190;
const USUAL_OF_MANY = 320;
const tall = computed(
  () => props.chart.height || (together.value && props.chart.rows === "multiples" ? USUAL_OF_MANY : USUAL),
);
/** Its edge was dragged: it stays as high as it is now. */
function dragged(): void {
  const height = Math.round(box.value?.offsetHeight ?? 0);
  if (!props.still && height && height !== tall.value) emit("draw", { ...props.chart, height });
}
function draw(): void {
  const { rows } = props.chart;
  drawn?.setOption(
    together.value && rows !== "one"
      ? severalOption(together.value, rows, numbers, drawn.getHeight())
      : seriesOption(props, words, numbers, from.value),
    true,
  );
}

/** The picture as it stands, as SVG. */
function picture(): string {
  return box.value?.querySelector("svg")?.outerHTML ?? "";
}
defineExpose({ picture });

onMounted(() => {
  if (!box.value) return;
  drawn = echarts.init(box.value, null, { renderer: "svg" });
  drawn
    .getZr()
    .on("click", (event: { offsetX: number; offsetY: number }) => clicked(event.offsetX, event.offsetY));
  draw();
});
onBeforeUnmount(() => {
  drawn?.dispose();
});
watch(
  () => props.drawing,
  () => {
    from.value = null;
    draw();
  },
);
watch([() => props.chart, from, together], draw);
// Its colours are those of the page: drawn again when the page turns light or dark.
const reader = useReader();
watch(() => reader.isDark, draw, { flush: "post" });

/** The first click marks a period, the second one the range from it: the statement then shows that range. */
function clicked(x: number, y: number): void {
  if (props.still || together.value) return;
  const point = drawn?.convertFromPixel({ gridIndex: 0 }, [x, y]);
  const at = Array.isArray(point) ? Math.round(Number(point[0])) : -1;
  if (!drawn?.containPixel({ gridIndex: 0 }, [x, y]) || !props.drawing.periods[at]) return;
  if (from.value === null) from.value = at;
  else if (from.value === at) {
    const period = props.drawing.periods[at];
    if (period.key.length > 2) emit("down", period.key);
  } else {
    const [one, other] = [Math.min(from.value, at), Math.max(from.value, at)];
    const first = props.drawing.periods[one]?.windows[0]?.period;
    const last = props.drawing.periods[other]?.windows[0]?.period;
    if (first && last) emit("range", first.first, last.last);
  }
}
</script>

<template>
  <div class="series" :class="{ still }">
    <div
      ref="box"
      class="chart"
      :style="{ height: `${tall}px` }"
      role="img"
      aria-label="The series as a chart; the table below holds its figures"
      data-test="chart"
      @pointerup="dragged"
    />
    <div v-if="!still" class="under">
      <ChartHow
        :chart="chart"
        :drawing="drawing"
        :words="words"
        :compares="statement.bases.length > 0"
        :several="several ?? null"
        :height="tall"
        @draw="(next) => emit('draw', next)"
      />
      <span v-if="together && !chart.picked.length">The first rows of the table, as it is sorted.</span>
      <span v-else-if="of" data-test="chart-of"
        ><strong>{{ of }}</strong
        >; select another row for its own series.</span
      >
      <span v-if="!together" class="quiet">{{
        from === null
          ? "Click two periods for the range between them, one twice to go down into it."
          : "Now the other end, or the same one again to go down into it."
      }}</span>
    </div>
  </div>
</template>

<style scoped>
.series {
  background: var(--sheet);
  border: 1px solid var(--line);
}
/* Its lower edge is dragged for more of it. */
.chart {
  min-height: 120px;
  resize: vertical;
  overflow: hidden;
}
.still {
  margin-bottom: 12px;
}
.under {
  display: flex;
  gap: 12px;
  padding: 0 10px 3px;
  font-size: 0.75rem;
}
</style>
