import { describe, expect, it } from "vitest";
import type { AnsweredPeriod, AnsweredWindow } from "@/contract";
import { axesOf } from "@/model/chart";
import { PLAIN } from "@/contract/vocabulary";
import { byNearness } from "@/model/nearest";
import { turnedBaseUnits, whole } from "@/model/statement";
import { cutWords, markOf, postedWords } from "@/words/marks";
import { matching } from "@/words/phrases";
import { exactly, heading, labelOf, metricHeading, spoken, type Told } from "@/words/table";
import { answer, column, row, DAYS, NUMBERS } from "./answers";

function window(first: string, last: string, parts: Partial<AnsweredWindow> = {}): AnsweredWindow {
  return {
    key: null,
    asked: { first, last },
    period: { first, last },
    counted: [],
    counted_days: 10,
    partly_covered: false,
    reason: null,
    fairness: null,
    overlaps: false,
    month_end_rule_matters: false,
    beads: [],
    without_holidays: false,
    is_current: false,
    posted: null,
    ...parts,
  };
}

const NOW = column("net_sales.0.value");
const THEN = column("net_sales.1.value");
const CHANGE = column("net_sales.1.percent_change", { unit: "percent", decimals: 1 });
const COLUMNS = [NOW, THEN, CHANGE];
const STATEMENT = whole({
  measures: [{ measure: "net_sales", show: ["percent_change"], shares: [], name: "" }],
  rows: [{ time: "month" }],
  bases: [{ kind: "period", back: 1, unit: "year", align: "same_dates" }],
});

function told(rows: ReturnType<typeof row>[], total: ReturnType<typeof row>, parts: object = {}): Told {
  return {
    answer: answer(COLUMNS, rows, total, parts),
    statement: STATEMENT,
    layout: PLAIN,
    said: {},
    numbers: NUMBERS,
    days: DAYS,
  };
}

describe("marks", () => {
  const half = window("2023-01-01", "2023-12-31", { posted: { posted: 11, asked: 12, grain: "month" } });
  const windows = [window("2024-01-01", "2024-12-31"), { ...half, fairness: "unequal" as const }];
  const fair = row(["2024-01"], ["664", "786", "-61/393"]);

  it("stand at the cells whose pair of windows they concern, in numbers, and in no heading", () => {
    const all = row([], ["664", "786", "-61/393"]);
    const seen = told([fair], all, { windows });
    expect(postedWords(half, NUMBERS)).toBe("11 of 12 months posted in 2023");
    expect(COLUMNS.map((each) => markOf(seen.answer, all, each, NUMBERS))).toEqual([
      "",
      "11 of 12 months posted in 2023",
      "11 of 12 months posted in 2023",
    ]);
    expect(heading(CHANGE, seen)).not.toContain("!");
    expect(spoken(all, CHANGE, "−15.5%", seen)).toContain("−15.5%, 11 of 12 months posted in 2023");
  });

  it("are those of a row's own period in a series", () => {
    const periods: AnsweredPeriod[] = [
      { down: [], across: [], windows },
      {
        down: ["2024-01"],
        across: [],
        windows: [window("2024-01-01", "2024-01-31"), window("2023-01-01", "2023-01-31")],
      },
    ];
    const january = { ...fair, slot: 1 };
    const seen = told([january], row([], ["664", "786", "-61/393"], { slot: 0 }), { windows, periods });
    expect(markOf(seen.answer, january, CHANGE, NUMBERS)).toBe("");
    expect(markOf(seen.answer, seen.answer.total, CHANGE, NUMBERS)).toContain("11 of 12");
  });

  it("name a period that is cut by its end", () => {
    const cut = window("2026-05-01", "2026-05-20", { period: { first: "2026-05-01", last: "2026-05-31" } });
    expect(cutWords(cut)).toBe("to the 20th");
    const days = [1, 2, 3, 4, 11, 12, 13, 21, 22, 23];
    const ends = days.map((day) =>
      cutWords({ ...cut, asked: { first: "2026-05-01", last: `2026-05-${String(day).padStart(2, "0")}` } }),
    );
    expect(ends.map((each) => each.replace("to the ", "")).join(" ")).toBe(
      "1st 2nd 3rd 4th 11th 12th 13th 21st 22nd 23rd",
    );
    const may = row(["2026-05"], ["1", "1", "0"], { slot: 1 });
    const periods = [
      { down: [], across: [], windows: [cut] },
      { down: ["2026-05"], across: [], windows: [cut] },
    ];
    expect(labelOf(may, told([may], may, { periods }))).toBe("May 2026, to the 20th");
  });
});

describe("what a figure is made of", () => {
  it("is told with the figures of the table, not reduced", () => {
    const shown = row(["N"], ["664", "786", "-61/393"]);
    const seen = told([shown], row([], ["664", "786", "-61/393"]));
    expect(exactly(shown, CHANGE, seen)).toContain("= −122 ÷ 786");
    expect(exactly(shown, NOW, seen)).toBe("664 EUR");
  });

  it("names both periods, both values and the target of a goal", () => {
    const goal = column("net_sales.1.goal");
    const columns = [NOW, THEN, goal];
    const shown = row(["N"], ["900", "800", "900/840"]);
    if (shown.cells[2]) shown.cells[2] = { ...shown.cells[2], met: true };
    const windows = [window("2026-01-01", "2026-10-17"), window("2025-01-01", "2025-10-17")];
    const statement = {
      ...STATEMENT,
      goals: [{ metric: "net_sales", target: "105", of: "base" as const, own: [], base: 1, direction: null }],
    };
    const seen: Told = {
      answer: answer(columns, [shown], shown, { windows }),
      statement,
      layout: PLAIN,
      said: {},
      numbers: NUMBERS,
      days: DAYS,
    };
    expect(exactly(shown, goal, seen)).toBe(
      "Met. 1 Jan – 17 Oct 2026: 900. 1 Jan – 17 Oct 2025: 800. Target: 105% of that, 840.",
    );
  });
});

describe("headings of measures below each other", () => {
  it("stay with their own measure", () => {
    const layout = { ...PLAIN, measures: "below" as const, headings: { [NOW.id]: "Turnover" } };
    const orders = column("orders.0.value", { unit: "number" as never });
    const seen = { ...told([], row([], ["1", "1", "0"])), layout };
    seen.answer = answer([...COLUMNS, orders], [], row([], ["1", "1", "0", "4"]));
    expect(metricHeading(NOW, seen)).toContain("Turnover");
    expect(metricHeading(orders, seen)).toBe("Orders");
    expect(heading(NOW, seen)).not.toBe("Turnover");
  });
});

describe("axes of a chart", () => {
  it("have their zeros at one height, and headroom", () => {
    const [left, right] = axesOf([
      [100, -50, null],
      [10, 40],
    ]);
    const part = (each: { min?: number; max?: number } | undefined): number =>
      -(each?.min ?? 0) / ((each?.max ?? 0) - (each?.min ?? 0));
    expect(part(left)).toBeCloseTo(part(right), 6);
    expect(left?.max).toBeGreaterThan(100);
    expect(left?.min).toBeLessThan(-50);
    expect(right?.max).toBeGreaterThan(40);
    expect(axesOf([[5, 10]])[0]?.min).toBe(0);
    expect(axesOf([[null], []])).toEqual([{}, {}]);
    expect(axesOf([[-5, -1]])[0]?.max).toBe(0);
  });
});

describe("what people look for", () => {
  it("is found by the words that they use", () => {
    const items = [
      { words: "with % change" },
      { words: "for the month to date" },
      { words: "against the same dates last year" },
      { words: "Change the goals" },
      { words: "Show it as a page to print" },
      { words: "Open a statement" },
    ];
    const found = (typed: string): string[] => matching(items, typed).map((each) => each.words);
    expect(found("growth")).toEqual(["with % change"]);
    expect(found("this month")).toEqual(["for the month to date"]);
    expect(found("last year")).toEqual(["against the same dates last year"]);
    expect(found("target")).toEqual(["Change the goals"]);
    expect(found("deliver")).toEqual(["Show it as a page to print"]);
    expect(found("email")).toEqual(["Show it as a page to print"]);
    expect(found("delete")).toEqual(["Open a statement"]);
  });

  it("is offered where a name is not there, the nearest first", () => {
    const names = ["Plan 2026", "Kiln & Glaze", "Shop"];
    expect(byNearness("kiln and glaze", names, (each) => each)[0]).toBe("Kiln & Glaze");
    expect(byNearness("Sohp", names, (each) => each)[0]).toBe("Shop");
  });
});

describe("the unit of a comparison", () => {
  it("is turned from the year to the quarter to the month and round again", () => {
    const turns = (statement: typeof STATEMENT): string[] =>
      turnedBaseUnits(statement).map(({ bases: [base] }) =>
        base?.kind === "period" || base?.kind === "shifted" ? `${base.kind} ${base.unit}` : "",
      );
    expect(turns(STATEMENT)).toEqual(["period quarter", "shifted quarter", "period month", "shifted month"]);
    const [, shifted] = turnedBaseUnits(STATEMENT);
    expect(shifted && turns(shifted)).toEqual([
      "period month",
      "shifted month",
      "period year",
      "shifted year",
    ]);
    expect(turnedBaseUnits({ ...STATEMENT, bases: [] })).toEqual([]);
  });
});
