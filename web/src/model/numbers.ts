/**
 * Numbers for the eye: decimal text and fractions in, rounded once, half away from zero; a result that rounds to zero has no
 * sign (semantics, section 2). No binary float is involved.
 */
import type { AnsweredColumn, Cell } from "@/contract";

export interface Fraction {
  top: bigint;
  bottom: bigint;
}

const MINUS = "−";
/** Kinds of columns whose numbers carry their sign. */
const SIGNED: string[] = [
  "difference",
  "percent_change",
  "contribution",
  "share_change",
  "bridge",
  "price_volume_mix",
];

/** Read plain decimal text, or the exact fraction of a cell. */
export function fractionOf(cell: Cell): Fraction | null {
  if (cell.value === null) return null;
  if (cell.numerator && cell.denominator)
    return { top: BigInt(cell.numerator), bottom: BigInt(cell.denominator) };
  return decimal(cell.value);
}

/** Plain decimal text as a fraction. */
export function decimal(text: string): Fraction {
  const [whole = "0", part = ""] = text.split(".");
  return { top: BigInt(whole + part), bottom: 10n ** BigInt(part.length) };
}

/** Marks between thousands and before decimals. */
export type Marks = "comma_point" | "point_comma" | "space_comma";

/** The marks that this reader's own language has between thousands and before decimals. */
export function localMarks(locale?: string): Marks {
  const parts = new Intl.NumberFormat(locale, { useGrouping: true }).formatToParts(1234567.5);
  const mark = (type: string): string => parts.find((each) => each.type === type)?.value ?? "";
  if (mark("decimal") === ".") return "comma_point";
  return mark("group") === "." ? "point_comma" : "space_comma";
}

/** Marks between thousands and before decimals; the space does not break a line. */
const MARKS: Record<Marks, [string, string]> = {
  comma_point: [",", "."],
  point_comma: [".", ","],
  space_comma: ["\u202f", ","],
};

/** How numbers are written for a reader: each function with the marks that are theirs at that moment. */
export interface Numbers {
  marks: () => Marks;
  /** Rounded half away from zero to a number of decimals, thousands grouped; the sign is a true minus. */
  rounded: (value: Fraction, decimals: number, plus?: boolean) => string;
  /** Exact decimal text with grouped thousands and a true minus, all decimals kept. */
  grouped: (text: string) => string;
  /** A whole number with grouped thousands. */
  whole: (number: number) => string;
  /** Words that come with numbers in them, written 1,234.50: these with the reader's marks. */
  words: (text: string) => string;
  /** A number of things: 1 day, 1,200 days. */
  count: (number: number, one: string, many?: string) => string;
  /** A value that a number is made of: sums with all their decimals, ratios rounded, of a percent measure as such. */
  operand: (cell: Cell, unit: string, decimals: number) => string | null;
  /** A cell as it stands in the table. decimals: for sums and ratios; percentages and points keep the column's own. */
  cell: (cell: Cell, column: AnsweredColumn, decimals: number, written?: Written) => string;
}

/** Numbers with the marks that this gives, asked for every number: table, frame, proof and notices of a page agree. */
export function numbersWith(marks: () => Marks): Numbers {
  const rounded = (value: Fraction, decimals: number, plus = false): string =>
    marked(withCommas(value, decimals, plus), marks());
  const grouped = (text: string): string => rounded(decimal(text), text.split(".")[1]?.length ?? 0);
  const whole = (number: number): string => grouped(String(number));
  return {
    marks,
    rounded,
    grouped,
    whole,
    words: (text) => text.replace(/\d{1,3}(,\d{3})+(\.\d+)?|\d+\.\d+/g, (each) => marked(each, marks())),
    count: (number, one, many = `${one}s`) => `${whole(number)} ${number === 1 ? one : many}`,
    operand: (cell, unit, decimals) => operandText(cell, unit, decimals, rounded, grouped),
    cell: (cell, column, decimals, written) => cellText(cell, column, decimals, marks(), written),
  };
}

/** A number written with commas and a point, with the marks that are chosen. */
function marked(text: string, chosen: Marks): string {
  if (chosen === "comma_point") return text;
  const [thousands, point] = MARKS[chosen];
  return text.replace(/[,.]/g, (mark) => (mark === "," ? thousands : point));
}

function withCommas(value: Fraction, decimals: number, plus = false): string {
  const negative = value.top < 0n;
  const size = negative ? -value.top : value.top;
  const units = (size * 10n ** BigInt(decimals) * 2n + value.bottom) / (2n * value.bottom);
  const digits = units.toString().padStart(decimals + 1, "0");
  const whole = digits.slice(0, digits.length - decimals).replace(/\B(?=(\d{3})+$)/g, ",");
  const body = decimals ? `${whole}.${digits.slice(-decimals)}` : whole;
  if (units === 0n) return body;
  return (negative ? MINUS : plus ? "+" : "") + body;
}

/** Rounded as plain decimal text, for lengths and files. */
export function roundedPlain(value: Fraction, decimals: number): string {
  return withCommas(value, decimals).replaceAll(",", "").replace(MINUS, "-");
}

function operandText(
  cell: Cell,
  unit: string,
  decimals: number,
  rounded: Numbers["rounded"],
  grouped: Numbers["grouped"],
): string | null {
  const value = fractionOf(cell);
  if (value === null) return null;
  if (!cell.numerator) return grouped(cell.value ?? "0");
  if (unit !== "percent") return rounded(value, decimals);
  return `${rounded({ top: value.top * 100n, bottom: value.bottom }, Math.max(decimals - 2, 0))}%`;
}

/** How a layout writes numbers. */
export interface Written {
  negatives: "minus" | "brackets";
  zeros: "figure" | "dash" | "blank";
  /** What differs for single measures. */
  written?: Record<string, { negatives?: Written["negatives"] | null; zeros?: Written["zeros"] | null }>;
}

/** The sign of a currency as this reader writes it: its code where there is none. */
export function currencySign(currency: string): string {
  try {
    const parts = new Intl.NumberFormat(undefined, {
      style: "currency",
      currency,
      currencyDisplay: "narrowSymbol",
    }).formatToParts(0);
    return parts.find((each) => each.type === "currency")?.value ?? currency;
  } catch {
    return currency;
  }
}

function cellText(
  cell: Cell,
  column: AnsweredColumn,
  decimals: number,
  marks: Marks,
  written?: Written,
): string {
  const value = fractionOf(cell);
  if (value === null) return "–";
  const own = written?.written?.[column.measure];
  const zeros = own?.zeros ?? written?.zeros;
  if (value.top === 0n && zeros && zeros !== "figure") return zeros === "dash" ? "-" : "";
  const text = marked(plainText(cell, value, column, decimals), marks);
  return (own?.negatives ?? written?.negatives) === "brackets" && text.startsWith(MINUS)
    ? `(${text.slice(1)})`
    : text;
}

function plainText(cell: Cell, value: Fraction, column: AnsweredColumn, decimals: number): string {
  // Rounded with its siblings, so that what is shown adds up.
  if (cell.shown) return `${cell.shown}%`;
  const change = SIGNED.includes(column.kind);
  if (column.unit === "percent" || column.unit === "points") {
    const places = cell.decimals ?? column.decimals;
    const text = withCommas({ top: value.top * 100n, bottom: value.bottom }, places, change);
    return text + (column.unit === "points" ? " pt" : "%");
  }
  return withCommas(value, decimals, change);
}

/** -1, 0 or 1. */
export function signOf(cell: Cell): number {
  const value = fractionOf(cell);
  return value === null || value.top === 0n ? 0 : value.top < 0n ? -1 : 1;
}

/** A fraction as a float, for lengths on screen only. */
export function lengthOf(cell: Cell): number {
  return cell.value === null ? 0 : Number(cell.value);
}

/** Whether a change is good news: 1 favourable, -1 adverse, 0 neither. */
export function favour(cell: Cell, column: AnsweredColumn): number {
  if (column.kind !== "difference" && column.kind !== "percent_change") return 0;
  const sign = signOf(cell);
  if (column.polarity === "neutral") return 0;
  return column.polarity === "more_is_favourable" ? sign : -sign;
}

/** Whether a difference is favourable or adverse, by the polarity of its measure; "" for neither. */
export function favourOf(
  difference: Fraction,
  polarity: AnsweredColumn["polarity"],
): "favourable" | "adverse" | "" {
  if (!difference.top || polarity === "neutral") return "";
  return difference.top > 0n === (polarity === "more_is_favourable") ? "favourable" : "adverse";
}

/** Decimals for amounts in the table: whole units once the total has six digits, else cents. */
export function tableDecimals(column: AnsweredColumn, total: Cell): number {
  if (column.unit !== "currency" || column.measure_kind === "derived") return column.decimals;
  return Math.abs(lengthOf(total)) >= 100_000 ? 0 : column.decimals;
}
