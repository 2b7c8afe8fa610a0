import { describe, expect, it } from "vitest";
import type { LedgerDescription, Statement } from "@/contract";
import { fromAddress, toAddress } from "@/model/address";
import * as edit from "@/model/statement";

const ledger = {
  name: "Small",
  dimensions: [
    { name: "rep", role: "rep", of: null, members: 3 },
    { name: "order", role: "order", of: null, members: 9 },
    { name: "region", role: null, of: "customer", members: 4 },
  ],
  measures: [
    {
      name: "net_sales",
      kind: "additive",
      unit: "currency",
      polarity: "more_is_favourable",
      decimals: 2,
      unavailable: null,
    },
    {
      name: "orders",
      kind: "distinct",
      unit: "count",
      polarity: "more_is_favourable",
      decimals: 0,
      unavailable: null,
    },
  ],
  as_of: { kind: "last_posted" },
} as unknown as LedgerDescription;
const first: Statement = edit.firstStatement(ledger);

describe("the first statement", () => {
  it("is this year to date against the same dates last year, by region and rep", () => {
    expect(first.rows).toEqual(["region", "rep"]);
    expect(first.window.grain).toBe("year");
    expect(first.bases).toEqual([{ back: 1, unit: "year", align: "same_dates", kind: "period" }]);
    expect(first.measures.map((each) => each.measure)).toEqual(["net_sales", "orders"]);
  });
});

describe("changes stay whole", () => {
  it("takes comparisons away with the last base", () => {
    const bare = edit.setBases(first, []);
    expect(bare.measures.map((each) => each.show)).toEqual([["share_of_all"], []]);
  });
  it("lets bases step by the new grain", () => {
    const monthly = edit.setGrain(
      {
        ...first,
        window: { ...first.window, grain: "quarter" },
        bases: [{ ...first.bases[0]!, unit: "quarter" }],
      },
      "month",
    );
    expect(monthly.bases[0]?.unit).toBe("month");
  });
  it("drops bases that became the same", () => {
    const base = first.bases[0]!;
    const doubled = edit.setGrain(
      { ...first, window: { ...first.window, grain: "month" }, bases: [{ ...base, unit: "month" }, base] },
      "year",
    );
    expect(doubled.bases).toHaveLength(1);
  });
  it("takes the share of the parent away with the last row, and the order with its column", () => {
    const sorted = edit.turnSort(
      edit.setShow(first, "net_sales", ["share_of_parent"]),
      "net_sales.0.share_of_parent",
    );
    const rowless = edit.setRows(sorted, []);
    expect(rowless.measures[0]?.show).toEqual([]);
    expect(rowless.sort).toBeNull();
  });
  it("takes shares away when a ratio replaces a sum", () => {
    expect(edit.replaceMeasure(first, "net_sales", "margin_percent", true).measures[0]?.show).not.toContain(
      "share_of_all",
    );
  });
  it("keeps at least one measure", () => {
    const one = edit.removeMeasure(first, "orders");
    expect(edit.removeMeasure(one, "net_sales").measures).toHaveLength(1);
  });
  it("turns the order: descending, ascending, by name", () => {
    const down = edit.turnSort(first, "orders.0.value");
    const up = edit.turnSort(down, "orders.0.value");
    expect([down.sort?.descending, up.sort?.descending, edit.turnSort(up, "orders.0.value").sort]).toEqual([
      true,
      false,
      null,
    ]);
  });
  it("sets, changes and removes a filter", () => {
    const one = edit.setFilter(first, "rep", ["Ada", null], false);
    expect(edit.setFilter(one, "rep", ["Bo"], true).filters).toEqual([
      { dimension: "rep", members: ["Bo"], exclude: true },
    ]);
    expect(edit.setFilter(one, "rep", [], false).filters).toEqual([]);
  });
});

describe("rows that open", () => {
  it("opens and closes single rows", () => {
    const opened = edit.toggleRow({ depth: 1, paths: [] }, ["North"], false, []);
    expect(opened).toEqual({ depth: 1, paths: [["North"]] });
    expect(edit.toggleRow(opened, ["North"], true, [["North"]])).toEqual({ depth: 1, paths: [] });
  });
  it("closes one row of a level that was open as a whole", () => {
    const closed = edit.toggleRow({ depth: 2, paths: [] }, ["North"], true, [["North"], ["South"]]);
    expect(closed).toEqual({ depth: 1, paths: [["South"]] });
  });
});

describe("the address", () => {
  it("holds the whole state, odd names included", () => {
    const view = {
      question: {
        ledger: "Kiln & Glaze=?",
        statement: edit.setFilter(first, "rep", [null, "A&B"], false),
        opened: { depth: 1, paths: [["x/y", null]] },
      },
      selected: { path: ["Nörd", null], column: "orders.0.value" },
    };
    const text = new URLSearchParams(toAddress(view)).toString();
    expect(fromAddress(Object.fromEntries(new URLSearchParams(text)))).toEqual(view);
  });
  it("is passed over where it cannot be read", () => {
    expect(fromAddress({ ledger: "x", show: "{" })).toBeNull();
    expect(fromAddress({})).toBeNull();
  });
});
