/** Measures beside and below each other: the same cells, in other lines. */
import { describe, expect, it } from "vitest";
import { PLAIN } from "@/contract/vocabulary";
import { holds, linesOf, slotFrom, slotsOf, withTotal } from "@/model/lines";
import { daysWith, localPeriod } from "@/model/days";
import { currencySign } from "@/model/numbers";
import { shownColumns } from "@/model/table";
import { answer, column, row } from "./answers";

const COLUMNS = [
  column("net_sales.0.value"),
  column("net_sales.1.value"),
  column("net_sales.1.difference"),
  column("orders.0.value"),
  column("orders.1.value"),
  column("orders.0.rank"),
];
const TABLE = answer(
  COLUMNS,
  [row(["North"], ["9", "8", "1", "3", "2", "1"]), row(["South"], ["5", "6", "-1", "1", "2", "2"])],
  row([], ["14", "14", "0", "4", "4", "1"]),
);
const BELOW = { ...PLAIN, measures: "below" as const };
const slots = slotsOf(shownColumns(TABLE), BELOW);
const lines = linesOf(withTotal(TABLE.rows, TABLE.total, BELOW), slots, BELOW);
const ids = (at: number): (string | undefined)[] => lines[at]?.columns.map((each) => each?.column.id) ?? [];

describe("measures below each other", () => {
  it("have one heading for what they share, and a line each in every row", () => {
    expect(slots.map((each) => each.columns.map((one) => one.column.id))).toEqual([
      ["net_sales.0.value", "orders.0.value"],
      ["net_sales.1.value", "orders.1.value"],
      ["net_sales.1.difference"],
      ["orders.0.rank"],
    ]);
    expect(lines.map((each) => [each.row.label, each.metric?.column.measure, each.place])).toEqual([
      ["North", "net_sales", 0],
      ["North", "orders", 1],
      ["South", "net_sales", 0],
      ["South", "orders", 1],
      ["All", "net_sales", 0],
      ["All", "orders", 1],
    ]);
    expect(ids(0)).toEqual(["net_sales.0.value", "net_sales.1.value", "net_sales.1.difference", undefined]);
    expect(ids(1)).toEqual(["orders.0.value", "orders.1.value", undefined, "orders.0.rank"]);
  });
  it("show every cell once, and none that is not there", () => {
    const shown = lines.flatMap((line) =>
      line.columns.flatMap((each) => (each ? [line.row.cells[each.at]] : [])),
    );
    expect(shown).toHaveLength(18);
    expect(new Set(shown).size).toBe(18);
  });
  it("are gone through past the places that are empty", () => {
    const [net, orders] = lines;
    expect([
      slotFrom(net!, 3, 0),
      slotFrom(net!, 3, 1),
      slotFrom(orders!, 2, 1),
      slotFrom(orders!, 2, -1),
    ]).toEqual([2, 0, 3, 1]);
    expect([holds(net!, "orders.0.value"), holds(orders!, "orders.0.value")]).toEqual([false, true]);
  });
  it("stand beside each other unless they are laid out otherwise", () => {
    const beside = slotsOf(shownColumns(TABLE), PLAIN);
    const plain = linesOf(TABLE.rows, beside, PLAIN);
    expect([beside.length, plain.length, plain[0]?.metric]).toEqual([6, 2, null]);
    expect(withTotal(TABLE.rows, TABLE.total, { ...PLAIN, totals: "above" })[0]).toBe(TABLE.total);
  });
});

describe("the reader's own language", () => {
  it("names months and days, and leaves other periods their names", () => {
    const german = daysWith(() => "de");
    expect([german.dayText("2026-10-17"), german.monthName("2026-10-01")]).toEqual(["17. Okt. 2026", "Okt"]);
    expect(german.rangeText("2026-10-01", "2026-10-17")).toBe("1.–17. Okt. 2026");
    expect(german.rangeText("2026-10-17", "2026-10-17")).toBe("17. Okt. 2026");
    const english = daysWith(() => "en-US");
    expect(english.rangeText("2025-11-01", "2026-10-17")).toBe("1 Nov 2025 – 17 Oct 2026");
    expect(localPeriod("2026-03", "de")).toBe("März 2026");
    expect(localPeriod("2026-03-09", "en-GB")).toBe("9 Mar 2026");
    expect([localPeriod("2026-Q1"), localPeriod("2026"), localPeriod("2026-W05")]).toEqual([
      null,
      null,
      null,
    ]);
  });
  it("has signs for currencies, or their codes", () => {
    expect([currencySign("EUR"), currencySign("XXQ"), currencySign("no")]).toEqual(["€", "XXQ", "no"]);
  });
});
