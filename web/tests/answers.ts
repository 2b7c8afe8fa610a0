/** Small answers for tests, put together from texts. */
import { daysWith } from "@/model/days";
import type { Answer, AnsweredColumn, Cell, Row } from "@/contract";
import { numbersWith } from "@/model/numbers";

/** Numbers as they are written in English. */
/** Days as an English reader has them. */
export const DAYS = daysWith(() => "en");
export const NUMBERS = numbersWith(() => "comma_point");

export function column(id: string, parts: Partial<AnsweredColumn> = {}): AnsweredColumn {
  const [measure = "", window = "0", kind = "value"] = id.split(".");
  return {
    id,
    measure,
    window: Number(window),
    kind: kind as AnsweredColumn["kind"],
    unit: "currency",
    decimals: 2,
    polarity: "more_is_favourable",
    measure_kind: "additive",
    parts_overlap: false,
    name: "",
    along: "",
    scope: null,
    step: "",
    across: [],
    across_labels: [],
    ...parts,
  };
}

/** Values as text; one that begins with a letter is a reason. */
export function cells(...texts: string[]): Cell[] {
  return texts.map((text): Cell => {
    const none = {
      value: null,
      numerator: null,
      denominator: null,
      reason: null,
      met: null,
      decimals: null,
      shown: null,
    };
    if (/^[a-z]/.test(text)) return { ...none, reason: text as NonNullable<Cell["reason"]> };
    const [top, bottom] = text.split("/");
    return bottom
      ? { ...none, value: String(Number(top) / Number(bottom)), numerator: top ?? "", denominator: bottom }
      : { ...none, value: text };
  });
}

export function row(path: string[], texts: string[], parts: Partial<Row> = {}): Row {
  return {
    path,
    label: path.at(-1) ?? "All",
    status: null,
    can_open: false,
    is_open: false,
    cells: cells(...texts),
    rest: null,
    slot: 0,
    goals: null,
    ...parts,
  };
}

/** Words that a server could send: each says of which column it is. */
export function told(columns: AnsweredColumn[]): Answer["told"] {
  const measure = (name: string): string =>
    `${name.charAt(0).toUpperCase()}${name.slice(1).replaceAll("_", " ")}`;
  return {
    title: "a title",
    sentence: "A sentence.",
    parts: [],
    rows: "Names",
    total: "All of them",
    columns: columns.map((each) => ({
      heading: `heading of ${each.kind} ${each.window}`,
      base: each.window && each.kind !== "value" ? `on base ${each.window}` : "",
      metric: each.name || measure(each.measure),
      along: each.along,
      across: "",
      plain: `plain ${each.id}`,
      short: `short ${each.id}`,
      named: `named ${each.id}`,
      definition: `what ${each.id} is`,
    })),
    notices: [],
    windows: [],
    names: [],
    unequal: [],
  };
}

export function answer(
  columns: AnsweredColumn[],
  rows: Row[],
  total: Row,
  parts: Partial<Answer> = {},
): Answer {
  return {
    ledger: "L",
    version: 1,
    currency: "EUR",
    amount_decimals: 2,
    as_of: "2026-10-17",
    today: "2026-10-20",
    partial: false,
    windows: [],
    columns,
    rows,
    total,
    notices: [],
    posted_lines: 0,
    posted_amount: "0",
    periods: [],
    total_of_all: null,
    told: told(columns),
    ...parts,
  };
}
