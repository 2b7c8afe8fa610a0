/** What a calendar offers: weeks by their names, the months of a fiscal year, parts of a year. */
import { describe, expect, it } from "vitest";
import type { CalendarSettings } from "@/contract";
import { monthsOf, partsOf, weekOf, weeksOf, yearOf } from "@/model/calendar";
import { addDays } from "@/model/days";

const plain: CalendarSettings = {
  fiscal_start_month: 1,
  fiscal_year_named: "end",
  holidays: [],
  month_end_rule: true,
  week_start: 0,
  week_years: null,
  working_weekdays: [0, 1, 2, 3, 4],
};

describe("weeks", () => {
  it.each([
    ["2026-01-01", 0, "2026-W01"],
    ["2027-01-01", 0, "2026-W53"],
    ["2024-12-30", 0, "2025-W01"],
    ["2023-01-01", 0, "2022-W52"],
    // From Sundays, week 1 of 2026 is the one of Sunday, 4 January.
    ["2026-01-03", 6, "2025-W53"],
    ["2026-01-04", 6, "2026-W01"],
  ])("of %s from weekday %i is %s", (day, start, week) => expect(weekOf(day, start)).toBe(week));

  it("of a month are whole, follow each other and hold all of its days, whatever they begin with", () => {
    for (const start of [0, 1, 2, 3, 4, 5, 6])
      for (const month of ["2024-02", "2026-01", "2026-10"]) {
        const rows = weeksOf(month, start);
        const days = rows.flatMap((each) => each.days);
        expect(days).toEqual(days.map((_, at) => addDays(days[0] ?? "", at)));
        expect(days.filter((day) => day.startsWith(month))).toContain(`${month}-29`);
        for (const row of rows)
          expect(row.days.map((day) => weekOf(day, start))).toEqual(Array(7).fill(row.key));
        expect(rows.every((row) => row.days.some((day) => day.startsWith(month)))).toBe(true);
      }
  });
});

describe("a year", () => {
  it("has the months of its fiscal year in their order", () => {
    expect(monthsOf(2026, plain)).toEqual(
      Array.from({ length: 12 }, (_, at) => `2026-${String(at + 1).padStart(2, "0")}`),
    );
    const april = { ...plain, fiscal_start_month: 4 };
    expect([monthsOf(2026, april)[0], monthsOf(2026, april)[11]]).toEqual(["2025-04", "2026-03"]);
    expect(monthsOf(2026, { ...april, fiscal_year_named: "start" })[0]).toBe("2026-04");
    const weeks = { ...plain, week_years: {} as NonNullable<CalendarSettings["week_years"]> };
    expect(monthsOf(2026, weeks)[11]).toBe("2026-P12");
    expect(partsOf(2026)).toEqual(["2026", "2026-H1", "2026-H2", "2026-Q1", "2026-Q2", "2026-Q3", "2026-Q4"]);
  });
  it("is the fiscal one that a day lies in", () => {
    const april = { ...plain, fiscal_start_month: 4 };
    expect([yearOf("2026-03-31", april), yearOf("2026-04-01", april)]).toEqual([2026, 2027]);
    const named = { ...april, fiscal_year_named: "start" } as const;
    expect([yearOf("2026-03-31", named), yearOf("2026-04-01", named), yearOf("2026-04-01", plain)]).toEqual([
      2025, 2026, 2026,
    ]);
  });
});
