/** What a chart is drawn with: its axes, its figures by shape, colour and hatching. */
import type { EChartsCoreOption } from "echarts/core";
import { axesOf, hasBegun, percentLines } from "@/model/chart";
import type { Numbers } from "@/model/numbers";
import { cutWords } from "@/words/marks";
import type { DrawnSeries, SeriesWords } from "@/panels/series/seriesWords";

const COLOURS = ["--window-0", "--window-1", "--window-2", "--window-3", "--window-4"];

/** A colour of the page as it is now, in the light or the dark. */
export function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
}

function colour(window: number): string {
  return token(COLOURS[Math.min(window, COLOURS.length - 1)] ?? "--window-0");
}

/** How the parts of any chart look: its words, axes and what is told of a point. */
export function looks(): {
  text: object;
  axisLabel: object;
  splitLine: object;
  axisLine: object;
  tooltip: object;
} {
  return {
    text: { fontFamily: getComputedStyle(document.body).fontFamily, color: token("--ink") },
    axisLabel: { fontSize: 11, color: token("--quiet") },
    splitLine: { lineStyle: { color: token("--line") } },
    axisLine: { lineStyle: { color: token("--part") } },
    tooltip: {
      confine: true,
      backgroundColor: token("--sheet"),
      borderColor: token("--line"),
      textStyle: { color: token("--ink") },
    },
  };
}

/** A period that still runs is hatched. */
const HATCHED = {
  symbol: "rect",
  dashArrayX: [1, 0],
  dashArrayY: [3, 4],
  rotation: Math.PI / 4,
  color: "rgba(255,255,255,0.6)",
};

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

/** Pixels at the right in which lines end in their names. */
const END_LABEL = 110;

/** A line ends in its name. */
export function endLabel(name: string): object {
  return {
    show: true,
    formatter: name,
    color: "inherit",
    fontSize: 12,
    width: END_LABEL - 10,
    overflow: "truncate",
  };
}

/** A figure as it is drawn: that of a running period as a hatched bar, or as a hollow point of a line. */
function pointOf(value: number | null, window: number, type: "line" | "bar", isRunning: boolean): unknown {
  if (value === null || !isRunning || window) return value;
  return type === "bar"
    ? { value, itemStyle: { decal: HATCHED } }
    : {
        value,
        symbolSize: 9,
        itemStyle: { color: token("--sheet"), borderColor: colour(window), borderWidth: 2 },
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
  const { nameOf, shortNameOf, told, labelled, axis } = words;
  const look = looks();
  /** The bases of periods that have not begun are drawn where they are asked for. */
  const valuesOf = ({
    column,
    values,
  }: {
    column: { window: number };
    values: (number | null)[];
  }): (number | null)[] =>
    values.map((value, at) => {
      const period = drawing.periods[at];
      return column.window && period && !of.chart.ahead && !hasBegun(period, of.answer.as_of) ? null : value;
    });
  const runs = drawing.periods.map(({ windows }) => !!(windows[0] && cutWords(windows[0])));
  const typeOf = (shape: "line" | "bar"): "line" | "bar" =>
    of.chart.lines === "own" ? shape : of.chart.lines;
  const lines = drawing.drawn.filter(({ shape }) => typeOf(shape) === "line").length;
  const rates = of.chart.percent ? percentLines(of.answer, drawing) : [];
  const axes = Math.max(rates.length ? 1 : 0, ...drawing.drawn.map((_, at) => axis(at)));
  const limit = (text: string): number | undefined =>
    /^-?\d+(\.\d+)?$/.test(text.trim()) ? Number(text) : undefined;
  const onAxis = (which: number): (number | null)[] => [
    ...drawing.drawn.flatMap(({ column, values }, at) =>
      axis(at) === which ? valuesOf({ column, values }) : [],
    ),
    ...(which === 1 ? rates.flatMap(({ values }) => values) : []),
  ];
  const bounds = axesOf(Array.from({ length: axes + 1 }, (_, at) => onAxis(at)));
  const measures = [...new Set(drawing.drawn.map(({ column }) => `${column.measure} ${column.along}`))];
  return {
    animation: false,
    textStyle: look.text,
    grid: {
      left: 70,
      right: (axes ? 60 : 16) + (of.chart.key === "right" ? 200 : lines ? END_LABEL : 0),
      top: of.chart.key === "top" ? 30 : 12,
      bottom: 24,
    },
    legend: {
      show: of.chart.key !== "none",
      ...(of.chart.key === "right" ? { right: 0, top: 10, orient: "vertical" } : { top: 0, left: 60 }),
      itemHeight: 9,
      textStyle: { fontSize: 12, color: token("--ink") },
    },
    tooltip: {
      trigger: "axis",
      ...look.tooltip,
      formatter: (at: { dataIndex: number }[]) => told(at[0]?.dataIndex ?? 0),
    },
    xAxis: {
      type: "category",
      data: drawing.periods.map((each) => labelled(each)),
      axisLabel: look.axisLabel,
      axisLine: look.axisLine,
    },
    yAxis: Array.from({ length: axes + 1 }, (_, at) => ({
      type: "value",
      splitLine: { show: !at, ...look.splitLine },
      axisLabel: {
        ...look.axisLabel,
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
        type: typeOf(shape),
        yAxisIndex: axis(at),
        data: valuesOf({ column, values }).map((value, place) =>
          pointOf(value, column.window, typeOf(shape), !!runs[place]),
        ),
        ...(typeOf(shape) === "line" && of.chart.key !== "right"
          ? { endLabel: endLabel(shortNameOf(at)), labelLayout: { moveOverlap: "shiftY" } }
          : {}),
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
