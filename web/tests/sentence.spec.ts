/** The sentence: typed part by part, read in words, compared with what it was. */
import { describe, expect, it } from "vitest";
import type { Base, LedgerDescription, Statement } from "@/contract";
import { changedParts, metric, whole } from "@/model/statement";
import { matching, memberPhrase, phrases, wherePhrases } from "@/words/phrases";
import { chosenIn, readingsOf, readingWords } from "@/words/readings";
import { sentence, sentenceChanges } from "@/words/sentence";
import { typedPhrases } from "@/words/typed";

const before: Base = { kind: "period", back: 1, unit: "period", align: "same_dates" };
const months = whole({
  measures: [metric("net_sales")],
  rows: [{ time: "month" }, "region"],
  bases: [before],
});
const LEDGER = {
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

/** What the first phrase that fits a text leads to, as the palette takes it. */
function typed(text: string): Statement {
  const all = [...typedPhrases(months, LEDGER, text, 2026), ...phrases(months, LEDGER, 2026, "2026-10-17")];
  const found = matching(all, text)[0];
  expect(found?.words.toLowerCase()).toBe(text.toLowerCase());
  return found?.statement as Statement;
}

describe("the sentence", () => {
  it("is typed part by part, each phrase leading to a whole statement", () => {
    const all = phrases(months, LEDGER, 2026, "2026-10-17");
    const words = all.map((each) => each.words);
    expect(words).toContain("show orders");
    expect(words).not.toContain("show cost");
    expect(words).toContain("by sales rep");
    expect(words).toContain("against the same dates last year");
    expect(new Set(words).size).toBe(words.length);
    for (const each of all) if (each.statement) expect(whole(each.statement)).toEqual(each.statement);
  });
  it("offers what begins as it is typed first", () => {
    const found = matching(phrases(months, LEDGER, 2026, "2026-10-17"), "by sales");
    expect(found[0]?.words).toBe("by sales rep");
    expect(matching([{ words: "for 2026-Q3" }, { words: "for 2026" }], "for 2026")[0]?.words).toBe(
      "for 2026",
    );
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
    ["against 5 periods back", { bases: [before, { ...before, back: 5 }] }],
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
      { goals: [{ metric: "net_sales", target: "110", of: "base", base: 1, direction: null }] },
    ],
    [
      "with the goal net sales 5000",
      { goals: [{ metric: "net_sales", target: "5000", of: "figure", base: 1, direction: null }] },
    ],
    ["call net sales Turnover", { measures: [{ ...metric("net_sales"), along: null, name: "Turnover" }] }],
    [
      "mean of the last 6 of net sales",
      {
        measures: [
          { ...metric("net_sales"), along: { kind: "moving", periods: 6, of: "mean", as_many: false } },
        ],
      },
    ],
    ["each cut at the same point", { cut: "same_point" }],
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
    const words = typedPhrases(orders, LEDGER, "mean of the last 6", 2026).map((each) => each.words);
    expect(words.filter((each) => /^(mean|sum) /.test(each))).toEqual(["sum of the last 6 of orders"]);
  });
  it("says how it is read, and takes that back", () => {
    const read = {
      ...months,
      returns: "sale_day",
      refunds: "not_allocated",
      returns_within: "same_time",
      shares_add_up: true,
      measures: [metric("net_sales", ["share_of_all", "price_volume_mix"])],
      items: ["region"],
    } as Statement;
    expect(readingWords(read)).toEqual([
      "returns on the day of their sale, order refunds not allocated",
      "returns that came back in the same time",
      "shown shares add up",
      "price, volume and mix over each region",
    ]);
    for (const reading of readingsOf(read, LEDGER)) {
      const usual = { ...read, ...reading.choices[0]?.change };
      expect(chosenIn(reading, usual)?.said).toBe("");
      for (const choice of reading.choices)
        expect(chosenIn(reading, { ...usual, ...choice.change })).toBe(choice);
    }
    expect(readingsOf(months, LEDGER).map((each) => each.name)).toEqual([
      "returns",
      "feeds",
      "negative",
      "members",
    ]);
  });
  it("tells what a later version says otherwise, part by part", () => {
    const later = {
      ...months,
      rows: ["region"],
      all_members: true,
      sort: { column: "net_sales.0.value", descending: true },
    };
    expect(sentenceChanges(months, later)).toEqual([
      { part: "rows", before: "by month then region", after: "by region" },
      { part: "readings", before: "", after: "every known member" },
      { part: "sort", before: "", after: "sorted by net_sales.0.value, the largest first" },
    ]);
    expect(sentenceChanges(months, months)).toEqual([]);
    const follows = { ...months, as_of: { kind: "today" } } as Statement;
    expect(sentenceChanges(months, follows)).toEqual([{ part: "as_of", before: "", after: "" }]);
  });
  it("names bases by the year of the as-of date, not by today's", () => {
    const base: Base = { kind: "period", back: 2, unit: "year", align: "same_dates" };
    const told = sentence(
      {
        ...months,
        rows: ["region"],
        bases: [base],
        goals: [{ metric: "net_sales", target: "105", of: "base", base: 1 }],
        as_of: { kind: "pinned", day: "2021-10-17" },
      },
      null,
    );
    expect(told).toContain(
      "against the same dates of 2019, with the goal net sales 105% of the same dates of 2019",
    );
  });
  it("says every part", () => {
    const told = sentence(
      {
        ...months,
        filters: [{ dimension: "region", members: ["N", null], exclude: true }],
        limits: [{ kind: "status", status: ["new", "lost"], level: "region", base: 1 }],
        goals: [{ metric: "net_sales", target: "105", of: "base", base: 1 }],
        defined: [
          { name: "x", expression: "net_sales * 2", unit: "number", decimals: 0, polarity: "neutral" },
        ],
        as_of: { kind: "pinned", day: "2026-10-17" },
      },
      null,
    );
    expect(told).toBe(
      "Show net sales, by month then region, for the year to date at 17 Oct 2026, against the period before, where region is not N or not mapped, " +
        "showing only new or lost of region, with the goal net sales 105% of the period before. Where x = net_sales * 2.",
    );
  });
});
