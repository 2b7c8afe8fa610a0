/** The working table: columns with their bars, and which rows are drawn. */
import type { Answer, AnsweredColumn, Layout, Row } from "@/contract";
import { lengthOf } from "./numbers";

export interface ShownColumn {
  column: AnsweredColumn;
  /** Position among the answer's cells. */
  at: number;
  /** Whether a bar of the change stands after the number. */
  bar: boolean;
}

export interface MeasureGroup {
  /** The member or period across, where it stands under one. */
  across: string[];
  measure: string;
  along: string;
  name: string;
  columns: ShownColumn[];
}

/** The columns of an answer with their bars. */
export function shownColumns(answer: Answer): ShownColumn[] {
  return answer.columns.map((column, at) => ({ column, at, bar: column.kind === "difference" }));
}

/** Columns by what stands across and (unless measures stand below each other) by metric, in their order. */
export function groupsOf(columns: ShownColumn[], layout: Layout): MeasureGroup[] {
  const found: MeasureGroup[] = [];
  for (const each of columns) {
    const { column } = each;
    let group = found.at(-1);
    const across = column.across_labels;
    if (
      !group ||
      (layout.measures === "beside" && (group.measure !== column.measure || group.along !== column.along)) ||
      group.across.join("\n") !== across.join("\n")
    ) {
      group = { across, measure: column.measure, along: column.along, name: column.name, columns: [] };
      found.push(group);
    }
    group.columns.push(each);
  }
  return found;
}

const BAR = 72;

/** How wide a column is drawn, its bar with it. */
export function widthOf({ column, bar }: ShownColumn, layout: Layout): number {
  const own = layout.widths[column.id] ?? (column.unit === "percent" || column.unit === "points" ? 84 : 112);
  return own + (bar ? BAR : 0);
}

/** The largest change by column position and depth, so that bars compare siblings; the total row takes no part. */
export function largestChanges(rows: Row[], columns: ShownColumn[]): Map<string, number> {
  const largest = new Map<string, number>();
  const barred = columns.filter((each) => each.bar);
  for (const row of rows) {
    if (!row.cells.length) continue;
    for (const { at } of barred) {
      const cell = row.cells[at];
      if (!cell) continue;
      const key = `${at}-${row.path.length}`;
      largest.set(key, Math.max(largest.get(key) ?? 0, Math.abs(lengthOf(cell))));
    }
  }
  return largest;
}
