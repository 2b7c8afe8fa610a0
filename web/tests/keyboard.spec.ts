/** Keys, going down and up, limits and goals. */
import { describe, expect, it } from "vitest";
import type { Base, Goal, Statement } from "@/contract";
import { coarser, finer, goDown, goUp, openedBy, stepAsOf, windowLevel } from "@/model/going";
import { actionOf, KEYS, keysOf } from "@/model/keys";
import * as limits from "@/model/limits";
import { changedParts, metric, whole } from "@/model/statement";
import { ACTIONS } from "@/words/actions";

const press = (key: string, parts: object = {}) => ({
  key,
  ctrlKey: false,
  metaKey: false,
  altKey: false,
  shiftKey: false,
  ...parts,
});
const before: Base = { kind: "period", back: 1, unit: "period", align: "same_dates" };
const months = whole({
  measures: [metric("net_sales")],
  rows: [{ time: "month" }, "region"],
  bases: [before],
});
describe("the window of movers", () => {
  const of = (window: Statement["window"], ...bases: Base[]): Statement => whole({ window, bases });
  const month = { kind: "period", back: 1, unit: "month", align: "same_dates" } as Base;
  const year = { kind: "period", back: 1, unit: "year", align: "same_dates" } as Base;

  it("goes up and down in time, its bases with it", () => {
    const quarter = windowLevel(
      of({ kind: "to_date", grain: "month" } as Statement["window"], month, year),
      "up",
    );
    expect(quarter?.window).toMatchObject({ kind: "to_date", grain: "quarter" });
    expect(quarter?.bases).toMatchObject([{ unit: "period" }, { unit: "year" }]);
    expect(windowLevel(quarter as Statement, "down")?.window).toMatchObject({ grain: "month" });
  });

  it("stays where there is no level, and where it is no running period", () => {
    expect(
      windowLevel(of({ kind: "running", grain: "year", back: 0 } as Statement["window"]), "up"),
    ).toBeNull();
    expect(windowLevel(of({ kind: "to_date", grain: "month" } as Statement["window"]), "down")).toBeNull();
    expect(windowLevel(of({ kind: "period", period: "2026" }), "up")).toBeNull();
  });
});

describe("keys", () => {
  it("have words each, and no two actions share one", () => {
    for (const each of KEYS) expect(ACTIONS[each.action], each.action).toBeTruthy();
    const said = KEYS.map((each) => `${each.control} ${each.shift} ${each.keys}`);
    expect(new Set(said).size).toBe(said.length);
  });
  it("are told apart by the control and shift keys", () => {
    expect(actionOf(press("k", { ctrlKey: true }))).toBe("palette");
    expect(actionOf(press("K", { metaKey: true, shiftKey: true }))).toBeNull();
    expect(actionOf(press("z", { ctrlKey: true }))).toBe("undo");
    expect(actionOf(press("Z", { ctrlKey: true, shiftKey: true }))).toBe("redo");
    expect(actionOf(press("?", { shiftKey: true }))).toBe("keys");
    expect(actionOf(press("b", { altKey: true }))).toBeNull();
    expect(keysOf("redo")).toEqual(["Ctrl+Y", "Ctrl+Shift+Z"]);
  });
});

describe("going down and up in time", () => {
  it("keeps a step per level: the previous period comes down to days as the same weekday, and goes up as it was", () => {
    const days = goDown(months) as Statement;
    expect(days.rows[0]).toEqual({ time: "day" });
    expect(days.bases[0]).toEqual({ ...before, day_back: 7 });
    const up = goUp(days) as Statement;
    expect(up.rows[0]).toEqual({ time: "month" });
    expect(up.bases[0]).toMatchObject({ back: 1, day_back: 7 });
    // Chosen otherwise at days, it is remembered.
    const daily = { ...days, bases: [{ ...before, day_back: 1 }] };
    expect((goDown(goUp(daily) as Statement) as Statement).bases[0]).toMatchObject({ day_back: 1 });
  });
  it("goes into a period, and out of it to the one around it", () => {
    const march = goDown(months, "2026-03") as Statement;
    expect(march.window).toEqual({ kind: "period", period: "2026-03" });
    const back = goUp(march) as Statement;
    expect(back.window).toEqual({ kind: "period", period: "2026-Q1" });
    expect((goUp(back) as Statement).window).toEqual({ kind: "period", period: "2026" });
  });
  it("begins where there is no time yet, and ends at days and years", () => {
    const quarter = whole({
      measures: [metric("orders")],
      window: { kind: "to_date", grain: "quarter" },
      bases: [{ ...before, unit: "quarter" }],
    });
    const down = goDown(quarter) as Statement;
    expect(down.rows).toEqual([{ time: "month" }]);
    expect(down.bases[0]).toMatchObject({ unit: "period" });
    expect(goDown(whole({ measures: [], rows: [{ time: "day" }] }))).toBeNull();
    expect(goUp(whole({ measures: [], rows: [{ time: "year" }] }))).toBeNull();
    expect(goUp(quarter)).toBeNull();
    expect([finer("half_year"), finer("week"), finer("day"), coarser("week"), coarser("year")]).toEqual([
      "quarter",
      "day",
      null,
      "month",
      null,
    ]);
  });
  it("steps the as-of date by the window's own periods", () => {
    const by = (grain: "week" | "month" | "quarter" | "year", day: string, n: number): string =>
      stepAsOf(day, { kind: "to_date", grain }, n);
    expect(by("month", "2026-10-17", -1)).toBe("2026-09-17");
    expect(by("month", "2026-02-28", 1)).toBe("2026-03-31");
    expect(by("quarter", "2026-05-31", -1)).toBe("2026-02-28");
    expect(by("year", "2024-02-29", 1)).toBe("2025-02-28");
    expect(by("week", "2026-01-01", -1)).toBe("2025-12-25");
    expect(stepAsOf("2026-01-01", { kind: "period", period: "2000-01-01" }, -1)).toBe("2025-12-31");
  });
  it("opens rows within what there is", () => {
    expect(openedBy({ depth: 2, paths: [["x"]] }, 1, 2)).toEqual({ depth: 2, paths: [] });
    expect(openedBy({ depth: 1, paths: [] }, -1, 2).depth).toBe(1);
  });
});

describe("limits, goals and own measures", () => {
  const base: Base = { kind: "period", back: 1, unit: "year", align: "same_dates" };
  const statement = whole({
    measures: [metric("net_sales"), metric("orders")],
    rows: ["region"],
    bases: [before, base],
  });
  it("follow their base when bases change places", () => {
    const set = limits.setLimit(
      limits.setGoal(statement, { metric: "orders", target: "90", of: "base", base: 2, own: [] }),
      null,
      {
        kind: "status",
        status: ["new"],
        level: null,
        base: 1,
      },
    );
    const moved = limits.moveBase(set, 0, 1);
    expect(moved.bases).toEqual([base, before]);
    expect([moved.goals[0]?.base, moved.limits[0]?.kind === "status" && moved.limits[0].base]).toEqual([
      1, 2,
    ]);
  });
  it("are one goal a metric, and go one by one", () => {
    const goal: Goal = { metric: "orders", target: "90", of: "base", base: 1, own: [] };
    const twice = limits.setGoal(limits.setGoal(statement, goal), { ...goal, target: "95" });
    expect(twice.goals).toEqual([{ ...goal, target: "95" }]);
    expect(limits.removeGoal(twice, "orders").goals).toEqual([]);
  });
  it("define a measure and show it; one that others need stays", () => {
    const own = {
      name: "per_order",
      expression: "net_sales / orders",
      unit: "currency",
      decimals: 2,
      polarity: "neutral",
    } as const;
    const one = limits.defineMeasure(statement, own);
    expect(one.measures.map((each) => each.measure)).toEqual(["net_sales", "orders", "per_order"]);
    const two = limits.defineMeasure(one, { ...own, name: "twice", expression: "per_order * 2" });
    expect(limits.undefine(two, "per_order")).toBeNull();
    expect(limits.undefine(two, "twice")?.defined).toEqual([own]);
    expect(changedParts(statement, one)).toEqual(["defined", "measures"]);
  });
  it("turn a comparison round by its days, and choose bases per measure", () => {
    const asked = (first: string, last: string) => ({ asked: { first, last } });
    const windows = [
      asked("2026-01-01", "2026-10-17"),
      asked("2025-12-01", "2026-09-17"),
      asked("2025-01-01", "2025-10-17"),
    ];
    const turned = limits.swapBase(statement, 1, windows);
    expect(turned?.window).toEqual({ kind: "dates", first: "2025-01-01", last: "2025-10-17" });
    expect(turned?.bases).toEqual([
      before,
      { kind: "given", window: { kind: "dates", first: "2026-01-01", last: "2026-10-17" } },
    ]);
    expect(limits.swapBase(statement, 1, [asked("2026-01-01", "2026-10-17"), { asked: null }])).toBeNull();
    expect(limits.setMeasureBases(statement, 1, [2]).measures.map((each) => each.bases)).toEqual([null, [2]]);
  });
  it("step a filter member by member", () => {
    const members = ["A", "B", null];
    expect([
      limits.stepMember(members, ["A"], 1),
      limits.stepMember(members, ["B"], 1),
      limits.stepMember(members, [null], 1),
    ]).toEqual(["B", null, undefined]);
    expect([limits.stepMember(members, [], 1), limits.stepMember(members, [], -1)]).toEqual(["A", null]);
    expect(limits.moved([1, 2, 3], 0, 9)).toEqual([2, 3, 1]);
  });
});
