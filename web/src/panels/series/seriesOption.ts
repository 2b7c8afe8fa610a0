/** What a chart is drawn with: its axes, its figures by shape, colour and hatching. */
import type { EChartsCoreOption } from "echarts/core";
import { axesOf, percentLines } from "@/model/chart";
import type { Numbers } from "@/model/numbers";
import type { DrawnSeries, SeriesWords } from "@/panels/series/seriesWords";

const COLOURS = ["--window-0", "--window-1", "--window-2", "--window-3", "--window-4"];

function colour(window: number): string {
  const name = COLOURS[Math.min(window, COLOURS.length - 1)] ?? "--window-0";
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
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

/** from: the place of a period that is marked; null where none is. */
export function seriesOption(
  of: DrawnSeries,
  words: SeriesWords,
  { grouped }: Numbers,
  from: number | null,
): EChartsCoreOption {
  const { drawing } = of;
  const { nameOf, told, labelled, axis } = words;
  const rates = of.chart.percent ? percentLines(of.answer, drawing) : [];
  const axes = Math.max(rates.length ? 1 : 0, ...drawing.drawn.map((_, at) => axis(at)));
  const limit = (text: string): number | undefined =>
    /^-?\d+(\.\d+)?$/.test(text.trim()) ? Number(text) : undefined;
  const onAxis = (side: number): (number | null)[] => [
    ...drawing.drawn.flatMap(({ values }, at) => (axis(at) === side ? values : [])),
    ...(side === 1 ? rates.flatMap(({ values }) => values) : []),
  ];
  const bounds = axesOf(Array.from({ length: axes + 1 }, (_, at) => onAxis(at)));
  const measures = [...new Set(drawing.drawn.map(({ column }) => `${column.measure} ${column.along}`))];
  return {
    animation: false,
    textStyle: { fontFamily: getComputedStyle(document.body).fontFamily },
    grid: {
      left: 70,
      right: (axes ? 60 : 16) + (of.chart.key === "right" ? 200 : 0),
      top: of.chart.key === "top" ? 30 : 12,
      bottom: 24,
    },
    legend: {
      show: of.chart.key !== "none",
      ...(of.chart.key === "right" ? { right: 0, top: 10, orient: "vertical" } : { top: 0, left: 60 }),
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
        showMaxLabel: !!limit(of.chart.high[at] ?? ""),
        showMinLabel: !bounds[at]?.min,
        formatter: (at: number) => grouped(String(at)),
      },
      ...bounds[at],
      ...(limit(of.chart.low[at] ?? "") === undefined ? {} : { min: limit(of.chart.low[at] ?? "") }),
      ...(limit(of.chart.high[at] ?? "") === undefined ? {} : { max: limit(of.chart.high[at] ?? "") }),
    })),
    series: [
      ...drawing.drawn.map(({ column, shape, values }, at) => ({
        name: nameOf(at),
        type: of.chart.lines === "own" ? shape : of.chart.lines,
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
        ...(at || from === null ? {} : { markLine: { symbol: "none", data: [{ xAxis: from }] } }),
      })),
      ...rates.map(({ column, values }) => ({
        name: `% change against ${of.answer.told.windows[column.window]?.toLowerCase()}`,
        type: "line",
        yAxisIndex: 1,
        data: values,
        symbolSize: 4,
        itemStyle: { color: colour(column.window) },
        lineStyle: { width: 1, type: "dotted" },
      })),
    ],
  };
}
