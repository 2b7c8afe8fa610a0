/** Movers for the eye: rods in their places, a broken axis where steps would be invisible, columns that are proved. */
import { describe, expect, it } from "vitest";
import type { Cell, Movers, Step } from "@/contract";
import { columnOf, decimalsOf, largestChange, nextBase, placed } from "@/model/movers";

function cell(value: string): Cell {
  return { value, numerator: null, denominator: null, reason: null } as Cell;
}

function step(kind: string, starts: string, ends: string): Step {
  return {
    kind,
    count: 1,
    amount: cell("0"),
    starts: cell(starts),
    ends: cell(ends),
    label: "",
    path: null,
    column: "",
  };
}

function movers(parts: object): Movers {
  return {
    statement: { measures: [{ measure: "net_sales" }] },
    base: 2,
    unit: "currency",
    decimals: 2,
    polarity: "more_is_favourable",
    adds_up: true,
    total: { shown: { value: cell("120000.50"), base: cell("90.00") } },
    ups: { movers: [{ shown: { difference: cell("10.00") } }] },
    downs: { movers: [{ shown: { difference: cell("-25.00") } }, { shown: {} }] },
    ...parts,
  } as unknown as Movers;
}

describe("a bridge", () => {
  it("begins at 0 where its steps can be seen", () => {
    const { broken, rods } = placed([
      step("base", "0", "100"),
      step("up", "100", "200"),
      step("current", "0", "200"),
    ]);
    expect(broken).toBe(false);
    expect(rods.map(({ from, to }) => [from, to])).toEqual([
      [0, 0.5],
      [0.5, 1],
      [0, 1],
    ]);
  });

  it("is broken where they could not, and every rod stays inside", () => {
    const { broken, rods } = placed([
      step("base", "0", "1000"),
      step("down", "1000", "980"),
      step("up", "980", "1010"),
      step("current", "0", "1010"),
    ]);
    expect(broken).toBe(true);
    expect(rods.every(({ from, to }) => from >= 0 && to <= 1 && from <= to)).toBe(true);
    expect(rods[0]?.from).toBe(0);
    expect((rods[2]?.to ?? 0) - (rods[2]?.from ?? 0)).toBeGreaterThan(0.5);
  });

  it("goes below 0, and stands where nothing moves", () => {
    const below = placed([step("base", "0", "-50"), step("up", "-50", "50"), step("current", "0", "50")]);
    expect(below.broken).toBe(false);
    expect(below.rods.map(({ from, to }) => [from, to])).toEqual([
      [0, 0.5],
      [0, 1],
      [0.5, 1],
    ]);
    const still = placed([step("base", "0", "7"), step("current", "0", "7")]);
    expect(still.rods.every(({ from, to }) => Number.isFinite(from) && Number.isFinite(to))).toBe(true);
  });
});

describe("what movers show", () => {
  it("is a column of the statement that they are the figures of", () => {
    expect(columnOf(movers({}), "value").id).toBe("net_sales.0.value");
    expect(columnOf(movers({}), "base").id).toBe("net_sales.2.value");
    expect(columnOf(movers({}), "share_change")).toMatchObject({
      id: "net_sales.2.share_change",
      unit: "points",
      decimals: 1,
    });
    expect(columnOf(movers({ unit: "percent", decimals: 1 }), "difference").unit).toBe("points");
  });

  it("is written in whole units where there are many, and measured by the largest", () => {
    expect([decimalsOf(movers({})), decimalsOf(movers({ adds_up: null }))]).toEqual([0, 2]);
    expect(largestChange(movers({}))).toBe(25);
    expect(largestChange(movers({ ups: { movers: [] }, downs: { movers: [] } }))).toBe(1);
  });

  it("is held against one base after the other", () => {
    const asked = { base: 1 } as Movers["statement"] & { base: number };
    expect([1, 2, 3].map((base) => nextBase({ ...asked, base } as never, 3).base)).toEqual([2, 3, 1]);
  });
});
