/** The words of a proof: whose figure, by which formula, what its days are. */
import { HEADINGS, STEPS, TERMS } from "@/contract/vocabulary";
import { capital, measureName, periodName } from "./names";
import type { AnsweredColumn, Operand, Proof } from "@/contract";
import type { DaysColumn } from "@/model/proofDays";

/** A period's sortable name, as periods are labelled. */
const PERIOD = /^\d{4}(-(H[12]|Q[1-4]|P\d\d|W\d\d|\d\d(-\d\d)?))?$/;

/** Whose figure is proved: its row from the outside in, periods in words. */
export function provedRow({ labels }: Pick<Proof, "labels">): string {
  return labels.map((each) => (PERIOD.test(each) ? periodName(each) : each)).join(" › ") || "All rows";
}

/** What of the row is proved: its value, a change, a step of a bridge. */
export function provedHeading({ column }: { column: Pick<AnsweredColumn, "kind" | "step"> }): string {
  if (column.step) return (STEPS[column.step] ?? column.step).toLowerCase();
  return column.kind === "value" ? "value" : (HEADINGS[column.kind] ?? column.kind).toLowerCase();
}

export function whose(operand: Operand): string {
  switch (operand.about) {
    case "so_far":
      return "Rows so far";
    case "scope":
      return operand.path.length ? "Scope" : "All";
    case "base_scope":
      return operand.path.length ? "Base of the scope" : "Base of all";
    default:
      return operand.window ? "Base" : "Current";
  }
}

/** What stands before each operand but the first. */
const SIGNS: Record<string, string[]> = {
  difference: ["−"],
  percent_change: ["−"],
  bridge: ["−"],
  price_volume_mix: ["−"],
  attainment: ["÷"],
  index: ["÷"],
  goal: ["÷"],
  share: ["÷"],
  share_of_all: ["÷"],
  share_of_parent: ["÷"],
  cumulative_share: ["÷"],
  contribution: ["−", "÷"],
  share_change: ["÷", "−", "÷"],
};

export function signOf(kind: string, at: number): string {
  return at ? (SIGNS[kind]?.[at - 1] ?? "·") : "";
}

/** The formula in words, where the signs alone leave it open. */
const FORMULAS: Record<string, string> = {
  percent_change: "(current − base) ÷ base",
  contribution: "(current − base) ÷ base of all",
  share_change: "current share − share in the base",
  index: "100 × current ÷ base",
  rank: "1 + rows ahead of it",
  bridge: "its step of current − base",
  price_volume_mix: "its step of current − base",
};

/** along: what its figures run along, in words. */
export function formulaWords(column: AnsweredColumn, along: string): string {
  return FORMULAS[column.kind] ?? along;
}

const FACTS: Record<string, string> = {
  ahead: "Rows ahead of it",
  siblings: "Rows in its list",
  rows_so_far: "Rows so far",
  target: "Target",
  met: "Met",
};

export function factName(name: string, steps: Record<string, string>): string {
  return FACTS[name] ?? steps[name] ?? name;
}

/** Parts of derived measures that are numbers of ids: their days count those that are new. */
const NEW: Record<string, string> = {
  distinct_order: "New orders",
  distinct_customer: "New customers",
  distinct_product: "New products",
  orders: "New orders",
  active_customers: "New customers",
  active_products: "New products",
};

/** What stands over the days of a window. */
export function dayHeading(operand: Operand | undefined): string {
  return operand && whose(operand) !== "Current" ? `${whose(operand)} day` : "Day";
}

/** What stands over a column of days: whose it is and, where it is a part, which. */
export function daysHeading({ operand, at, name }: DaysColumn, column: AnsweredColumn): string {
  if (at === null) return `${whose(operand)}, so far`;
  if (column.measure_kind === "additive") return whose(operand);
  const part = NEW[name] ?? TERMS[name] ?? capital(measureName(name));
  return `${whose(operand)}: ${part.toLowerCase()}`;
}

/** How the days come to the figure. */
export function daysWords(column: AnsweredColumn, operand: Operand | undefined): string {
  const periods = operand && operand.divisor > 1 ? ` The sum is divided by ${operand.divisor} periods.` : "";
  switch (column.measure_kind) {
    case "distinct":
      return `Each is new on the first day of the window on which it appears.${periods}`;
    case "derived":
      return "The parts add up over the days; “so far” is the figure up to and with each day.";
    default:
      return periods.trim();
  }
}

/** What the picture over time shows. */
export function pictureWords(column: AnsweredColumn): string {
  switch (column.measure_kind) {
    case "distinct":
      return "New ones over time, each on its first day in the window. Click for the days.";
    case "derived":
      return "The figure of each stretch of days by itself. Click for the days.";
    default:
      return "The figure over time. Click for the days.";
  }
}
