/** What is on screen as a plain table: fields parted by tabs, exact figures, undefined cells empty. */
import type { Line } from "./lines";

/** One heading a column, in words; a line's own names first. */
export function plainTable(
  lines: Line[],
  lineHeadings: string[],
  headings: string[],
  labels: (line: Line) => string[],
): string {
  const all = [[...lineHeadings, ...headings]];
  for (const line of lines) all.push([...labels(line), ...exactFigures(line)]);
  return all.map((line) => line.map(cleaned).join("\t")).join("\n");
}

/** The exact figures of a line, or of some of what stands under its headings; empty where there is none. */
export function exactFigures({ row, columns }: Line, first = 0, last = columns.length - 1): string[] {
  return columns.slice(first, last + 1).map((each) => (each && row.cells[each.at]?.value) ?? "");
}

/** A field that breaks no table, and that no spreadsheet runs. */
function cleaned(text: string): string {
  const flat = text.replace(/[\t\r\n]+/g, " ");
  return /^[=+@]/.test(flat) || /^-[^\d]/.test(flat) ? `'${flat}` : flat;
}
