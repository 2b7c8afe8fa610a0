/** What is on screen as a plain table: fields parted by tabs, exact figures, undefined cells empty. */
import type { Answer, Row } from "@/contract";

/** One heading a column, in words; the row's own columns first. */
export function plainTable(
  answer: Answer,
  rowHeadings: string[],
  headings: string[],
  labels: (row: Row) => string[],
  totals: "below" | "above" | "off" = "below",
): string {
  const lines = [[...rowHeadings, ...headings]];
  const { rows, total } = answer;
  const shown = totals === "off" ? rows : totals === "above" ? [total, ...rows] : [...rows, total];
  for (const row of shown) {
    const own = labels(row);
    const padded = [...own, ...Array<string>(Math.max(rowHeadings.length - own.length, 0)).fill("")];
    lines.push([...padded, ...row.cells.map((cell) => cell.value ?? "")]);
  }
  return lines.map((line) => line.map(cleaned).join("\t")).join("\n");
}

/** A field that breaks no table, and that no spreadsheet runs. */
function cleaned(text: string): string {
  const flat = text.replace(/[\t\r\n]+/g, " ");
  return /^[=+@]/.test(flat) || /^-[^\d]/.test(flat) ? `'${flat}` : flat;
}
