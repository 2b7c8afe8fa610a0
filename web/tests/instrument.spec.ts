/** Layout, blocks of cells, search, trends, and a pasted answer laid beside the table. */
import { describe, expect, it } from "vitest";
import type { AnsweredPeriod, AnsweredWindow, Row, Statement } from "@/contract";
import { PLAIN } from "@/contract/vocabulary";
import {
  alikeAcross,
  hiddenPeriods,
  laidOut,
  layoutParts,
  moveAlike,
  moveColumn,
  searched,
  setHeading,
  setWidth,
  turnColumn,
  wholeLayout,
} from "@/model/layout";
import { compared, fieldsOf, numberIn } from "@/model/pasted";
import { linesOf, slotsOf } from "@/model/lines";
import { bounds, summed } from "@/model/selection";
import { whole } from "@/model/statement";
import { trendKey, trendOf, trendQuestion, trendsOf } from "@/model/trends";
import { groupsOf, shownColumns } from "@/model/table";
import { localMarks, numbersWith } from "@/model/numbers";
import { heading, headingBase, plainHeadings, spoken } from "@/words/table";
import { answer, cells, column, row, DAYS, NUMBERS } from "./answers";

const NET = column("net_sales.0.value");
const BASE = column("net_sales.1.value", { window: 1 });
const RATE = column("net_sales.1.percent_change", { window: 1, unit: "percent", decimals: 1 });
const TABLE = answer(
  [NET, BASE, RATE],
  [
    row(["North"], ["10.50", "8.00", "5/16"], { can_open: true }),
    row(["North", "Ada"], ["4.50", "8.00", "-7/16"]),
    row(["North", "Bo"], ["6.00", "0.00", "base_is_zero"]),
    row(["South"], ["-2.25", "before_coverage", "before_coverage"]),
  ],
  row([], ["8.25", "8.00", "1/32"]),
);

describe("a layout", () => {
  it("orders and hides columns, and changes no figure", () => {
    const layout = { ...PLAIN, order: ["net_sales.1.percent_change"], hidden: ["net_sales.1.value"] };
    const seen = laidOut(TABLE, layout);
    expect(seen.columns.map((each) => each.id)).toEqual(["net_sales.1.percent_change", "net_sales.0.value"]);
    expect(seen.rows[1]?.cells.map((each) => each.value)).toEqual(["-0.4375", "4.50"]);
    expect(seen.total.cells[1]?.value).toBe("8.25");
    expect(
      plainHeadings(seen.columns, {
        answer: seen,
        statement: whole({}),
        layout,
        said: {},
        numbers: NUMBERS,
        days: DAYS,
      }),
    ).toEqual(["plain net_sales.1.percent_change", "plain net_sales.0.value"]);
    expect(laidOut(TABLE, PLAIN)).toBe(TABLE);
  });
  it("gives measures decimals, and leaves percentages theirs", () => {
    const seen = laidOut(TABLE, { ...PLAIN, decimals: { net_sales: 0 } });
    expect(seen.columns.map((each) => each.decimals)).toEqual([0, 0, 1]);
  });
  it("gives percentages decimals of their own, all alike, and leaves measures theirs", () => {
    const seen = laidOut(TABLE, { ...PLAIN, percent_decimals: 3 });
    expect(seen.columns.map((each) => each.decimals)).toEqual([2, 2, 3]);
  });
  it("calls columns otherwise, and says what they compare with", () => {
    const layout = setHeading(setHeading(PLAIN, [RATE.id], " Growth "), [BASE.id], "Before");
    const windows = [
      { key: "2026", asked: null, counted_days: 10 },
      { key: "2025", asked: null, fairness: "unequal", counted_days: 9 },
    ];
    const told = {
      answer: { ...TABLE, windows: windows as unknown as AnsweredWindow[] },
      statement: whole({
        measures: [],
        bases: [{ kind: "period", back: 1, unit: "year", align: "same_dates" }],
      }),
      layout,
      said: {},
      numbers: NUMBERS,
      days: DAYS,
    };
    expect([NET, BASE, RATE].map((each) => heading(each, told))).toEqual([
      "heading of value 0",
      "Before",
      "Growth",
    ]);
    expect([NET, BASE, RATE].map((each) => headingBase(each, told))).toEqual(["", "", "on base 1"]);
    expect(plainHeadings([RATE], told)).toEqual(["Growth: plain net_sales.1.percent_change"]);
    expect(spoken(row(["North"], ["1", "2", "3"]), RATE, "+1.0%", told)).toBe(
      "North, net sales Growth on base 1: +1.0%, unequal: 9 days against 10",
    );
    expect(setHeading(layout, [RATE.id], " ").headings).toEqual({ [BASE.id]: "Before" });
  });
  it("moves, hides and names what stands under every member across alike", () => {
    const at = (path: string[]) =>
      [NET, BASE, RATE].map((each) =>
        column(`${each.id}@${path.join()}`, { ...each, id: `${each.id}@${path.join()}`, across: path }),
      );
    const columns = [...at([]), ...at(["N"])];
    const groups = alikeAcross(columns).map((group) => group.map((each) => each.id));
    expect(groups.map((each) => each.length)).toEqual([2, 2, 2]);
    const moved = moveAlike(PLAIN, columns, `${RATE.id}@`, -1);
    const ids = [NET.id, RATE.id, BASE.id];
    expect(moved.order).toEqual([...ids.map((id) => `${id}@`), ...ids.map((id) => `${id}@N`)]);
    expect(moveAlike(PLAIN, columns, `${NET.id}@`, -1)).toBe(PLAIN);
    expect(turnColumn(PLAIN, ...(groups[1] ?? [])).hidden).toEqual(groups[1]);
  });
  it("hides periods without figures, and says how many", () => {
    const periods = [{}, {}, {}] as unknown as AnsweredPeriod[];
    const months = answer(
      [NET, BASE],
      [
        row(["2026-01"], ["0.00", "4.00"], { slot: 1 }),
        row(["2026-02"], ["1.00", "0.00"], { slot: 2 }),
        row(["2026-03"], ["after_as_of", "9.00"], { slot: 3 }),
      ],
      row([], ["1.00", "4.00"]),
      { periods },
    );
    const layout = { ...PLAIN, empty_periods: "hidden" as const };
    expect(laidOut(months, layout).rows.map((each) => each.label)).toEqual(["2026-02"]);
    expect([hiddenPeriods(months, layout), hiddenPeriods(months, PLAIN)]).toEqual([2, 0]);
    expect(laidOut(months, layout).total).toBe(months.total);
  });
  it("hides totals across by how deep a column stands", () => {
    const wide = answer(
      [column("a.0.value", { across: ["x"] }), column("a.0.value@", { across: [] })],
      [],
      row([], ["1", "2"]),
    );
    expect(laidOut(wide, { ...PLAIN, totals_across: "off" }).columns).toHaveLength(1);
  });
  it("puts totals across after what they are the totals of", () => {
    const paths = [[], ["x"], ["x", "1"], ["x", "2"], ["y"], ["y", "1"]];
    const wide = answer(
      paths.map((across) => column(`a.0.value@${across.join("/")}`, { across })),
      [],
      row([], paths.map(String)),
    );
    const seen = laidOut(wide, { ...PLAIN, totals_across: "after" });
    expect(seen.columns.map((each) => each.across.join("/"))).toEqual(["x/1", "x/2", "x", "y/1", "y", ""]);
    expect(laidOut(wide, PLAIN)).toBe(wide);
  });
  it("moves, hides and widens columns within what makes sense", () => {
    const ids = [["a"], ["b"], ["c"]];
    expect(moveColumn(PLAIN, ids, "b", 1).order).toEqual(["a", "c", "b"]);
    expect(moveColumn(PLAIN, ids, "c", 1)).toBe(PLAIN);
    expect(
      moveColumn(
        PLAIN,
        [
          ["a", "x"],
          ["b", "y"],
        ],
        "b",
        -1,
      ).order,
    ).toEqual(["b", "y", "a", "x"]);
    expect(turnColumn(turnColumn(PLAIN, "a"), "a").hidden).toEqual([]);
    expect(turnColumn(turnColumn(PLAIN, "a"), "a", "b").hidden).toEqual(["a", "b"]);
    expect(setWidth(PLAIN, "a", 5).widths).toEqual({ a: 40 });
    expect(layoutParts(setWidth(PLAIN, "a", 99.6))).toEqual({ widths: { a: 100 } });
    expect(wholeLayout({ zeros: "dash" })).toEqual({ ...PLAIN, zeros: "dash" });
    // An address of an earlier build.
    const sides = { "net_sales.0.value": "right" };
    expect(wholeLayout({ chart: { sides, key: "none" } }).chart).toMatchObject({ axes: sides, key: "none" });
    expect(wholeLayout({ chart: { sides } }).chart).not.toHaveProperty("sides");
  });
  it("writes negatives and zeros as it says", () => {
    const [minus, zero] = cells("-1234.50", "0.00");
    const written = { negatives: "brackets", zeros: "dash", marks: "comma_point" } as const;
    expect(NUMBERS.cell(minus!, NET, 2, written)).toBe("(1,234.50)");
    expect(NUMBERS.cell(zero!, NET, 2, written)).toBe("-");
    expect(NUMBERS.cell(zero!, NET, 2, { ...written, zeros: "blank" })).toBe("");
    expect(NUMBERS.cell(minus!, NET, 2)).toBe("−1,234.50");
    expect(numbersWith(() => "point_comma").cell(minus!, NET, 2, written)).toBe("(1.234,50)");
    const own = { ...written, written: { net_sales: { negatives: "minus", zeros: null } } } as const;
    expect([NUMBERS.cell(minus!, NET, 2, own), NUMBERS.cell(zero!, NET, 2, own)]).toEqual(["−1,234.50", "-"]);
    expect(NUMBERS.cell(minus!, { ...NET, measure: "returns" }, 2, own)).toBe("(1,234.50)");
    expect(["en", "de", "fr", "pl"].map((each) => localMarks(each))).toEqual([
      "comma_point",
      "point_comma",
      "space_comma",
      "space_comma",
    ]);
  });
});

describe("a block of cells", () => {
  const rows = linesOf([...TABLE.rows, TABLE.total], slotsOf(shownColumns(TABLE), PLAIN), PLAIN);
  it("counts, and adds up one additive measure of one window", () => {
    expect(summed(rows, { from: [2, 0], to: [1, 0] })).toEqual({
      count: 2,
      sum: { top: 1050n, bottom: 100n },
      missing: [],
    });
    expect(summed(rows, { from: [0, 1], to: [3, 1] }).sum).toEqual({ top: 1600n, bottom: 100n });
  });
  it("adds no percentages, and nothing of several kinds", () => {
    expect(summed(rows, { from: [0, 2], to: [2, 2] })).toMatchObject({ count: 3, sum: null });
    expect(summed(rows, { from: [0, 0], to: [0, 2] })).toMatchObject({ count: 3, sum: null });
  });
  it("waits for rows that are not filled yet", () => {
    const [first, ...others] = TABLE.rows;
    const waiting = { ...TABLE.rows[0], cells: [] } as Row;
    const lines = linesOf([waiting, ...others], slotsOf(shownColumns(TABLE), PLAIN), PLAIN);
    expect(first).toBeDefined();
    expect(summed(lines, { from: [0, 0], to: [1, 0] })).toMatchObject({ sum: null, missing: [waiting] });
  });
  it("knows its cells, whichever corner it began at", () => {
    expect(bounds({ from: [3, 0], to: [1, 2] })).toEqual({ top: 1, bottom: 3, left: 0, right: 2 });
  });
});

describe("the table", () => {
  it("finds rows by name and keeps what they stand under", () => {
    expect(searched(TABLE.rows, " BO ").map((each) => each.label)).toEqual(["North", "Bo"]);
    expect(searched(TABLE.rows, "")).toBe(TABLE.rows);
    expect(searched(TABLE.rows, "zz")).toEqual([]);
  });
  it("groups neighbours of one measure, and draws a trend where time alone stands across", () => {
    const across = ["2026-01", "2026-02", "2026-03"].map((key) =>
      column(`net_sales.0.value@${key}`, {
        measure: "net_sales",
        window: 0,
        kind: "value",
        across: [key],
        across_labels: [key],
      }),
    );
    const wide = answer([...across, column("net_sales.0.value", {})], [], row([], ["1", "2", "3", "6"]));
    expect(groupsOf(shownColumns(wide), PLAIN)).toHaveLength(4);
    const statement: Statement = whole({ measures: [], across: [{ time: "month" }] });
    expect(trendOf(wide, statement, null)).toEqual([0, 1, 2]);
    expect(trendOf(wide, whole({ measures: [], across: ["region"] }), null)).toEqual([]);
  });
  it("draws trends of whole periods only", () => {
    const keys = ["2026-01", "2026-02", "2026-03", "2026-04"];
    const columns = keys.map((key) => column("net_sales.0.value", { across: [key], across_labels: [key] }));
    const month = (key: string, counted: number): AnsweredPeriod => ({
      down: [],
      across: [key],
      windows: [
        { period: { first: `${key}-01`, last: `${key}-28` }, counted_days: counted } as AnsweredWindow,
      ],
    });
    const series = answer(columns, [row(["A"], ["1", "2", "3", "4"])], row([], ["1", "2", "3", "4"]), {
      periods: keys.map((key) => month(key, key === "2026-04" ? 17 : 28)),
    });
    expect(trendsOf(series, "month").values.get(trendKey(["A"]))).toEqual([1, 2, 3]);
    expect(trendOf(series, whole({ measures: [], across: [{ time: "month" }] }), null)).toEqual([0, 1, 2]);
  });
  it("asks for the trends of windows by their first measure, as finely as they are long", () => {
    const windows = (first: string): AnsweredWindow[] => [
      { asked: { first, last: "2026-10-17" } } as AnsweredWindow,
    ];
    const statement = whole({
      measures: [
        { measure: "orders", show: ["difference"], along: null, shares: [], bases: null, name: "O" },
      ],
      rows: ["region"],
      bases: [{ kind: "fixed", period: "2025", align: "same_dates" }],
      limits: [
        { kind: "members", dimension: "region", members: ["A"] },
        { kind: "status", status: ["kept"], level: null, base: 1 },
      ],
      sort: { column: "orders.1.difference", descending: true },
    });
    const question = { ledger: "L", statement, opened: { depth: 1, paths: [] } };
    const asked = trendQuestion(question, { ...TABLE, windows: windows("2026-01-01") });
    expect(asked?.grain).toBe("month");
    expect(asked?.question.statement).toMatchObject({
      rows: ["region"],
      across: [{ time: "month" }],
      bases: [],
      sort: null,
    });
    expect(asked?.question.statement.limits.map((each) => each.kind)).toEqual(["members"]);
    const grain = (first: string): string | undefined =>
      trendQuestion(question, { ...TABLE, windows: windows(first) })?.grain;
    expect([grain("2026-10-01"), grain("2026-07-01"), grain("2020-01-01")]).toEqual([
      "day",
      "week",
      "quarter",
    ]);
    const timed = { ...question, statement: { ...statement, rows: [{ time: "month" as const }] } };
    expect(trendQuestion(timed, { ...TABLE, windows: windows("2026-01-01") })).toBeNull();
  });
});

describe("a pasted answer", () => {
  const headings = ["net sales This year", "net sales 2025", "net sales % change"];
  const labels = (each: { path: (string | null)[]; label: string }): string[] =>
    each.path.length ? each.path.map(String) : ["All"];
  const told = (text: string): [string, string][] =>
    compared(text, TABLE, headings, labels as never).map((each) => [each.wanted, each.verdict]);

  it("is found again by row and heading, as finely as it is written", () => {
    const text =
      "Region\tNet sales this year\tnet sales 2025\nNorth\t10.5\t8\nSouth\t-2\t1\nNowhere\t3\t4\nAll\t8.25\t9";
    expect(told(text)).toEqual([
      ["10.5", "equal"],
      ["8", "equal"],
      ["-2", "equal"],
      ["1", "absent"],
      ["3", "absent"],
      ["4", "absent"],
      ["8.25", "equal"],
      ["9", "different"],
    ]);
  });
  it("takes a deep row by its own name alone, and a heading that is not there as absent", () => {
    expect(told("Rep;net sales this year;gross\nBo;6,00;6")).toEqual([
      ["6,00", "equal"],
      ["6", "absent"],
    ]);
    expect(told("Region\tRep\tnet sales % change\nNorth\tAda\t-43.8%")).toEqual([["-43.8%", "equal"]]);
    expect(told("Region\tRep\tnet sales % change\nNorth\tAda\t-43.7%")).toEqual([["-43.7%", "different"]]);
  });
  it("reads numbers as people write them", () => {
    const read = (text: string): number | null => {
      const value = numberIn(text);
      return value && Number(value.top) / Number(value.bottom);
    };
    expect(
      ["1,234.50", "1.234,50", "1 234,5", "(12.00)", "−3", "+4.5%", "€ 7", "1,234", "1,23"].map(read),
    ).toEqual([1234.5, 1234.5, 1234.5, -12, -3, 0.045, 7, 1234, 1.23]);
    expect(["n/a", "", "12 or 13"].map(read)).toEqual([null, null, null]);
    expect(fieldsOf('a,b\n"x, y",2')).toEqual([
      ["a", "b"],
      ["x, y", "2"],
    ]);
  });
});
