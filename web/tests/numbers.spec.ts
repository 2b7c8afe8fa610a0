import { describe, expect, it } from "vitest";
import type { AnsweredColumn, Cell } from "@/contract";
import { decimal, favour, localMarks, numbersWith, roundedPlain, tableDecimals } from "@/model/numbers";
import { NUMBERS } from "./answers";

const { cell: cellText, grouped, operand: operandText, rounded } = NUMBERS;

const column: AnsweredColumn = {
  id: "net_sales.0.value",
  measure: "net_sales",
  kind: "value",
  window: 0,
  unit: "currency",
  decimals: 2,
  polarity: "more_is_favourable",
  measure_kind: "additive",
  parts_overlap: false,
  name: "",
  along: "",
  step: "",
  across: [],
  across_labels: [],
};
const change: AnsweredColumn = { ...column, kind: "percent_change", unit: "percent", decimals: 1, window: 1 };
const sum = (value: string): Cell => ({ value, numerator: null, denominator: null, reason: null });
const ratio = (top: string, bottom: string): Cell => ({
  value: "0.5",
  numerator: top,
  denominator: bottom,
  reason: null,
});

describe("rounding", () => {
  it("is half away from zero, once, from the exact value", () => {
    expect(rounded(decimal("0.125"), 2)).toBe("0.13");
    expect(rounded(decimal("-0.125"), 2)).toBe("−0.13");
    expect(rounded(decimal("2.5"), 0)).toBe("3");
    expect(rounded({ top: 1n, bottom: 3n }, 4)).toBe("0.3333");
  });
  it("gives no sign to what rounds to zero", () => {
    expect(rounded(decimal("-0.004"), 2)).toBe("0.00");
    expect(rounded(decimal("0.004"), 2, true)).toBe("0.00");
  });
  it("keeps digits that a binary float would lose", () => {
    expect(grouped("90071992547409931234.01")).toBe("90,071,992,547,409,931,234.01");
  });
});

describe("cells", () => {
  it("shows changes with their sign", () => {
    expect(cellText(ratio("13", "100"), change, 1)).toBe("+13.0%");
    expect(cellText(ratio("-47", "1000"), change, 1)).toBe("−4.7%");
    expect(cellText(ratio("13", "100"), { ...change, kind: "share_of_all" }, 1)).toBe("13.0%");
  });
  it("never shows an undefined value as 0", () => {
    expect(
      cellText({ value: null, numerator: null, denominator: null, reason: "base_is_zero" }, change, 1),
    ).toBe("–");
  });
  it("says points for differences of percentages", () => {
    expect(cellText(ratio("1", "200"), { ...change, kind: "difference", unit: "points" }, 1)).toBe("+0.5 pt");
  });
  it("knows what is favourable by polarity", () => {
    expect(favour(ratio("-1", "10"), change)).toBe(-1);
    expect(favour(ratio("-1", "10"), { ...change, polarity: "more_is_adverse" })).toBe(1);
    expect(favour(ratio("-1", "10"), { ...change, polarity: "neutral" })).toBe(0);
    expect(favour(sum("-5"), column)).toBe(0);
  });
  it("shows large amounts in whole units and small ones to the cent", () => {
    expect(tableDecimals(column, sum("100000.00"))).toBe(0);
    expect(tableDecimals(column, sum("-99999.99"))).toBe(2);
  });
});

describe("marks", () => {
  it("are the reader's in words that come with numbers in them, and touch no other comma or point", () => {
    const { words } = numbersWith(() => "point_comma");
    expect(words("3 lines left out (−1,234,500.05); 12,3 and 2.5% in 2026, of 17,936.")).toBe(
      "3 lines left out (−1.234.500,05); 12,3 and 2,5% in 2026, of 17.936.",
    );
  });
  it("are the reader's own, or those that are named, in every number", () => {
    expect([localMarks("en-GB"), localMarks("de-DE"), localMarks("fr-FR")]).toEqual([
      "comma_point",
      "point_comma",
      "space_comma",
    ]);
    let language = "de-DE";
    const own = numbersWith(() => localMarks(language));
    expect([own.grouped("-1234567.50"), own.whole(59984), own.rounded(decimal("1234.565"), 2)]).toEqual([
      "−1.234.567,50",
      "59.984",
      "1.234,57",
    ]);
    expect([own.count(1234, "line"), own.count(1, "line")]).toEqual(["1.234 lines", "1 line"]);
    const written = { negatives: "brackets", zeros: "figure" } as const;
    expect(own.cell(sum("-1234.50"), column, 2, written)).toBe("(1.234,50)");
    // Asked for every number: whoever changes them changes what is written next.
    language = "en-GB";
    expect(own.cell(sum("1234.50"), column, 2)).toBe("1,234.50");
    expect(cellText(sum("1234.50"), column, 2)).toBe("1,234.50");
    expect(roundedPlain(decimal("1234.565"), 2)).toBe("1234.57");
  });
  it("stand in what a number is made of, of a percent measure as percent", () => {
    expect(operandText(sum("1234.50"), "currency", 6)).toBe("1,234.50");
    expect(operandText(ratio("3", "8"), "percent", 6)).toBe("37.5000%");
    expect(operandText(ratio("2000", "3"), "currency", 6)).toBe("666.666667");
    expect(operandText({ ...sum("0"), value: null, reason: "not_given" }, "currency", 6)).toBeNull();
  });
});
