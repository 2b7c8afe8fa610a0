import { describe, expect, it } from "vitest";
import type { Row } from "@/contract";
import { emptyPlaces, filledWith, isFilled, placesOf } from "@/model/filling";
import { PLAIN } from "@/contract/vocabulary";
import { isEmptyPeriod } from "@/model/layout";
import { largestChanges, shownColumns } from "@/model/table";
import { answer, column, row } from "./answers";

const columns = [
  column("net_sales.0.value", {}),
  column("net_sales.1.difference", { kind: "difference", window: 1 }),
];
const whole = [row(["A"], ["1", "2"]), row(["B"], ["3", "-4"]), row(["B"], ["5", "6"], { rest: 7 })];
const bare = (each: Row): Row => ({ ...each, cells: [] });
const part = answer(columns, [whole[0] as Row, ...whole.slice(1).map(bare)], row([], ["9", "4"]), {
  partial: true,
});
const places = placesOf(part);

describe("a large answer", () => {
  it("knows which rows are empty, also those that were laid out anew, and the rest of a list from its parent", () => {
    expect(emptyPlaces(part, places, part.rows)).toEqual([1, 2]);
    expect(emptyPlaces(part, places, [{ ...bare(whole[2] as Row) }])).toEqual([2]);
    expect(emptyPlaces({ ...part, partial: false }, places, part.rows)).toEqual([]);
  });
  it("is filled in place, and by no other rows than those that were asked for", () => {
    const next = filledWith(part, [2, 1], [whole[2] as Row, whole[1] as Row]);
    expect(next?.rows).toEqual(whole);
    expect(next?.windows).toBe(part.windows);
    expect(filledWith(part, [1], [whole[0] as Row])).toBeNull();
    expect(filledWith(part, [1, 2], [whole[1] as Row])).toBeNull();
  });
  it("counts a row that is not filled neither as empty nor as a change", () => {
    const period = { ...bare(row(["2026-01"], [])), slot: 1 };
    const periods = { ...part, periods: [{ down: [], across: [], windows: [] }] };
    expect(isFilled(period, periods) || isEmptyPeriod(periods, period)).toBe(false);
    expect(isEmptyPeriod({ ...periods, partial: false }, period)).toBe(true);
    expect([...largestChanges(part.rows, shownColumns(part))]).toEqual([["1-1", 2]]);
    expect(PLAIN.empty_periods).toBe("shown");
  });
});
