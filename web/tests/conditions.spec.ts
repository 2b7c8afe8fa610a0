// @vitest-environment happy-dom
/** Conditions on lines and the day that counts: changed, typed, chosen in the form. */
import { mount, type VueWrapper } from "@vue/test-utils";
import { describe, expect, it } from "vitest";
import type { Condition, LedgerDescription } from "@/contract";
import { figureOf, setCondition, setDay, subjectOf, subjects, withoutCondition } from "@/model/conditions";
import { meaningsOf } from "@/model/meanings";
import { dimensionsFor, periodLevel } from "@/model/periodLevel";
import { whole } from "@/model/statement";
import ConditionChoice from "@/panels/statement/ConditionChoice.vue";
import { dimensionName, many } from "@/words/names";
import { phrases, type Around } from "@/words/phrases";
import { typedPhrases } from "@/words/typed";

const dimension = (name: string) => ({ name, role: null, of: null, members: 3, description: `of ${name}` });
const LEDGER = {
  dimensions: ["product", "order", "delivery.month", "delivery.day"].map(dimension),
  figures: [
    { name: "amount", unit: "", description: "" },
    { name: "list_amount", unit: "", description: "before discounts" },
  ],
  days: [{ name: "delivery", first: "2026-01-01", last: "2026-10-17", description: "when it left" }],
  measures: [],
  feeds: [],
} as unknown as LedgerDescription;
const net = whole({ measures: [{ measure: "net_sales" }] as never, returns: "sale_day" });
const large: Condition = { kind: "figure", figure: "amount", at_least: "100", at_most: null };
const late: Condition = {
  kind: "compared",
  day: "delivery",
  relation: "after",
  other: "as_of",
  or_blank: true,
};

describe("conditions", () => {
  it("are put down, changed in their place, and taken away; the same one stands once", () => {
    const two = setCondition(setCondition(net, null, large), null, late);
    expect(two.conditions).toEqual([large, late]);
    expect(setCondition(two, null, large)).toBe(two);
    const other: Condition = { ...large, at_most: "500" };
    expect(setCondition(two, 0, other).conditions).toEqual([other, late]);
    expect(withoutCondition(two, 0).conditions).toEqual([late]);
  });
  it("take returns back to their own day where another day counts", () => {
    expect(setDay(net, "delivery")).toMatchObject({ day: "delivery", returns: "own_day" });
    expect(setDay(net, "")).toMatchObject({ day: "", returns: "sale_day" });
  });
  it("are about figures, days and names; periods of a day are none of them", () => {
    expect(subjects(LEDGER).map((each) => `${each.about} ${each.name}`)).toEqual([
      "figure amount",
      "figure list_amount",
      "day day",
      "day delivery",
      "text product",
      "text order",
    ]);
    expect(subjectOf({ kind: "given", of: "delivery", given: false }, LEDGER).about).toBe("day");
    expect(subjectOf({ kind: "given", of: "gone", given: true }, LEDGER)).toEqual({
      about: "text",
      name: "gone",
    });
  });
  it("reads figures as people type them", () => {
    expect([" 1,234.50 ", "−3", "", "1 000", "1.2.3", "about 5"].map(figureOf)).toEqual([
      "1234.50",
      "-3",
      null,
      "1000",
      undefined,
      undefined,
    ]);
  });
});

describe("periods of a day", () => {
  it("are called by their day", () => {
    expect(periodLevel("delivery.month")).toEqual({ day: "delivery", grain: "month" });
    expect(periodLevel("delivery")).toBeNull();
    expect(periodLevel("a.b")).toBeNull();
    expect(dimensionName("invoice_date.week")).toBe("week of invoice date");
    expect(many("delivery.month")).toBe("months of delivery");
  });
  it("are offered but for the day that the statement counts by: those are its levels of time", () => {
    const names = (day: string): string[] => dimensionsFor(LEDGER, { day }).map((each) => each.name);
    expect(names("")).toEqual(["product", "order", "delivery.month", "delivery.day"]);
    expect(names("delivery")).toEqual(["product", "order"]);
  });
  it("mean what their day means", () => {
    expect(meaningsOf(LEDGER)).toEqual({
      product: "of product",
      order: "of order",
      amount: "",
      list_amount: "before discounts",
      delivery: "when it left",
    });
  });
});

describe("the words of conditions", () => {
  const said = { of: (kind: string, at = 0) => `${kind} ${at}`, all: () => [] };
  const around = { ledger: LEDGER, said, told: null, asOf: "2026-10-17" } as Around;
  const typed = (text: string, from = net): Condition[] =>
    typedPhrases(from, around, text)
      .map((each) => each.statement?.conditions ?? [])
      .find((each) => each.length) ?? [];

  it("are typed", () => {
    expect(typed("amount at least 1,000")).toEqual([{ ...large, at_least: "1000" }]);
    expect(typed("only lines with list amount from 5 to 10.5")).toEqual([
      { kind: "figure", figure: "list_amount", at_least: "5", at_most: "10.5" },
    ]);
    expect(typed("product begins with P-1")).toEqual([
      { kind: "text", dimension: "product", relation: "begins", text: "P-1", exclude: false },
    ]);
    expect(typed("amount at least many")).toEqual([]);
  });
  it("are typed of days, by what they are told as", () => {
    const offered = (text: string): Record<string, Condition> =>
      Object.fromEntries(
        typedPhrases(net, around, text)
          .filter((each) => each.statement?.conditions.length)
          .map((each) => [each.words, each.statement!.conditions[0]!]),
      );
    const of = offered("delivery");
    expect(of["only lines with delivery after the as-of date, or none"]).toEqual(late);
    expect(of["only lines with delivery before the usual day"]).toEqual({
      ...late,
      relation: "before",
      other: "day",
      or_blank: false,
    });
    expect(Object.keys(of)).not.toContain("only lines with delivery on the delivery");
    const within = (window: object): Condition => ({ kind: "within", day: "delivery", window }) as Condition;
    expect(of["only lines with delivery within the year to date"]).toEqual(
      within({ kind: "to_date", grain: "year" }),
    );
    expect(offered("delivery within week 12 2025")["only lines with delivery within Week 12 2025"]).toEqual(
      within({ kind: "period", period: "2025-W12" }),
    );
    expect(Object.values(offered("only lines with delivery within 2026-03-05 to 2026-04-01"))).toContainEqual(
      within({ kind: "dates", first: "2026-03-05", last: "2026-04-01" }),
    );
    expect(offered("usual day after the delivery")["only lines with usual day after the delivery"]).toEqual({
      ...late,
      day: "day",
      other: "delivery",
      or_blank: false,
    });
    expect(offered("deliveryx")).toEqual({});
  });
  it("are offered, and taken back", () => {
    const words = phrases(setCondition(setDay(net, "delivery"), null, large), around).map(
      (each) => each.words,
    );
    expect(words).toContain("counted by the usual day");
    expect(words).toContain("only lines without a delivery");
    expect(words).toContain("not only lines with conditions 0");
    expect(words).not.toContain("counted by delivery");
  });
});

describe("the form of a condition", () => {
  const plain = { template: "<div><slot /></div>" };
  const quarter = { kind: "period", period: "2026-Q3" } as const;
  const WINDOWS = { props: ["window"], template: "<i />" };
  const made = (condition: Condition | null): VueWrapper =>
    mount(ConditionChoice, {
      props: { statement: net, ledger: LEDGER, condition },
      global: {
        stubs: {
          ElSelect: plain,
          Option: true,
          ElInput: true,
          WindowChoice: WINDOWS,
          ElCheckbox: true,
          ElButton: { template: "<button />" },
        },
      },
    });

  it("gives back the condition that it was opened with", async () => {
    const text: Condition = {
      kind: "text",
      dimension: "product",
      relation: "contains",
      text: "x",
      exclude: true,
    };
    const within: Condition = {
      kind: "within",
      day: "delivery",
      window: { kind: "to_date", grain: "quarter", completed: null },
    };
    for (const condition of [
      large,
      late,
      text,
      within,
      { kind: "given", of: "delivery", given: false } as const,
    ]) {
      const form = made(condition);
      await form.get("form").trigger("submit");
      expect(form.emitted("take")).toEqual([[condition]]);
    }
  });
  it("takes any window that a day can lie within, as soon as it is chosen", () => {
    const form = made({ kind: "within", day: "delivery", window: { kind: "to_date", grain: "year" } });
    form.getComponent(WINDOWS).vm.$emit("take", quarter);
    expect(form.emitted("take")).toEqual([[{ kind: "within", day: "delivery", window: quarter }]]);
  });
  it("gives nothing while it says nothing", async () => {
    const form = made(null);
    await form.get("form").trigger("submit");
    const empty = made({ ...large, at_least: null });
    await empty.get("form").trigger("submit");
    expect([form.emitted("take"), empty.emitted("take")]).toEqual([undefined, undefined]);
  });
});
