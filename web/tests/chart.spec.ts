import { describe, expect, it } from "vitest";
import type { Answer, AnsweredColumn, Row } from "@/contract";
import { axisOf, changesOf, drawingOf, MOST_ROWS, percentLines, seriesOf, severalOf } from "@/model/chart";
import { metric, whole } from "@/model/statement";

function column(measure: string, window: number, more: Partial<AnsweredColumn> = {}): AnsweredColumn {
  return {
    id: `${measure}.${window}.value`,
    measure,
    kind: "value",
    window,
    unit: "currency",
    decimals: 2,
    polarity: "neutral",
    measure_kind: "additive",
    parts_overlap: false,
    name: "",
    along: "",
    step: "",
    across: [],
    across_labels: [],
    ...more,
  };
}

function row(path: string[], slot: number, ...values: (string | null)[]): Row {
  const cells = values.map((value) => ({ value, numerator: null, denominator: null, reason: null }));
  return { path, label: path.at(-1) ?? "", status: null, can_open: false, is_open: false, cells, slot };
}

const columns = [
  column("net_sales", 0),
  column("net_sales", 1),
  column("orders", 0, { unit: "count" }),
  column("net_sales", 0, { along: "running_year" }),
  column("net_sales", 0, { across: ["North"], across_labels: ["North"] }),
];
const answer = {
  columns,
  periods: [0, 1, 2, 3].map((at) => ({ down: at ? [`${at}`] : [], across: [], windows: [] })),
  rows: [
    row(["2026-Q1"], 1, "30", "20", "3", "30", "1"),
    row(["2026-Q1", "2026-01"], 2, "10", null, "1", "10", "1"),
    row(["2026-Q1", "2026-02"], 3, "20", "20", "2", "30", "1"),
    row(["2026-Q1", "2026-02", "North"], 3, "20", "20", "2", "30", "1"),
  ],
} as unknown as Answer;
const statement = whole({
  measures: [metric("net_sales")],
  rows: [{ time: "quarter" }, { time: "month" }, "region"],
});

describe("the chart of a series", () => {
  it("draws the finest open level of time, without members below it or across", () => {
    const drawing = drawingOf(answer, statement);
    expect(drawing?.periods.map((each) => each.key)).toEqual(["2026-01", "2026-02"]);
    expect(drawing?.drawn.map((each) => [each.shape, each.values])).toEqual([
      ["bar", [10, 20]],
      ["bar", [null, 20]],
      ["line", [1, 2]],
      ["line", [10, 30]],
    ]);
    expect([0, 1, 2, 3].map((at) => drawing && axisOf(drawing, at))).toEqual([0, 0, 1, 0]);
  });
  it("draws the level that is open, not the finest one of the statement", () => {
    const years = {
      ...answer,
      rows: [row(["2025"], 1, "1", "1", "1", "1", "1"), row(["2026"], 2, "2", "1", "1", "1", "1")],
    };
    const nested = { ...statement, rows: [{ time: "year" } as const, { time: "month" } as const] };
    expect([drawingOf(years, nested)?.grain, drawingOf(answer, statement)?.grain]).toEqual(["year", "month"]);
  });
  it("draws one row of a table with time across, with its changes", () => {
    const at = (path: string[]): AnsweredColumn[] => [
      column("net_sales", 0, { across: path, across_labels: path }),
      column("net_sales", 1, { across: path, across_labels: path }),
    ];
    const across = {
      columns: [[], ["2026-01"], ["2026-02"], ["2026-02", "Trade"]].flatMap(at),
      periods: [[], ["2026-01"], ["2026-02"]].map((path) => ({ down: [], across: path, windows: [] })),
      rows: [row(["North"], 0, "9", "3", "4", "1", "5", "2", "5", "2")],
      total: row([], 0, "90", "30", "40", "10", "50", "20", "50", "20"),
    } as unknown as Answer;
    const months = whole({
      measures: [metric("net_sales")],
      rows: ["region"],
      across: [{ time: "month" }, "channel"],
    });
    const all = seriesOf(across, months);
    expect(all?.drawing.periods.map((each) => each.key)).toEqual(["2026-01", "2026-02"]);
    expect(all?.drawing.drawn.map((each) => each.values)).toEqual([
      [40, 50],
      [10, 20],
    ]);
    expect(all?.row).toBe(across.total);
    const north = seriesOf(across, months, across.rows[0]);
    expect(north?.drawing.drawn[0]?.values).toEqual([4, 5]);
    const february = north?.drawing.periods[1]?.row as Row;
    expect(north && changesOf(north.answer, north.drawing, february)[0]).toMatchObject({
      difference: { top: 3n, bottom: 1n },
      percent: { top: 3n, bottom: 2n },
    });
    expect(seriesOf(across, { ...months, across: ["channel"] })).toBeNull();
    expect(seriesOf(answer, statement)?.row).toBeNull();
  });
  it("holds several rows: the first ten, and the others as one, exactly", () => {
    const months = ["2026-01", "2026-02"];
    const columns = [[], ...months.map((each) => [each])].map((path) =>
      column("net_sales", 0, { across: path, across_labels: path }),
    );
    const periods = [[], ...months.map((each) => [each])].map((path) => ({
      down: [],
      across: path,
      windows: [],
    }));
    const numbers = Array.from({ length: MOST_ROWS + 2 }, (_, at) => at + 1);
    const rows = numbers.map((at) =>
      row([`R${at}`], 0, `${at}.30`, `${at}.10`, at > MOST_ROWS ? "0.10" : `${at}`),
    );
    const across = { columns, periods, rows, total: row([], 0, "1", "2", "3") } as unknown as Answer;
    const of = whole({ measures: [metric("net_sales")], rows: ["rep"], across: [{ time: "month" }] });
    const several = severalOf(across, of);
    expect(several?.rows.map((each) => each.label)).toEqual([
      ...numbers.slice(0, MOST_ROWS).map((at) => `R${at}`),
      "the other 2",
    ]);
    const sums = several?.rows.at(-1)?.values.map((each) => each && Number(each.top) / Number(each.bottom));
    expect(sums).toEqual([23.2, 0.2]);
    // What does not add up is not added up; one row alone is no comparison; with time down there are no rows.
    const means = {
      ...across,
      columns: columns.map((each) => ({ ...each, measure_kind: "derived" as const })),
    };
    expect(severalOf(means, of)?.rows).toHaveLength(MOST_ROWS);
    const own = severalOf(means, of, ["R10", "R3", "gone"]);
    expect(own?.rows.map((each) => each.label)).toEqual(["R3", "R10"]);
    expect(own?.offered.length).toBe(rows.length);
    expect(severalOf(means, of, ["gone"])?.rows).toHaveLength(MOST_ROWS);
    expect(severalOf({ ...across, rows: rows.slice(0, 1) }, of)).toBeNull();
    expect(severalOf(answer, statement)).toBeNull();
  });
  it("has nothing to draw where rows do not begin with time", () => {
    expect(drawingOf(answer, { ...statement, rows: ["region", { time: "month" }] })).toBeNull();
    expect(drawingOf({ ...answer, periods: [] }, statement)).toBeNull();
  });
  it("draws percentages as parts of a hundred, as their changes are", () => {
    const margin = column("margin_percent", 0, { unit: "percent", measure_kind: "derived" });
    const rates = {
      ...answer,
      columns: [margin],
      rows: answer.rows
        .slice(1, 3)
        .map((each) => ({ ...each, cells: each.cells.map((cell) => ({ ...cell, value: "0.25" })) })),
    };
    expect(drawingOf(rates, statement)?.drawn[0]?.values).toEqual([25, 25]);
  });
  it("knows the change against each base exactly, whether the table shows it or not", () => {
    const drawing = drawingOf(answer, statement)!;
    const [january, february] = drawing.periods.map((each) => changesOf(answer, drawing, each.row));
    expect(january).toEqual([]);
    expect(february?.map((each) => [each.difference, each.percent])).toEqual([
      [
        { top: 0n, bottom: 1n },
        { top: 0n, bottom: 20n },
      ],
    ]);
    expect(percentLines(answer, drawing).map((each) => each.values)).toEqual([[null, 0]]);
    const fallen = {
      ...answer,
      rows: [answer.rows[1]!, row(["2026-Q1", "2026-02"], 3, "5", "-20", "2", "3", "1")],
    };
    const [, down] = drawingOf(fallen, statement)!.periods.map((each) =>
      changesOf(fallen, drawing, each.row),
    );
    expect(down?.map((each) => [each.difference, each.percent])).toEqual([[{ top: 25n, bottom: 1n }, null]]);
  });
});
