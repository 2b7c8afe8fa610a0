/** The series of several rows in one picture: as lines that end in their names, or as small charts on one scale. */
import type { EChartsCoreOption } from "echarts/core";
import type { Several } from "@/model/chart";
import type { Fraction, Numbers } from "@/model/numbers";
import { endLabel, looks, token } from "@/panels/series/seriesOption";
import { periodName } from "@/words/names";

/** Small charts beside each other. */
const ACROSS = 4;
const SYMBOLS = [
  "circle",
  "rect",
  "triangle",
  "diamond",
  "emptyCircle",
  "emptyRect",
  "emptyTriangle",
  "emptyDiamond",
];

/** A length on screen; the figure itself stays exact. */
function length(value: Fraction | null, unit: string): number | null {
  if (!value) return null;
  return (Number(value.top) / Number(value.bottom)) * (unit === "percent" ? 100 : 1);
}

/** Pixels between names, and above and below the lines. */
const APART = 13;
const ABOVE = 12;
const BELOW = 24;

/** How far the names at the ends of lines step aside, so that none lies on another. ends: how high each line ends, from 0 to 1. */
export function asides(ends: (number | null)[], height: number): number[] {
  const room = height - ABOVE - BELOW;
  const known = ends.flatMap((end, at) => (end === null ? [] : [{ at, y: (1 - end) * room }]));
  known.sort((one, other) => one.y - other.y);
  const placed: number[] = [];
  for (const { y } of known) placed.push(Math.max(y, (placed.at(-1) ?? -APART) + APART));
  // What was pushed out at the bottom pushes back up.
  for (let at = placed.length - 1, most = room; at >= 0; at -= 1, most -= APART)
    placed[at] = Math.min(placed[at] ?? 0, most);
  const found = ends.map(() => 0);
  known.forEach(({ at, y }, place) => (found[at] = (placed[place] ?? y) - y));
  return found;
}

export function severalOption(
  { column, periods, rows }: Several,
  how: "lines" | "multiples",
  { rounded }: Numbers,
  /** Pixels that the picture is high. */
  height: number,
): EChartsCoreOption {
  const look = looks();
  const names = periods.map(({ key }) => (key.length > 2 ? periodName(key) : key));
  const values = rows.map((row) => row.values.map((each) => length(each, column.unit)));
  const known = values.flat().filter((each): each is number => each !== null);
  const scale = { min: Math.min(0, ...known), max: Math.max(0, ...known) * 1.08 };
  const text = (row: number, at: number): string => {
    const value = rows[row]?.values[at];
    if (!value) return "–";
    const percent = column.unit === "percent";
    return (
      rounded(percent ? { ...value, top: value.top * 100n } : value, column.decimals) + (percent ? "%" : "")
    );
  };
  const told = (points: { seriesIndex: number; dataIndex: number }[]): string => {
    const at = points[0]?.dataIndex ?? 0;
    const lines = points.map(({ seriesIndex }) => {
      const name = (rows[seriesIndex]?.label ?? "").replaceAll("&", "&amp;").replaceAll("<", "&lt;");
      return `<div style="display:flex;gap:14px;justify-content:space-between"><span>${name}</span><b>${text(seriesIndex, at)}</b></div>`;
    });
    return `<b>${names[at] ?? ""}</b>${lines.join("")}`;
  };
  const base = {
    animation: false,
    textStyle: look.text,
    tooltip: { trigger: "axis", ...look.tooltip, formatter: told },
  };
  const lastOf = (row: (number | null)[]): number | null => row.findLast((each) => each !== null) ?? null;
  const span = scale.max - scale.min || 1;
  const offsets = asides(
    values.map((row) => {
      const last = lastOf(row);
      return last === null ? null : (last - scale.min) / span;
    }),
    height,
  );
  const yLabel = {
    ...look.axisLabel,
    formatter: (at: number) => rounded({ top: BigInt(Math.round(at)), bottom: 1n }, 0),
  };
  if (how === "lines")
    return {
      ...base,
      grid: { left: 70, right: 140, top: ABOVE, bottom: BELOW },
      xAxis: { type: "category", data: names, axisLabel: look.axisLabel, axisLine: look.axisLine },
      yAxis: {
        type: "value",
        ...scale,
        splitLine: look.splitLine,
        axisLabel: { ...yLabel, showMaxLabel: false },
      },
      series: rows.map((row, at) => ({
        name: row.label,
        type: "line",
        data: values[at],
        symbol: SYMBOLS[at % SYMBOLS.length],
        symbolSize: 7,
        itemStyle: { color: token("--window-0"), opacity: at < rows.length ? 1 : 0.5 },
        lineStyle: { width: 1.6, type: at % 3 === 1 ? "dashed" : at % 3 === 2 ? "dotted" : "solid" },
        emphasis: { focus: "series", lineStyle: { width: 3 } },
        endLabel: { ...endLabel(row.label), offset: [0, offsets[at] ?? 0] },
      })),
    };
  const down = Math.ceil(rows.length / ACROSS);
  const place = (at: number): object => ({
    left: `${((at % ACROSS) * 100) / ACROSS + 1.5}%`,
    width: `${100 / ACROSS - 3}%`,
    top: `${(Math.floor(at / ACROSS) * 100) / down + 100 / down / 5}%`,
    height: `${(100 / down) * 0.62}%`,
  });
  return {
    ...base,
    title: rows.map((row, at) => ({
      text: row.label,
      left: `${((at % ACROSS) * 100) / ACROSS + 1.5}%`,
      top: `${(Math.floor(at / ACROSS) * 100) / down}%`,
      textStyle: { fontSize: 12, fontWeight: 600, color: token("--ink") },
    })),
    grid: rows.map((_, at) => place(at)),
    xAxis: rows.map((_, at) => ({
      type: "category",
      gridIndex: at,
      data: names,
      axisLabel: { ...look.axisLabel, fontSize: 10, interval: Math.max(names.length - 2, 0) },
      axisLine: look.axisLine,
      axisTick: { show: false },
    })),
    yAxis: rows.map((_, at) => ({
      type: "value",
      gridIndex: at,
      ...scale,
      splitNumber: 2,
      splitLine: look.splitLine,
      axisLabel: { show: false },
    })),
    series: rows.map((row, at) => ({
      name: row.label,
      type: "bar",
      xAxisIndex: at,
      yAxisIndex: at,
      data: values[at],
      itemStyle: { color: token("--window-0") },
    })),
  };
}
