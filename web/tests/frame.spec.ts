import { describe, expect, it } from "vitest";
import type { AnsweredWindow, Row } from "@/contract";
import { addDays, addMonths, dayNumber, dayOf, dayText, rangeText } from "@/model/days";
import { dayAt, positionAfter, slots } from "@/model/frame";
import { monthsBetween } from "@/model/months";
import { largestChanges } from "@/model/table";
import { many, periodName } from "@/words/names";

function rod(beads: [string, number][]): AnsweredWindow {
  return {
    beads: beads.map(([first, days]) => ({
      key: first,
      first,
      last: addDays(first, days - 1),
      days,
      counted_days: days,
      value: null,
    })),
  } as unknown as AnsweredWindow;
}
const months = rod([
  ["2026-01-01", 31],
  ["2026-02-01", 28],
  ["2026-03-01", 31],
]);

describe("days", () => {
  it("counts across years and leap days", () => {
    expect(dayNumber("1970-01-01")).toBe(0);
    expect(dayOf(dayNumber("2024-02-29") + 1)).toBe("2024-03-01");
    expect(addMonths("2026-03-31", -1)).toBe("2026-02-28");
    expect(addMonths("2026-01-15", -1)).toBe("2025-12-15");
  });
  it("reads as people write", () => {
    expect(dayText("2026-10-07")).toBe("7 Oct 2026");
    expect(rangeText("2026-01-01", "2026-10-17")).toBe("1 Jan – 17 Oct 2026");
    expect(rangeText("2025-11-01", "2026-10-17")).toBe("1 Nov 2025 – 17 Oct 2026");
    expect(rangeText("2026-10-17", "2026-10-17")).toBe("17 Oct 2026");
  });
});

describe("the as-of marker", () => {
  it("stands after its day and finds it again", () => {
    for (const day of ["2026-01-01", "2026-01-31", "2026-02-14", "2026-02-28", "2026-03-30"]) {
      const position = positionAfter(months, day);
      expect(dayAt(months, position - 0.001)).toBe(day);
    }
  });
  it("stays on the rod", () => {
    expect(positionAfter(months, "2025-12-31")).toBe(0);
    expect(positionAfter(months, "2026-05-01")).toBe(3);
    expect(dayAt(months, -4)).toBe("2026-01-01");
    expect(dayAt(months, 99)).toBe("2026-03-31");
    expect(slots([months, rod([["2025-01-01", 31]])])).toBe(3);
  });
});

describe("the table", () => {
  it("compares changes among siblings", () => {
    const row = (path: string[], value: string): Row =>
      ({ path, cells: [{ value, numerator: null, denominator: null, reason: null }] }) as unknown as Row;
    const columns = [{ at: 0, bar: true, column: {} as never }];
    const largest = largestChanges([row(["a"], "-7"), row(["b"], "5"), row(["b", "c"], "2")], columns);
    expect([largest.get("0-1"), largest.get("0-2")]).toEqual([7, 2]);
  });
});

describe("words", () => {
  it("names periods and members as people do", () => {
    expect(["2026", "2026-Q1", "2026-H2", "2026-03", "2026-W07"].map(periodName)).toEqual([
      "2026",
      "Q1 2026",
      "H2 2026",
      "Mar 2026",
      "Week 7 2026",
    ]);
    expect(["category", "city", "rep", "day"].map(many)).toEqual(["categories", "cities", "reps", "days"]);
  });
  it("knows every month between two", () => {
    expect(monthsBetween(["2025-11", "2026-02"])).toEqual(["2025-11", "2025-12", "2026-01", "2026-02"]);
    expect(monthsBetween([])).toEqual([]);
  });
});
