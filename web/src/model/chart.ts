/** A series as what a chart draws: its periods, and a line or a row of bars per window of each metric. */
import type { Answer, AnsweredColumn, AnsweredWindow, Grain, Row, Statement } from "@/contract";
import { fractionOf, lengthOf, roundedPlain, type Fraction } from "./numbers";

export interface Drawn {
  column: AnsweredColumn;
  /** A line for what runs along the periods and for ratios, bars for the periods' own figures. */
  shape: "line" | "bar";
  /** Per period: the figure as a length on screen (of percentages parts of a hundred), null where there is none. */
  values: (number | null)[];
}

export interface SeriesDrawing {
  /** The level of time that is drawn: the finest that is open. */
  grain: Grain;
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
  const first = answer.columns.find((each) => each.kind === "value" && !each.across.length)?.measure;
  const drawn = answer.columns.flatMap((column, at): Drawn[] => {
    if (column.kind !== "value" || column.across.length) return [];
    const values = periods.map(({ row }) => {
      const cell = row.cells[at];
      return !cell || cell.value === null ? null : lengthOf(cell) * (column.unit === "percent" ? 100 : 1);
    });
    const runs = !!column.along || column.measure_kind === "derived";
    // Two measures are told apart by their shape: the second one is a line, on an axis of its own.
    return [{ column, shape: runs || column.measure !== first ? "line" : "bar", values }];
  });
  const level = statement.rows[deepest - 1];
  const isDrawn = periods.length > 1 && drawn.length && level && typeof level !== "string";
  return isDrawn ? { grain: level.time, periods, drawn } : null;
}

/** What a chart draws, and the answer that it is drawn from. */
export interface Series {
  answer: Answer;
  statement: Statement;
  drawing: SeriesDrawing;
  /** The row whose series it is, where time stands across; null where each period is a row. */
  row: Row | null;
}

/** The series of an answer with time down, or of one row of an answer with time across; null where there is none. */
export function seriesOf(answer: Answer, statement: Statement, row: Row = answer.total): Series | null {
  const down = drawingOf(answer, statement);
  if (down) return { answer, statement, drawing: down, row: null };
  const turned = timesFirst(statement) ? null : turnedDown(answer, statement, row);
  const drawing = turned && drawingOf(turned.answer, turned.statement);
  return turned && drawing ? { ...turned, drawing, row } : null;
}

/** One row of an answer with time across, as an answer with a row for each period. */
function turnedDown(
  answer: Answer,
  statement: Statement,
  row: Row,
): { answer: Answer; statement: Statement } | null {
  const first = statement.across.findIndex((each) => typeof each === "string");
  const levels = statement.across.slice(0, first < 0 ? undefined : first);
  if (!levels.length || !row.cells.length) return null;
  const columns = answer.columns.filter((each) => !each.across.length);
  const rows = answer.periods.flatMap((period, slot): Row[] => {
    const path = period.across;
    if (period.down.length || !path.length || path.length > levels.length) return [];
    const cells = columns.flatMap((like) => {
      const id = columnIn(like, path);
      const at = answer.columns.findIndex((each) => columnIn(each, each.across) === id);
      return row.cells[at] ?? [];
    });
    const label = path.at(-1) ?? "";
    return cells.length === columns.length ? [{ ...row, path, label, slot, rest: null, cells }] : [];
  });
  return { answer: { ...answer, columns, rows }, statement: { ...statement, rows: levels, across: [] } };
}

/** What a column shows and where across, whatever stands there. */
function columnIn({ measure, along, kind, window, step, scope }: AnsweredColumn, across: unknown): string {
  return JSON.stringify([measure, along, kind, window, step, scope, across]);
}

/** Other measures than the first stand on an axis of their own, on the right. */
export function axisOf(drawing: SeriesDrawing, at: number): 0 | 1 {
  return drawing.drawn[at]?.column.measure === drawing.drawn[0]?.column.measure ? 0 : 1;
}

/** Whether a period has begun by the as-of date. */
export function hasBegun({ windows }: SeriesDrawing["periods"][number], asOf: string): boolean {
  const first = windows[0]?.period?.first ?? windows[0]?.asked?.first;
  return first === undefined || first <= asOf;
}

/** Rows whose series stand in one chart; more of them are no picture. */
export const MOST_ROWS = 10;

/** The series of several rows: each one's figure of the first measure in every period, exactly; null where there is none. */
export interface Several {
  column: AnsweredColumn;
  periods: SeriesDrawing["periods"];
  rows: { label: string; values: (Fraction | null)[] }[];
  /** All rows that there are to pick from. */
  offered: { key: string; label: string }[];
}

/**
 * Rows of a table with time across, the others as one where they add up; null where there are no such rows. picked: the keys of
 * those that are drawn; the first ones where none of them is there.
 */
export function severalOf(answer: Answer, statement: Statement, picked: string[] = []): Several | null {
  const outer = answer.rows.filter((row) => row.path.length === 1 && row.cells.length);
  const chosen = outer.filter((row) => picked.includes(row.path[0] ?? ""));
  const shown = (chosen.length ? chosen : outer).slice(0, MOST_ROWS);
  const series = shown.map((row) => ({ row, found: seriesOf(answer, statement, row) }));
  const [head] = series;
  if (outer.length < 2 || !head?.found || head.found.row === null) return null;
  const column = head.found.drawing.drawn[0]?.column;
  if (!column) return null;
  const valuesOf = (row: Row): (Fraction | null)[] => {
    const found = seriesOf(answer, statement, row);
    const at = found?.answer.columns.indexOf(found.drawing.drawn[0]?.column as AnsweredColumn) ?? -1;
    return (
      found?.drawing.periods.map(({ row: each }) => (each.cells[at] ? fractionOf(each.cells[at]) : null)) ??
      []
    );
  };
  const rows = shown.map((row) => ({ label: row.label, values: valuesOf(row) }));
  const others = outer.filter((row) => !shown.includes(row));
  if (others.length && column.measure_kind === "additive") {
    const each = others.map(valuesOf);
    const sums = head.found.drawing.periods.map((_, at) => sumOf(each.map((values) => values[at] ?? null)));
    rows.push({ label: `the other ${others.length}`, values: sums });
  }
  const offered = outer.flatMap(({ path: [key], label, rest }) =>
    typeof key === "string" && typeof rest !== "number" ? [{ key, label }] : [],
  );
  return { column, periods: head.found.drawing.periods, rows, offered };
}

/** null counts as nothing, unless there is nothing else. */
function sumOf(values: (Fraction | null)[]): Fraction | null {
  const known = values.filter((each): each is Fraction => each !== null);
  if (!known.length) return null;
  return known.reduce((sum, each) => ({
    top: sum.top * each.bottom + each.top * sum.bottom,
    bottom: sum.bottom * each.bottom,
  }));
}

/** A figure of a period against its base, exactly. percent: null where the base is 0 or below, and of percentages. */
export interface PeriodChange {
  column: AnsweredColumn;
  difference: Fraction;
  percent: Fraction | null;
}

/** The changes of a period against each base that is drawn, whether the table shows them or not. */
export function changesOf(answer: Answer, drawing: SeriesDrawing, row: Row): PeriodChange[] {
  return drawing.drawn.flatMap(({ column }) => changeOf(answer, row, column) ?? []);
}

/** A row's current figure against that of a base's column; null where there is none of either. */
export function changeOf(answer: Answer, row: Row, column: AnsweredColumn): PeriodChange | null {
  if (!column.window) return null;
  const now = valueAt(answer, row, column, 0);
  const then = valueAt(answer, row, column, column.window);
  if (!now || !then) return null;
  const top = now.top * then.bottom - then.top * now.bottom;
  const difference = { top, bottom: now.bottom * then.bottom };
  const isRatio = column.unit !== "percent" && then.top > 0n;
  return { column, difference, percent: isRatio ? { top, bottom: now.bottom * then.top } : null };
}

function valueAt(answer: Answer, row: Row, like: AnsweredColumn, window: number): Fraction | null {
  const at = answer.columns.findIndex(
    (each) =>
      each.kind === "value" &&
      each.window === window &&
      each.measure === like.measure &&
      each.along === like.along &&
      !each.across.length,
  );
  const cell = row.cells[at];
  return cell ? fractionOf(cell) : null;
}

/** The % changes against each base as lines: parts of a hundred. */
export function percentLines(
  answer: Answer,
  drawing: SeriesDrawing,
): { column: AnsweredColumn; values: (number | null)[] }[] {
  return drawing.drawn.flatMap(({ column }) => {
    if (!column.window || column.unit === "percent") return [];
    const values = drawing.periods.map(({ row }) => {
      const percent = changesOf(answer, drawing, row).find((each) => each.column === column)?.percent;
      return percent ? Number(roundedPlain(percent, 6)) * 100 : null;
    });
    return [{ column, values }];
  });
}

/** Room above the largest figure, as a part of the axis. */
const HEADROOM = 0.08;

/**
 * The ends of the axes of a chart, each with headroom: 0 stands at the same height on all of them. values: per axis what stands
 * on it. Nothing is said of an axis without figures.
 */
export function axesOf(values: (number | null)[][]): { min?: number; max?: number }[] {
  const ends = values.map((each) => {
    const known = each.filter((value): value is number => value !== null);
    return { low: Math.min(0, ...known), high: Math.max(0, ...known), known: known.length > 0 };
  });
  // How much of an axis lies below 0: the largest part of any of them counts for all.
  const below = Math.max(
    0,
    ...ends.map(({ low, high, known }) => (known && high > low ? -low / (high - low) : 0)),
  );
  return ends.map(({ low, high, known }) => {
    if (!known || high === low) return {};
    // Figures that are all below 0 need no room above it, unless another axis has figures there.
    const above = 1 - below;
    const size = Math.max(above > 0 ? high / above : 0, below > 0 ? -low / below : 0) * (1 + HEADROOM);
    return { min: tidy(-below * size), max: tidy(above * size) };
  });
}

/** Without the dust of binary fractions; it is a length on screen. */
function tidy(value: number): number {
  return Number(value.toPrecision(6)) || 0;
}
