/** The totals of the first measures, large: exact changes against every base, none where the base has no figure. */
import { expect, it } from "vitest";
import type { Row } from "@/contract";
import { headlinesOf } from "@/model/headline";
import { favourOf } from "@/model/numbers";
import { answer, column, row } from "./answers";

const COLUMNS = [
  column("net_sales.0.value"),
  column("net_sales.1.value"),
  column("net_sales.2.value"),
  column("net_sales.1.difference"),
  column("orders.0.value", { unit: "count", decimals: 0 }),
];

/** A row without a figure in one of its cells. */
function without(of: Row, at: number): Row {
  return { ...of, cells: of.cells.map((cell, place) => (place === at ? { ...cell, value: null } : cell)) };
}

it("holds each measure with its changes, whatever the table shows beside it", () => {
  const total = without(row([], ["10.50", "8.40", "0", "2.10", "3"]), 2);
  const found = headlinesOf(answer(COLUMNS, [], total));
  expect(found.map((each) => each.column.id)).toEqual(["net_sales.0.value", "orders.0.value"]);
  expect(found[0]?.changes.map((each) => each.column.window)).toEqual([1]);
  const [change] = found[0]?.changes ?? [];
  expect(Number(change?.difference.top) / Number(change?.difference.bottom)).toBeCloseTo(2.1, 12);
  expect(Number(change?.percent?.top) / Number(change?.percent?.bottom)).toBeCloseTo(0.25, 12);
  expect(found[1]?.changes).toEqual([]);
});

it("has no % against a base of 0 or below, and colours by what is favourable", () => {
  for (const base of ["0.00", "-4.00"]) {
    const [found] = headlinesOf(answer(COLUMNS, [], row([], ["10.50", base, "0", "2.10", "3"])));
    expect(found?.changes[0]?.percent).toBeNull();
  }
  const down = { top: -1n, bottom: 1n };
  expect([
    favourOf(down, "more_is_favourable"),
    favourOf(down, "more_is_adverse"),
    favourOf(down, "neutral"),
  ]).toEqual(["adverse", "favourable", ""]);
});
