/** A block of selected cells: how many, and for additive measures their sum and mean. */
import type { Row } from "@/contract";
import type { Line } from "./lines";
import { fractionOf, type Fraction } from "./numbers";

export interface Block {
  /** Positions of lines and of what stands under headings, both ends counted. */
  from: [line: number, slot: number];
  to: [line: number, slot: number];
}

export interface Summed {
  count: number;
  /** Null where a cell is of no additive measure, or cells of several measures or windows are among them. */
  sum: Fraction | null;
  /** Rows of it that have no cells yet. */
  missing: Row[];
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

/** What a block adds up to. Cells without a value count as cells and add nothing. */
export function summed(lines: Line[], block: Block): Summed {
  const { top, bottom, left, right } = bounds(block);
  const chosen = lines.slice(top, bottom + 1);
  const missing = chosen.filter((line) => !line.row.cells.length).map((line) => line.row);
  const cells = chosen.flatMap((line) =>
    line.columns.slice(left, right + 1).flatMap((each) => {
      const cell = each && line.row.cells[each.at];
      return cell ? [{ column: each.column, cell }] : [];
    }),
  );
  const one = cells[0]?.column;
  const adds = cells.every(
    ({ column }) =>
      column.measure_kind === "additive" &&
      column.measure === one?.measure &&
      !column.along &&
      (column.kind === "value" || column.kind === "difference") &&
      column.kind === one.kind,
  );
  let sum: Fraction = { top: 0n, bottom: 1n };
  for (const { cell } of cells) {
    const value = fractionOf(cell);
    if (adds && value) sum = added(sum, value);
  }
  return { count: cells.length, sum: adds && !missing.length ? sum : null, missing };
}

function added(one: Fraction, other: Fraction): Fraction {
  // Cells of a measure have the same decimals: their fractions need not grow.
  if (one.bottom === other.bottom) return { top: one.top + other.top, bottom: one.bottom };
  return { top: one.top * other.bottom + other.top * one.bottom, bottom: one.bottom * other.bottom };
}
