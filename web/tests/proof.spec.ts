import { describe, expect, it } from "vitest";
import type { AnsweredColumn, Cell, Operand, OperandDays } from "@/contract";
import { dayCell, daysGroups } from "@/model/proofDays";
import {
  dayHeading,
  daysHeading,
  formulaWords,
  provedHeading,
  provedRow,
  signOf,
  whose,
} from "@/words/proof";

const cell = (value: string): Cell => ({ value, numerator: null, denominator: null, reason: null });
const operand = (about: string, window: number): Operand =>
  ({ about, window, path: [], cell: cell("9"), divisor: 1 }) as unknown as Operand;
const days = (first: number, ...columns: string[]): OperandDays => ({
  columns: columns.map((name) => ({ name, sum: cell("5") })),
  days: [0, 1].map((at) => ({
    day: `2026-01-0${first + at}`,
    counted: true,
    cells: columns.map((_, place) => cell(`${at}${place}`)),
    so_far: cell(`${at}`),
  })),
});
const column = { kind: "share_change", measure: "orders", measure_kind: "distinct" } as AnsweredColumn;

describe("the days of a proof", () => {
  it("stand beside one column of days where operands have the same ones", () => {
    const operands = [operand("current", 0), operand("scope", 0), operand("base", 1)];
    const groups = daysGroups(operands, [days(1, "orders"), days(1, "orders"), days(5, "orders")], false);
    expect(groups.map((each) => each.columns.length)).toEqual([2, 1]);
    expect(groups.map((each) => dayHeading(each.columns[0]?.operand))).toEqual(["Day", "Base day"]);
    const headings = groups.flatMap((each) => each.columns.map((one) => daysHeading(one, column)));
    expect(headings).toEqual(["Current: new orders", "All: new orders", "Base: new orders"]);
  });
  it("of a derived measure have its parts and the figure so far, which ends at the figure", () => {
    const [group] = daysGroups([operand("current", 0)], [days(1, "amount_sold", "distinct_order")], true);
    const derived = { ...column, measure: "average_order_value", measure_kind: "derived" } as AnsweredColumn;
    expect(group?.columns.map((each) => daysHeading(each, derived))).toEqual([
      "Current: gross sales",
      "Current: new orders",
      "Current, so far",
    ]);
    expect(group?.columns.map((each) => dayCell(each, 1)?.value)).toEqual(["10", "11", "1"]);
    expect(group?.columns.map((each) => each.sum.value)).toEqual(["5", "5", "9"]);
  });
  it("of a window that does not exist are none", () => {
    expect(daysGroups([operand("current", 0)], [{ columns: [], days: [] }], false)).toEqual([]);
  });
});

describe("a formula", () => {
  it("has its signs between the operands, and words where they leave it open", () => {
    expect([0, 1, 2, 3].map((at) => signOf("share_change", at))).toEqual(["", "÷", "−", "÷"]);
    expect(formulaWords({ ...column, kind: "contribution" }, "")).toBe("(current − base) ÷ base of all");
    expect(formulaWords({ ...column, kind: "value", along: "moving_mean_3" }, "mean of 3")).toBe("mean of 3");
    expect([whose(operand("so_far", 0)), whose(operand("base_scope", 1))]).toEqual([
      "Rows so far",
      "Base of all",
    ]);
  });
});

it("says whose figure is proved, periods in words, and what of it", () => {
  expect(provedRow({ labels: [] })).toBe("All rows");
  expect(provedRow({ labels: ["Lakes", "2026-03", "2026-Q1"] })).toBe("Lakes › Mar 2026 › Q1 2026");
  expect(provedHeading({ column: { kind: "value", step: "" } })).toBe("value");
  expect(provedHeading({ column: { kind: "percent_change", step: "" } })).toBe("% change");
  expect(provedHeading({ column: { kind: "bridge", step: "lost" } })).toBe("lost");
});
