<script setup lang="ts">
/** A series over time, above its table: each period's figure and its bases', with what runs along them. */
import { BarChart, LineChart } from "echarts/charts";
import { GridComponent, LegendComponent, MarkLineComponent, TooltipComponent } from "echarts/components";
import * as echarts from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import { computed, onBeforeUnmount, onMounted, ref, watch } from "vue";
import type { Answer, Chart, Statement } from "@/contract";
import { axesOf, axisOf, changesOf, percentLines, type SeriesDrawing } from "@/model/chart";
import { rangeText } from "@/model/days";
import Part from "@/parts/Part.vue";
import { cellText, grouped, rounded, type Fraction } from "@/model/numbers";
import { cutWords, postedWords } from "@/words/marks";
import {
  alongHeading,
  ALIGNMENTS,
  capital,
  FAIRNESS,
  GRAINS,
  measureName,
  periodName,
  REASONS,
  windowHeading,
} from "@/words/words";

echarts.use([
  BarChart,
  LineChart,
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  TooltipComponent,
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
const level = computed(() => GRAINS[props.drawing.grain]);
const box = ref<HTMLElement | null>(null);
let drawn: echarts.ECharts | null = null;
const watcher = new ResizeObserver(() => drawn?.resize());

const COLOURS = ["--window-0", "--window-1", "--window-2", "--window-3", "--window-4"];

function colour(window: number): string {
  const name = COLOURS[Math.min(window, COLOURS.length - 1)] ?? "--window-0";
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
}

function nameOf(at: number): string {
  const column = props.drawing.drawn[at]?.column;
  if (!column) return "";
  const name = column.name || capital(measureName(column.measure));
  const along = column.along ? `, ${alongHeading(column.along)}` : "";
  return `${name}${along}: ${windowHeading(props.answer, column.window, props.statement).toLowerCase()}`;
}

/** What one period says: per figure its window with dates, how it is matched, and the value. */
function told(index: number): string {
  const period = props.drawing.periods[index];
  if (!period) return "";
  const lines = props.drawing.drawn.map(({ column }, at) => {
    const window = period.windows[column.window];
    const place = props.answer.columns.indexOf(column);
    const cell = period.row.cells[place];
    const value = !cell
      ? ""
      : cell.value === null
        ? (REASONS[cell.reason ?? ""] ?? "")
        : cellText(cell, column, column.decimals);
    const days = column.along
      ? `to ${periodText(period.key)}`
      : window?.asked
        ? rangeText(window.asked.first, window.asked.last)
        : "no such period";
    const said = window ? [FAIRNESS[window.fairness ?? ""] ?? "", postedWords(window)].filter(Boolean) : [];
    const fair = said.length ? `, ${said.join(", ")}` : "";
    return `<div style="display:flex;gap:14px;justify-content:space-between"><span>${escaped(nameOf(at))} <small>(${days}${fair})</small></span><b>${escaped(value)}</b></div>`;
  });
  const bases = props.statement.bases.flatMap((base) =>
    "align" in base ? [ALIGNMENTS[base.align] ?? base.align] : [],
  );
  const how = bases.length ? ` · aligned by ${[...new Set(bases)].join(", ")}` : "";
  return `<b>${escaped(periodText(period.key))}</b> <small>each ${level.value}${escaped(how)}</small>${lines.join("")}${changes(period)}`;
}

/** The changes of a period, each against its base. */
function changes(period: SeriesDrawing["periods"][number]): string {
  const times100 = (value: Fraction): Fraction => ({ top: value.top * 100n, bottom: value.bottom });
  return changesOf(props.answer, props.drawing, period.row)
    .map(({ column, difference, percent: part }) => {
      const points = column.unit === "percent";
      const by = rounded(points ? times100(difference) : difference, column.decimals, true);
      const text = points ? `${by} pt` : part ? `${by} (${rounded(times100(part), 1, true)}%)` : by;
      return `<div style="display:flex;gap:14px;justify-content:space-between"><small>change, ${escaped(nameOf(props.drawing.drawn.findIndex((each) => each.column === column)))}</small><span>${escaped(text)}</span></div>`;
    })
    .join("");
}

function escaped(text: string): string {
  return text.replaceAll("&", "&amp;").replaceAll("<", "&lt;");
}

/** A figure's axis: as chosen, else by its unit. */
function axis(at: number): 0 | 1 {
  const chosen = props.chart.sides?.[props.drawing.drawn[at]?.column.id ?? ""];
  return chosen ? (chosen === "right" ? 1 : 0) : axisOf(props.drawing, at);
}

/** A period under the axis: marked where its own pair of windows is not fair, named with its end where it is cut. */
function labelled({ key, windows }: SeriesDrawing["periods"][number]): string {
  const unfair = windows.some((each, at) => (at ? each.fairness === "unequal" : false) || postedWords(each));
  const cut = windows[0] ? cutWords(windows[0]) : "";
  return `${unfair ? "! " : ""}${periodText(key)}${cut ? `, ${cut}` : ""}`;
}

function periodText(key: string): string {
  return key.length > 2 ? periodName(key) : key;
}

/** Measures in one chart differ by the shape of their points and the hatching of their bars, not by colour alone. */
const SYMBOLS = ["circle", "rect", "triangle", "diamond", "pin"];

function decalOf(measure: number, shape: "line" | "bar"): object {
  if (!measure || shape === "line") return {};
  return {
    decal: {
      symbol: "rect",
      dashArrayX: [1, 0],
      dashArrayY: [2, 3 + measure],
      rotation: (Math.PI / 4) * measure,
      color: "rgba(255,255,255,0.55)",
    },
  };
}

function draw(): void {
  const { drawing } = props;
  const rates = props.chart.percent ? percentLines(props.answer, drawing) : [];
  const axes = Math.max(rates.length ? 1 : 0, ...drawing.drawn.map((_, at) => axis(at)));
  const limit = (text: string): number | undefined =>
    /^-?\d+(\.\d+)?$/.test(text.trim()) ? Number(text) : undefined;
  const onAxis = (side: number): (number | null)[] => [
    ...drawing.drawn.flatMap(({ values }, at) => (axis(at) === side ? values : [])),
    ...(side === 1 ? rates.flatMap(({ values }) => values) : []),
  ];
  const bounds = axesOf(Array.from({ length: axes + 1 }, (_, at) => onAxis(at)));
  const measures = [...new Set(drawing.drawn.map(({ column }) => `${column.measure} ${column.along}`))];
  drawn?.setOption(
    {
      animation: false,
      textStyle: { fontFamily: getComputedStyle(document.body).fontFamily },
      grid: {
        left: 70,
        right: (axes ? 60 : 16) + (props.chart.key === "right" ? 200 : 0),
        top: props.chart.key === "top" ? 30 : 12,
        bottom: 24,
      },
      legend: {
        show: props.chart.key !== "none",
        ...(props.chart.key === "right" ? { right: 0, top: 10, orient: "vertical" } : { top: 0, left: 60 }),
        itemHeight: 9,
        textStyle: { fontSize: 11 },
      },
      tooltip: {
        trigger: "axis",
        confine: true,
        formatter: (at: { dataIndex: number }[]) => told(at[0]?.dataIndex ?? 0),
      },
      xAxis: { type: "category", data: drawing.periods.map((each) => labelled(each)) },
      yAxis: Array.from({ length: axes + 1 }, (_, at) => ({
        type: "value",
        splitLine: { show: !at, lineStyle: { color: "#e6dfcf" } },
        axisLabel: {
          fontSize: 10,
          showMaxLabel: !!limit(props.chart.high[at] ?? ""),
          showMinLabel: !bounds[at]?.min,
          formatter: (at: number) => grouped(String(at)),
        },
        ...bounds[at],
        ...(limit(props.chart.low[at] ?? "") === undefined ? {} : { min: limit(props.chart.low[at] ?? "") }),
        ...(limit(props.chart.high[at] ?? "") === undefined
          ? {}
          : { max: limit(props.chart.high[at] ?? "") }),
      })),
      series: [
        ...drawing.drawn.map(({ column, shape, values }, at) => ({
          name: nameOf(at),
          type: props.chart.lines === "own" ? shape : props.chart.lines,
          yAxisIndex: axis(at),
          data: values,
          barMaxWidth: 22,
          symbol: SYMBOLS[measures.indexOf(`${column.measure} ${column.along}`) % SYMBOLS.length],
          symbolSize: 6,
          itemStyle: {
            color: colour(column.window),
            ...decalOf(measures.indexOf(`${column.measure} ${column.along}`), shape),
          },
          lineStyle: { width: 2, type: column.window ? "dashed" : "solid" },
          ...(at || from.value === null
            ? {}
            : { markLine: { symbol: "none", data: [{ xAxis: from.value }] } }),
        })),
        ...rates.map(({ column, values }) => ({
          name: `% change against ${windowHeading(props.answer, column.window, props.statement).toLowerCase()}`,
          type: "line",
          yAxisIndex: 1,
          data: values,
          symbolSize: 4,
          itemStyle: { color: colour(column.window) },
          lineStyle: { width: 1, type: "dotted" },
        })),
      ],
    },
    true,
  );
}

function chosen(event: Event): string {
  return (event.target as HTMLInputElement | HTMLSelectElement).value;
}

function set(parts: Partial<Chart>): void {
  emit("draw", { ...props.chart, ...parts });
}

function turnSide(at: number): void {
  const id = props.drawing.drawn[at]?.column.id ?? "";
  set({ sides: { ...props.chart.sides, [id]: axis(at) ? "left" : "right" } });
}

/** A bound of the left (0) or right (1) axis. */
function bound(end: "low" | "high", at: number, text: string): void {
  const [left, right] = props.chart[end];
  set({ [end]: at ? [left, text] : [text, right] });
}

/** The picture as it stands, as SVG. */
function picture(): string {
  return box.value?.querySelector("svg")?.outerHTML ?? "";
}
defineExpose({ picture });

onMounted(() => {
  if (!box.value) return;
  drawn = echarts.init(box.value, null, { renderer: "svg" });
  watcher.observe(box.value);
  drawn
    .getZr()
    .on("click", (event: { offsetX: number; offsetY: number }) => clicked(event.offsetX, event.offsetY));
  draw();
});
onBeforeUnmount(() => {
  watcher.disconnect();
  drawn?.dispose();
});
watch(
  () => props.drawing,
  () => {
    from.value = null;
    draw();
  },
);
watch([() => props.chart, from], draw);

/** The first click marks a period, the second one the range from it: the statement then shows that range. */
function clicked(x: number, y: number): void {
  if (props.still) return;
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
      role="img"
      aria-label="The series as a chart; the table below holds its figures"
      data-test="chart"
    />
    <div v-if="!still" class="under">
      <Part name="chart-how" label="How it is drawn" adds>
        <div class="how">
          <label
            >Drawn as
            <select
              :value="chart.lines"
              data-test="chart-lines"
              @change="set({ lines: chosen($event) as Chart['lines'] })"
            >
              <option value="own">bars and lines</option>
              <option value="line">lines</option>
              <option value="bar">bars</option>
            </select></label
          >
          <label
            >Key
            <select
              :value="chart.key"
              data-test="chart-key"
              @change="set({ key: chosen($event) as Chart['key'] })"
            >
              <option value="top">above</option>
              <option value="right">right</option>
              <option value="none">hidden</option>
            </select></label
          >
          <label v-for="(each, at) in drawing.drawn" :key="each.column.id">
            <input
              type="checkbox"
              :checked="axis(at) === 1"
              :data-test="`chart-right-${each.column.id}`"
              @change="turnSide(at)"
            />
            {{ nameOf(at) }} on the right</label
          >
          <label v-if="statement.bases.length"
            ><input
              type="checkbox"
              :checked="chart.percent"
              data-test="chart-percent"
              @change="set({ percent: !chart.percent })"
            />
            % change too</label
          >
          <p v-for="(which, at) in ['left', 'right']" :key="which">
            <label
              >{{ capital(which) }} axis from
              <input
                size="7"
                :value="chart.low[at]"
                :data-test="`chart-low-${which}`"
                @change="bound('low', at, chosen($event))"
            /></label>
            <label
              >to
              <input
                size="7"
                :value="chart.high[at]"
                :data-test="`chart-high-${which}`"
                @change="bound('high', at, chosen($event))"
            /></label>
          </p>
        </div>
      </Part>
      <span v-if="of" data-test="chart-of"
        ><strong>{{ of }}</strong
        >; select another row for its own series.</span
      >
      <span class="quiet">{{
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
.chart {
  height: 172px;
}
.still {
  margin-bottom: 12px;
}
.how {
  display: grid;
  gap: 6px;
}
.how p {
  margin: 0;
  display: flex;
  gap: 8px;
}
.under {
  display: flex;
  gap: 12px;
  padding: 0 10px 3px;
  font-size: 12px;
}
</style>
