/** The working table: columns with their bars, and which rows are drawn. */
import type { Answer, AnsweredColumn, Row } from "@/contract";
import { lengthOf } from "./numbers";

export interface ShownColumn {
  column: AnsweredColumn;
  /** Position among the answer's cells. */
  at: number;
  /** Whether a bar of the change stands after the number. */
  bar: boolean;
}

export interface MeasureGroup {
  measure: string;
  columns: ShownColumn[];
}

/** Columns by measure, in the answer's order. */
export function groups(answer: Answer): MeasureGroup[] {
  const found: MeasureGroup[] = [];
  answer.columns.forEach((column, at) => {
    let group = found.at(-1);
    if (!group || group.measure !== column.measure) {
      group = { measure: column.measure, columns: [] };
      found.push(group);
    }
    group.columns.push({ column, at, bar: column.kind === "difference" });
  });
  return found;
}

/** The largest change by column position and depth, so that bars compare siblings; the total row takes no part. */
export function largestChanges(rows: Row[], columns: ShownColumn[]): Map<string, number> {
  const largest = new Map<string, number>();
  for (const row of rows) {
    for (const { at, bar } of columns) {
      const cell = row.cells[at];
      if (!bar || !cell) continue;
      const key = `${at}-${row.path.length}`;
      largest.set(key, Math.max(largest.get(key) ?? 0, Math.abs(lengthOf(cell))));
    }
  }
  return largest;
}

/** The rows to draw for a scroll position: a few more than are seen. */
export function drawn(
  count: number,
  scrolled: number,
  height: number,
  rowHeight: number,
): { first: number; last: number } {
  const margin = 8;
  const first = Math.max(0, Math.floor(scrolled / rowHeight) - margin);
  return { first, last: Math.min(count, Math.ceil((scrolled + height) / rowHeight) + margin) };
}
