/** A block of selected cells: how many, and for additive measures their sum and mean. */
import type { Answer, Row } from "@/contract";
import { fractionOf, type Fraction } from "./numbers";

export interface Block {
  /** Row and column positions, both ends counted; the total row comes after the rows. */
  from: [row: number, column: number];
  to: [row: number, column: number];
}

export interface Summed {
  count: number;
  /** Null where a cell is of no additive measure, or cells of several measures or windows are among them. */
  sum: Fraction | null;
}

/** The corners in order. */
export function bounds(block: Block): { top: number; bottom: number; left: number; right: number } {
  return {
    top: Math.min(block.from[0], block.to[0]),
    bottom: Math.max(block.from[0], block.to[0]),
    left: Math.min(block.from[1], block.to[1]),
    right: Math.max(block.from[1], block.to[1]),
  };
}

export function isWithin(block: Block, row: number, column: number): boolean {
  const { top, bottom, left, right } = bounds(block);
  return row >= top && row <= bottom && column >= left && column <= right;
}

/** What a block adds up to. Cells without a value count as cells and add nothing. */
export function summed(answer: Answer, rows: Row[], block: Block): Summed {
  const { top, bottom, left, right } = bounds(block);
  const columns = answer.columns.slice(left, right + 1);
  const one = columns[0];
  const adds = columns.every(
    (each) =>
      each.measure_kind === "additive" &&
      each.measure === one?.measure &&
      !each.along &&
      (each.kind === "value" || each.kind === "difference") &&
      each.kind === one.kind,
  );
  let sum: Fraction = { top: 0n, bottom: 1n };
  let count = 0;
  for (const row of rows.slice(top, bottom + 1)) {
    for (const cell of row.cells.slice(left, right + 1)) {
      count += 1;
      const value = fractionOf(cell);
      if (adds && value) sum = added(sum, value);
    }
  }
  return { count, sum: adds ? sum : null };
}

function added(one: Fraction, other: Fraction): Fraction {
  // Cells of a measure have the same decimals: their fractions need not grow.
  if (one.bottom === other.bottom) return { top: one.top + other.top, bottom: one.bottom };
  return { top: one.top * other.bottom + other.top * one.bottom, bottom: one.bottom * other.bottom };
}
