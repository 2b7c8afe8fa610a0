/** A large answer comes with the cells of some rows; the others are filled as they come into view. */
import type { Answer, MemberKey, Row } from "@/contract";

/** Rows that come with their cells at first: more than a screen shows. */
export const FIRST_ROWS = 60;
/** Rows asked for at a time. */
export const MOST_AT_ONCE = 2_000;
/** Cells up to which a large table is filled whole, to be copied or checked against. */
export const MOST_FILLED = 200_000;

function nameOf(path: MemberKey[], rest: number | null | undefined): string {
  return JSON.stringify([path, typeof rest === "number"]);
}

/** Where each row of an answer stands. Rows that are laid out are copies: they are found again by what they stand for. */
export function placesOf(answer: Answer): Map<string, number> {
  return new Map(answer.rows.map((row, at) => [nameOf(row.path, row.rest), at]));
}

export function isFilled(row: Row, answer: Answer): boolean {
  return !answer.partial || row.cells.length > 0;
}

/** The places of those rows that have no cells yet. */
export function emptyPlaces(answer: Answer, places: Map<string, number>, rows: Row[]): number[] {
  return rows.flatMap((row) => {
    const at = places.get(nameOf(row.path, row.rest));
    return at === undefined || isFilled(answer.rows[at] ?? row, answer) ? [] : [at];
  });
}

/** The answer with some rows filled; null where one of them is not the row that stands there. */
export function filledWith(answer: Answer, places: number[], rows: Row[]): Answer | null {
  const next = [...answer.rows];
  for (const [number, at] of places.entries()) {
    const [row, known] = [rows[number], next[at]];
    if (!row || !known || nameOf(row.path, row.rest) !== nameOf(known.path, known.rest)) return null;
    next[at] = row;
  }
  return { ...answer, rows: next };
}
