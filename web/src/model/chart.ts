/** A series as what a chart draws: its periods, and a line or a row of bars per window of each metric. */
import type { Answer, AnsweredColumn, AnsweredWindow, Row, Statement } from "@/contract";
import { lengthOf } from "./numbers";

export interface Drawn {
  column: AnsweredColumn;
  /** A line for what runs along the periods and for ratios, bars for the periods' own figures. */
  shape: "line" | "bar";
  /** Per period: the figure as a length on screen, null where there is none. */
  values: (number | null)[];
}

export interface SeriesDrawing {
  periods: { key: string; row: Row; windows: AnsweredWindow[] }[];
  drawn: Drawn[];
}

/** How many levels of time the rows begin with. */
function timesFirst(statement: Statement): number {
  const first = statement.rows.findIndex((each) => typeof each === "string");
  return first < 0 ? statement.rows.length : first;
}

/** The finest open level of time of a series whose rows begin with it; null where there is no such series. */
export function drawingOf(answer: Answer, statement: Statement): SeriesDrawing | null {
  const levels = timesFirst(statement);
  if (!levels || !answer.periods.length) return null;
  const timed = answer.rows.filter((row) => row.path.length <= levels && row.rest == null);
  const deepest = Math.max(0, ...timed.map((row) => row.path.length));
  const rows = timed.filter((row) => row.path.length === deepest);
  const periods = rows.flatMap((row) => {
    const period = typeof row.slot === "number" ? answer.periods[row.slot] : undefined;
    return period ? [{ key: row.path.at(-1) ?? "", row, windows: period.windows }] : [];
  });
  const drawn = answer.columns.flatMap((column, at): Drawn[] => {
    if (column.kind !== "value" || column.across.length) return [];
    const values = periods.map(({ row }) => {
      const cell = row.cells[at];
      return !cell || cell.value === null ? null : lengthOf(cell);
    });
    const runs = !!column.along || column.measure_kind === "derived";
    return [{ column, shape: runs ? "line" : "bar", values }];
  });
  return periods.length > 1 && drawn.length ? { periods, drawn } : null;
}

/** Metrics of other units than the first stand on an axis of their own, on the right. */
export function axisOf(drawing: SeriesDrawing, at: number): 0 | 1 {
  return drawing.drawn[at]?.column.unit === drawing.drawn[0]?.column.unit ? 0 : 1;
}

/** The % changes of the table's columns as lines: parts of a hundred. */
export function percentLines(
  answer: Answer,
  drawing: SeriesDrawing,
): { column: AnsweredColumn; values: (number | null)[] }[] {
  return answer.columns.flatMap((column, at) => {
    if (column.kind !== "percent_change" || column.across.length) return [];
    const values = drawing.periods.map(({ row }) => {
      const cell = row.cells[at];
      return !cell || cell.value === null ? null : lengthOf(cell) * 100;
    });
    return [{ column, values }];
  });
}
