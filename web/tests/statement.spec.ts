import { describe, expect, it } from "vitest";
import type { Statement } from "@/contract";
import { fromAddress, toAddress } from "@/model/address";
import { PLAIN } from "@/contract/vocabulary";
import * as edit from "@/model/statement";

const first: Statement = edit.whole({
  measures: [
    edit.metric("net_sales", ["difference", "percent_change", "share_of_all"]),
    edit.metric("orders", ["percent_change"]),
  ],
  rows: ["region", "rep"],
  bases: [{ back: 1, unit: "year", align: "same_dates", kind: "period" }],
});

describe("changes stay whole", () => {
  it("takes comparisons away with the last base", () => {
    const bare = edit.setBases(first, []);
    expect(bare.measures.map((each) => each.show)).toEqual([["share_of_all"], []]);
  });
  it("lets bases step by the new grain", () => {
    const quarterly = edit.setWindow(first, { kind: "to_date", grain: "quarter" });
    const based = edit.setBases(quarterly, [
      { kind: "period", back: 1, unit: "quarter", align: "same_dates" },
    ]);
    expect(edit.setWindow(based, { kind: "to_date", grain: "month" }).bases[0]).toMatchObject({
      unit: "month",
    });
    const range = edit.setWindow(based, { kind: "dates", first: "2026-01-01", last: null });
    expect(range.bases[0]).toMatchObject({ unit: "period" });
  });
  it("knows bases again, however they are written", () => {
    const base = { kind: "period", back: 1, unit: "year", align: "same_dates" } as const;
    expect(
      edit.sameBase(base, { align: "same_dates", unit: "year", back: 1, kind: "period", day_back: null }),
    ).toBe(true);
    expect(edit.sameBase(base, { ...base, align: "whole" })).toBe(false);
    expect(edit.sameBase(base, { ...base, day_back: 7 })).toBe(false);
  });
  it("drops bases that became the same", () => {
    const monthly = edit.setWindow(first, { kind: "to_date", grain: "month" });
    const both = edit.setBases(monthly, [
      { kind: "period", back: 1, unit: "month", align: "same_dates" },
      ...first.bases,
    ]);
    const doubled = edit.setWindow(both, { kind: "to_date", grain: "year" });
    expect(doubled.bases).toHaveLength(1);
  });
  it("takes the share of the parent away with the last row, and the order with its column", () => {
    const sorted = edit.turnSort(edit.setShow(first, 0, ["share_of_parent"]), "net_sales.0.share_of_parent");
    const rowless = edit.setLevels(sorted, "rows", []);
    expect(rowless.measures[0]?.show).toEqual([]);
    expect(rowless.sort).toBeNull();
  });
  it("takes shares away when a ratio replaces a sum", () => {
    expect(edit.replaceMeasure(first, 0, "margin_percent", true).measures[0]?.show).not.toContain(
      "share_of_all",
    );
  });
  it("takes running totals away with the last level of time, and one of two that became the same", () => {
    const timed = edit.setLevels(first, "rows", [{ time: "month" }]);
    const twice = edit.setAlong(edit.addMeasure(timed, "net_sales"), 2, { kind: "running", reset: "year" });
    expect(twice.measures.map(edit.metricId)).toEqual(["net_sales", "orders", "net_sales~running_year"]);
    const plain = edit.setLevels(twice, "rows", ["region"]);
    const by = edit.setAlong(twice, 2, { kind: "running", reset: "year", by: "month" });
    expect(edit.setLevels(by, "rows", ["region"]).measures.map(edit.metricId)).toContain(
      "net_sales~running_year",
    );
    expect(plain.measures.map(edit.metricId)).toEqual(["net_sales", "orders"]);
    expect(edit.setLevels({ ...timed, cut: "same_point" }, "rows", []).cut).toBe("as_of");
  });
  it("fills in what a link leaves out because it goes without saying", () => {
    const link = JSON.parse(
      '{"measures":[{"measure":"net_sales","along":{"kind":"moving","periods":3}}],"bases":[{"back":1,"unit":"year"}]}',
    );
    const statement = edit.whole(link);
    expect(statement.bases[0]).toEqual({ kind: "period", back: 1, unit: "year", align: "same_dates" });
    expect(statement.measures[0]).toMatchObject({
      show: [],
      shares: [],
      along: { of: "mean", as_many: false },
    });
    expect(statement.cut).toBe("as_of");
  });
  it("knows the grain of a named period", () => {
    const grain = (period: string): string | null => edit.grainOf({ kind: "period", period });
    expect(
      ["2026", "2026-H1", "2026-Q3", "2026-P04", "2026-03", "2026-W07", "2026-03-14"].map(grain),
    ).toEqual(["year", "half_year", "quarter", "month", "month", "week", "day"]);
  });
  it("keeps at least one measure", () => {
    const one = edit.removeMeasure(first, 1);
    expect(edit.removeMeasure(one, 0).measures).toHaveLength(1);
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
      layout: { ...PLAIN, hidden: ["a&b=?"], totals: "off" as const },
    };
    const text = new URLSearchParams(toAddress(view)).toString();
    expect(fromAddress(Object.fromEntries(new URLSearchParams(text)))).toEqual(view);
  });
  it("is passed over where it cannot be read", () => {
    expect(fromAddress({ ledger: "x", show: "{" })).toBeNull();
    expect(fromAddress({})).toBeNull();
  });
});
