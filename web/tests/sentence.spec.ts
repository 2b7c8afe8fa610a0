/** The sentence: typed part by part, read in words, compared with what it was. */
import { describe, expect, it } from "vitest";
import type { Base, Convention, LedgerDescription, Statement, StatementTold } from "@/contract";
import { changedParts, metric, setBases, whole } from "@/model/statement";
import { matching, memberPhrase, phrases, wherePhrases, type Around } from "@/words/phrases";
import { sentenceChanges } from "@/words/sentence";
import { piecesOf } from "@/words/told";
import { typedPhrases } from "@/words/typed";

const before: Base = { kind: "period", back: 1, unit: "period", align: "same_dates" };
const months = whole({
  measures: [metric("net_sales")],
  rows: [{ time: "month" }, "region"],
  bases: [before],
});
const LEDGER = {
  figures: [],
  days: [],
  usual_day: "",
  dimensions: [
    { name: "region", role: "region", of: null, members: 3, description: "" },
    { name: "sales_rep", role: "rep", of: null, members: 9, description: "" },
    { name: "order", role: "order", of: null, members: 90, description: "" },
  ],
  measures: [
    { name: "net_sales", kind: "additive", unavailable: null },
    { name: "orders", kind: "distinct", unavailable: null },
    { name: "cost", kind: "additive", unavailable: "no file brings it" },
  ],
  feeds: [{ name: "sales" }, { name: "returns" }],
} as unknown as LedgerDescription;

function choice(key: string, said: string, change: Partial<Statement>): Convention["choices"][number] {
  return { key, label: key, note: "", said, change: change as never };
}

function convention(name: string, ...choices: Convention["choices"]): Convention {
  return { name, title: name, choices, chosen: choices[0]?.key ?? "" };
}

/** What a server could say of the statement: its words piece by piece, and what there is to choose. */
function told(measure: string): StatementTold {
  return {
    windows: [],
    refused: "",
    title: "",
    parts: [
      { part: "measures", words: "", pieces: [{ kind: "measures", words: measure }] },
      { part: "bases", words: "", pieces: [{ kind: "bases", words: "the period before" }] },
    ],
    conventions: [
      convention(
        "returns",
        choice("own_day", "", { returns: "own_day", refunds: "divided" }),
        choice("divided", "returns on the day of their sale", { returns: "sale_day", refunds: "divided" }),
      ),
      convention(
        "feeds",
        choice("each", "", { feeds_end: "each" }),
        choice("earliest", "all feeds cut at the earliest end", { feeds_end: "earliest" }),
      ),
      convention(
        "negative",
        choice("undefined", "", { negative_bases: "undefined" }),
        choice("divided", "negative bases divided as they are", { negative_bases: "divided" }),
      ),
      convention(
        "members",
        choice("counted", "", { all_members: false }),
        choice("all", "every known member", { all_members: true }),
      ),
    ],
    refusals: [{ bridge: "Add a base." }],
  };
}

function around(statement: Statement, measure = "net sales"): Around {
  const words = told(measure);
  return { ledger: LEDGER, said: piecesOf(statement, { statement, words }), told: words, asOf: "2026-10-17" };
}

/** What the first phrase that fits a text leads to, as the palette takes it. */
function typed(text: string): Statement {
  const all = [...typedPhrases(months, around(months), text), ...phrases(months, around(months))];
  const found = matching(all, text)[0];
  expect(found?.words.toLowerCase()).toBe(text.toLowerCase());
  return found?.statement as Statement;
}

describe("the sentence", () => {
  it("is typed part by part, each phrase leading to a whole statement", () => {
    const all = phrases(months, around(months));
    const words = all.map((each) => each.words);
    expect(words).toContain("show orders");
    expect(words).not.toContain("show cost");
    expect(words).toContain("by sales rep");
    expect(words).toContain("against the same dates last year");
    expect(new Set(words).size).toBe(words.length);
    for (const each of all) if (each.statement) expect(whole(each.statement)).toEqual(each.statement);
  });
  it("offers what begins as it is typed first", () => {
    const found = matching(phrases(months, around(months)), "by sales");
    expect(found[0]?.words).toBe("by sales rep");
    expect(matching([{ words: "for 2026-Q3" }, { words: "for 2026" }], "for 2026")[0]?.words).toBe(
      "for 2026",
    );
  });
  it.each([
    ["against 5 periods back", "against 5 months back"],
    ["against the period before", "against the month before"],
  ])("finds %s by its name in a series of months, %s", (text, words) => {
    const without = setBases(months, []);
    const all = [...typedPhrases(without, around(without), text), ...phrases(without, around(without))];
    expect(matching(all, text)[0]?.words).toBe(words);
  });
  it("takes days and members as they are typed", () => {
    expect(typed("for 2026-01-05 to 2026-02-01").window).toEqual({
      kind: "dates",
      first: "2026-01-05",
      last: "2026-02-01",
    });
    expect(typed("as of 2026-01-05").as_of).toEqual({ kind: "pinned", day: "2026-01-05" });
    expect(memberPhrase("where sales rep is not Bo", LEDGER)).toEqual({
      dimension: "sales_rep",
      search: "bo",
    });
    expect(memberPhrase("by region", LEDGER)).toBeNull();
    const [is, isNot] = wherePhrases(months, "region", [{ key: "N", label: "North" } as never]);
    expect([is?.statement?.filters[0]?.exclude, isNot?.statement?.filters[0]?.exclude]).toEqual([
      false,
      true,
    ]);
  });
  it.each<[string, Partial<Statement>]>([
    ["for week 7 2026", { window: { kind: "period", period: "2026-W07" } }],
    ["for Q3 2025", { window: { kind: "period", period: "2025-Q3" } }],
    ["for Mar 2024", { window: { kind: "period", period: "2024-03" } }],
    ["for 2023", { window: { kind: "period", period: "2023" } }],
    [
      "for last 18 months completed",
      { window: { kind: "last", count: 18, grain: "month", ending: "completed" } },
    ],
    ["for the quarter 3 before the running one", { window: { kind: "running", grain: "quarter", back: 3 } }],
    [
      "against 2024-Q1",
      { bases: [before, { kind: "given", window: { kind: "period", period: "2024-Q1" } }] },
    ],
    [
      "against 2024-03-04 to 2024-03-29",
      {
        bases: [
          before,
          { kind: "given", window: { kind: "dates", first: "2024-03-04", last: "2024-03-29" } },
        ],
      },
    ],
    ["against 5 months back", { bases: [before, { ...before, back: 5 }] }],
    [
      "against the same period of 2019",
      { bases: [before, { kind: "fixed", period: "2019", align: "same_dates" }] },
    ],
    ["match the period before by the same weekdays", { bases: [{ ...before, align: "same_weekdays" }] }],
    [
      "showing the bottom 7 by net sales",
      {
        limits: [
          {
            kind: "top",
            count: 7,
            column: "net_sales.0.value",
            level: "region",
            bottom: true,
            rest: true,
            size: false,
          },
        ],
      },
    ],
    [
      "showing net sales up to -12.5",
      {
        limits: [
          { kind: "value", column: "net_sales.0.value", level: null, at_least: null, at_most: "-12.5" },
        ],
      },
    ],
    [
      "with the goal net sales 110% of the period before",
      { goals: [{ metric: "net_sales", target: "110", of: "base", base: 1, direction: null, own: [] }] },
    ],
    [
      "with the goal net sales 5000",
      { goals: [{ metric: "net_sales", target: "5000", of: "figure", base: 1, direction: null, own: [] }] },
    ],
    ["call net sales Turnover", { measures: [{ ...metric("net_sales"), along: null, name: "Turnover" }] }],
    [
      "mean of the last 6 of net sales",
      {
        measures: [
          {
            ...metric("net_sales"),
            along: { kind: "moving", periods: 6, of: "mean", as_many: false, by: null },
          },
        ],
      },
    ],
    ["each cut at the same point as the running one", { cut: "same_point" }],
    ["returns on the day of their sale", { returns: "sale_day", refunds: "divided" }],
    ["every known member", { all_members: true }],
    ["negative bases divided as they are", { negative_bases: "divided" }],
    ["all feeds cut at the earliest end", { feeds_end: "earliest" }],
  ])("takes “%s” from the keyboard", (text, parts) => {
    const found = typed(text);
    for (const [part, value] of Object.entries(parts)) expect(found[part as keyof Statement]).toEqual(value);
    expect(changedParts(months, found).sort()).toEqual(
      Object.keys(parts)
        .filter(
          (part) =>
            JSON.stringify(months[part as keyof Statement]) !==
            JSON.stringify(found[part as keyof Statement]),
        )
        .sort(),
    );
  });
  it("defines a measure as it is typed, and offers no mean of what does not add up", () => {
    expect(typed("show net less cost = net_sales - cost").defined[0]).toMatchObject({
      name: "net_less_cost",
      expression: "net_sales - cost",
    });
    const orders = { ...months, measures: [metric("orders")] };
    const words = typedPhrases(orders, around(orders, "orders"), "mean of the last 6").map(
      (each) => each.words,
    );
    expect(words.filter((each) => /^(mean|sum) /.test(each))).toEqual(["sum of the last 6 of orders"]);
  });
  it("offers nothing beside a measure that the server refuses", () => {
    const words = phrases(months, around(months)).map((each) => each.words);
    expect(words).toContain("net sales with rank");
    expect(words).not.toContain("net sales with bridge of the change");
  });
  it("keeps the words of what has not changed until the next are told", () => {
    const known = { statement: months, words: told("net sales") };
    const { of, all } = piecesOf({ ...months, bases: [{ ...before, back: 2 }] }, known);
    expect([of("measures"), of("bases"), of("rows")]).toEqual(["net sales", "…", "…"]);
    expect(all("measures")).toEqual(["net sales"]);
    expect(piecesOf(months, null).of("window")).toBe("…");
  });
  it("tells what a later version says otherwise, part by part", () => {
    const later = {
      ...months,
      rows: ["region"],
      all_members: true,
      sort: { column: "net_sales.0.value", descending: true },
    };
    const rows = { part: "rows", words: "by month then region", pieces: [] };
    const changed = [
      { part: "rows", words: "by region", pieces: [] },
      { part: "conventions", words: "every known member", pieces: [] },
      { part: "sort", words: "sorted by net_sales.0.value, the largest first", pieces: [] },
    ];
    expect(sentenceChanges(months, later, [[rows], changed])).toEqual([
      { part: "rows", before: "by month then region", after: "by region" },
      { part: "conventions", before: "", after: "every known member" },
      { part: "sort", before: "", after: "sorted by net_sales.0.value, the largest first" },
    ]);
    expect(sentenceChanges(months, months, [[rows], [rows]])).toEqual([]);
    const follows = { ...months, as_of: { kind: "today" } } as Statement;
    expect(sentenceChanges(months, follows, [[rows], [rows]])).toEqual([
      { part: "as_of", before: "", after: "" },
    ]);
  });
});
