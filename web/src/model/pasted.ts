/** A known answer laid beside the table: pasted as plain text, its figures are found again by their row and column. */
import type { Answer, Row } from "@/contract";
import { fractionOf, type Fraction } from "./numbers";

export interface Compared {
  row: string;
  column: string;
  wanted: string;
  verdict: "equal" | "different" | "absent";
  /** Where it stands in the table, for its proof. */
  spot: { row: Row; column: string } | null;
}

/** Fields of a pasted table: parted by tabs, or by semicolons, or by commas where there is neither. */
export function fieldsOf(text: string): string[][] {
  const lines = text.split(/\r?\n/).filter((line) => line.trim());
  const mark = ["\t", ";"].find((each) => lines.some((line) => line.includes(each))) ?? ",";
  return lines.map((line) => split(line, mark));
}

function split(line: string, mark: string): string[] {
  const found: string[] = [];
  let field = "";
  let quoted = false;
  for (const sign of line) {
    if (sign === '"') quoted = !quoted;
    else if (sign === mark && !quoted) {
      found.push(field.trim());
      field = "";
    } else field += sign;
  }
  return [...found, field.trim()];
}

/** A number as people write it: 1,234.50 or 1.234,50, a sign before or brackets around it, a percent sign after it. */
export function numberIn(text: string): Fraction | null {
  let plain = text.replace(/[\s\u00a0\u202f']/g, "").replaceAll("−", "-");
  const percent = plain.endsWith("%");
  if (percent) plain = plain.slice(0, -1);
  const negative = /^\(.*\)$/.test(plain) || plain.startsWith("-");
  plain = plain.replace(/^[(+-]+|\)$/g, "").replace(/^[^\d.,]+|[^\d.,]+$/g, "");
  const comma = plain.lastIndexOf(",");
  const point = plain.lastIndexOf(".");
  const groupedBy = (mark: string): boolean => new RegExp(`^\\d{1,3}(\\${mark}\\d{3})+$`).test(plain);
  if (comma > point && !(point < 0 && groupedBy(","))) plain = plain.replaceAll(".", "").replace(",", ".");
  else plain = plain.replaceAll(",", "");
  if (!/^\d*\.?\d+$|^\d+\.$/.test(plain)) return null;
  const [whole = "0", part = ""] = plain.split(".");
  const bottom = 10n ** BigInt(part.length) * (percent ? 100n : 1n);
  const top = BigInt((whole || "0") + part);
  return { top: negative ? -top : top, bottom };
}

/** The digits after the point that a number was written with: what it is compared to. */
function decimalsOf(text: string, value: Fraction): number {
  const percent = text.trim().endsWith("%") ? 2 : 0;
  return Math.max(value.bottom.toString().length - 1, percent);
}

/** Whether a cell, rounded as the pasted figure is, is that figure. */
function agrees(cell: Fraction, wanted: Fraction, decimals: number): boolean {
  const scale = 10n ** BigInt(decimals);
  const negative = cell.top < 0n;
  const size = negative ? -cell.top : cell.top;
  const units = (size * scale * 2n + cell.bottom) / (2n * cell.bottom);
  return (negative ? -units : units) * wanted.bottom === wanted.top * scale;
}

/**
 * Each figure of a pasted table with its verdict. Its first line holds headings, the fields of a line before its first number are
 * the row's names. headings: of the table's columns, in words. labels: a row's names from the outside in.
 */
export function compared(
  text: string,
  answer: Answer,
  headings: string[],
  labels: (row: Row) => string[],
): Compared[] {
  const [head = [], ...lines] = fieldsOf(text);
  const rows = [...answer.rows, answer.total].map((row) => ({ row, names: labels(row).map(plainName) }));
  const columns = new Map(headings.map((each, at) => [plainHeading(each), at]));
  return lines.flatMap((line) => {
    const named = firstNumber(line);
    const names = line.slice(0, named).map(plainName).filter(Boolean);
    const found = rows.find((each) => sameNames(each.names, names));
    return line.slice(named).flatMap((field, at): Compared[] => {
      const wanted = numberIn(field);
      if (wanted === null) return [];
      const heading = head[named + at] ?? "";
      const place = columns.get(plainHeading(heading)) ?? (head.length ? undefined : at);
      const shared = {
        row: line.slice(0, named).filter(Boolean).join(" › "),
        column: heading,
        wanted: field,
      };
      const cell = place === undefined ? undefined : found?.row.cells[place];
      const column = place === undefined ? undefined : answer.columns[place];
      const value = cell ? fractionOf(cell) : null;
      if (!found || !column || value === null) return [{ ...shared, verdict: "absent", spot: null }];
      const verdict = agrees(value, wanted, decimalsOf(field, wanted)) ? "equal" : "different";
      return [{ ...shared, verdict, spot: { row: found.row, column: column.id } }];
    });
  });
}

function firstNumber(line: string[]): number {
  const at = line.findIndex((field, place) => place > 0 && numberIn(field) !== null);
  return at < 0 ? line.length : at;
}

function plainName(text: string): string {
  return text.trim().replace(/\s+/g, " ").toLowerCase();
}

/** A heading without the marks between its words: whoever writes it by hand writes fewer of them. */
function plainHeading(text: string): string {
  return plainName(text.replace(/[,:]/g, " "));
}

/** The same names, or the last of them alone where the outer ones are left out. */
function sameNames(own: string[], names: string[]): boolean {
  return own.length === names.length
    ? own.every((each, at) => each === names[at])
    : names.length === 1 && own.at(-1) === names[0];
}
