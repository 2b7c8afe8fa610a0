// @vitest-environment happy-dom
/** A scorecard for the eye: rows in order, beads in their places, targets that are set and taken away. */
import { mount } from "@vue/test-utils";
import { createPinia, setActivePinia } from "pinia";
import { describe, expect, it } from "vitest";
import CardCaption from "@/panels/scorecard/CardCaption.vue";
import GoalBead from "@/panels/scorecard/GoalBead.vue";
import { useStatements } from "@/state/statements";
import { cardPicture } from "@/model/cardPicture";
import { column as columnOf, NUMBERS } from "./answers";
import type {
  Answer,
  Card,
  Cell,
  LedgerDescription,
  Row,
  SavedStatement,
  ScoredMetric,
  Statement,
} from "@/contract";
import {
  gapOf,
  historyOf,
  orderedRows,
  placeOf,
  targetOf,
  wholeOf,
  withGoals,
  withTarget,
} from "@/model/card";

function cell(value: string | null, target: string | null = "100"): Cell {
  return { value, numerator: null, denominator: null, reason: null, target } as Cell;
}

function row(path: string[], met: number, defined = 3): Row {
  return {
    path,
    label: path.at(-1) ?? "",
    cells: [],
    goals: { met, defined, undefined: [] },
  } as unknown as Row;
}

const METRIC = { id: "net_sales", goal: "" } as ScoredMetric;
const STATEMENT = { goals: [], bases: [{}], rows: ["region"] } as unknown as Statement;

describe("rows of a card", () => {
  const rows = [
    row(["A"], 3),
    row(["A", "x"], 1),
    row(["A", "y"], 0),
    row(["B"], 0, 0),
    row(["C"], 1),
    row(["D"], 1),
  ];
  const names = (order: "misses" | "name" | "met"): string[] =>
    orderedRows(rows, order).map((each) => each.path.join("/"));

  it("stand below their parent, those that miss first, ties as they come, those without a verdict last", () => {
    expect(names("misses")).toEqual(["C", "D", "A", "A/y", "A/x", "B"]);
    expect(names("name")).toEqual(["A", "A/x", "A/y", "B", "C", "D"]);
    expect(names("met").slice(0, 3)).toEqual(["A", "A/x", "A/y"]);
  });

  it("have a history with the earliest period first, and now last", () => {
    const column = { kind: "goal", id: "g" };
    const now = { ...row(["A"], 1, 1), cells: [{ met: true }] } as unknown as Row;
    const card = {
      answer: { columns: [column], rows: [now] } as unknown as Answer,
      history: [
        { key: "2026-08", total: { path: [], met: [false] }, rows: [{ path: ["A"], met: [false] }] },
        { key: "2026-07", total: { path: [], met: [null] }, rows: [] },
      ],
    } as unknown as Card;
    expect(historyOf(card, now)).toEqual([[], [false], [true]]);
    expect(historyOf(card, { ...now, path: [] })).toEqual([[null], [false], [true]]);
    expect([wholeOf([true, null]), wholeOf([true, false]), wholeOf([false]), wholeOf([null])]).toEqual([
      "all",
      "some",
      "none",
      null,
    ]);
  });
});

describe("a goal", () => {
  it("stands in the middle of its rod; what is far off stays on it", () => {
    expect(placeOf(cell("1"), "base")).toBe(0.5);
    expect(placeOf(cell("0.75"), "base")).toBe(0.25);
    expect(placeOf(cell("1", "80"), "base")).toBe(0.75);
    expect(placeOf(cell("9"), "base")).toBeLessThan(1);
    expect(placeOf(cell("-3"), "base")).toBeGreaterThan(0);
    expect(placeOf(cell("1", "250000"), "figure")).toBe(0.5);
    expect([
      placeOf(cell(null), "base"),
      placeOf(cell("1", null), "base"),
      placeOf(cell("1", "0"), "base"),
    ]).toEqual([null, null, null]);
  });

  it("comes to a figure, and is missed or passed by an exact one", () => {
    const target = targetOf(cell("0.9", "95.5"), "base", cell("200.00"));
    expect(Number(target?.top) / Number(target?.bottom)).toBe(191);
    const gap = gapOf(cell("180.00"), target);
    expect(Number(gap?.top) / Number(gap?.bottom)).toBe(-11);
    expect(targetOf(cell("1", "70"), "figure", null)).toEqual({ top: 70n, bottom: 1n });
    expect([targetOf(cell("1"), "base", null), gapOf(null, target)]).toEqual([null, null]);
  });

  it("is set for all, for a row, for a period, and taken away again", () => {
    const all = withTarget(STATEMENT, METRIC, "100", null, "");
    const one = withTarget(all, METRIC, "80", ["Lakes"], "");
    const both = withTarget(withTarget(one, METRIC, "90", ["Lakes"], "2026-09"), METRIC, "85", ["Lakes"], "");
    expect(both.goals).toMatchObject([
      {
        metric: "net_sales",
        target: "100",
        of: "base",
        own: [{ target: "90", period: "2026-09" }, { target: "85" }],
      },
    ]);
    const less = withTarget(withTarget(both, METRIC, "", ["Lakes"], "2026-09"), METRIC, "", ["Lakes"], "");
    expect(less).toEqual(all);
    expect(withTarget(less, METRIC, "", null, "").goals).toEqual([]);
    expect(withGoals(all, [METRIC, { ...METRIC, id: "orders" }]).goals.map((each) => each.metric)).toEqual([
      "net_sales",
      "orders",
    ]);
  });
});

describe("a bead", () => {
  const column = columnOf("net_sales.1.goal", { kind: "goal", unit: "percent", decimals: 1 });
  const said = (of: Partial<Cell>): string =>
    mount(GoalBead, { props: { cell: { ...cell("0.9996"), ...of }, column, goalOf: "base" } }).text();

  it("says what was reached with as many decimals as the verdict needs", () => {
    expect(said({ met: false, decimals: 2 })).toBe("99.96% missed");
    expect(said({ met: true, decimals: 1, value: "1.2" })).toBe("120.0% met");
  });

  it("says a verdict without a percentage, none where it cannot be told, and that there is no goal", () => {
    // Against a base of 0 or below there is no percentage, and the goal is met or missed all the same.
    expect(said({ value: null, reason: "base_is_zero", met: true })).toBe("met");
    expect(said({ value: null, reason: "base_is_negative", met: false })).toBe("missed");
    expect(said({ value: null, reason: "not_given", met: null })).toBe("cannot be told");
    expect(said({ value: null, target: null, met: null })).toBe("no goal");
  });
});

describe("the caption of a card", () => {
  const statement = { goals: [{ metric: "net_sales", target: "100" }] } as unknown as Statement;
  const card = {
    statement,
    answer: {
      as_of: "2026-10-17",
      version: 7,
      windows: [{ asked: { first: "2026-09-01", last: "2026-09-30" } }, { asked: null }],
      told: { windows: ["Sep 2026", "Sep 1999"] },
    },
  } as unknown as Card;
  const ledger = { feeds: [{ last: "2026-10-11" }, { last: "2026-10-17" }] } as unknown as LedgerDescription;
  const caption = (goals: Statement["goals"]): string => {
    const pinia = createPinia();
    setActivePinia(pinia);
    useStatements().opened = {
      statement: { goals },
      saved_at: "2026-10-18T09:00:00Z",
      saved_by: "Tess Ter",
    } as unknown as SavedStatement;
    return mount(CardCaption, { props: { card, ledger }, global: { plugins: [pinia] } })
      .find('[data-test="card-caption"]')
      .text();
  };

  it("tells day, periods, how far it is posted, and who kept its goals when", () => {
    expect(caption(statement.goals)).toBe(
      "As of 17 Oct 2026 · Sep 2026: 1 Sep – 30 Sep 2026 · Sep 1999: no such period · " +
        "posted to 17 Oct 2026, version 7 · goals kept 18 Oct 2026 Tess Ter",
    );
  });

  it("names nobody for goals that were changed since", () => {
    expect(caption([])).not.toContain("goals kept");
  });
});

describe("a card as a picture", () => {
  it("holds every row with its verdicts, whatever names it has", () => {
    const column = columnOf("net_sales.1.goal", { kind: "goal", unit: "percent", decimals: 1 });
    const line = (path: string[], met: boolean | null): Row =>
      ({ ...row(path, met ? 1 : 0, 1), cells: [{ ...cell("0.8"), met, decimals: 1 }] }) as unknown as Row;
    const card = {
      answer: {
        columns: [column],
        rows: [line(["A & <B>"], true), line(["C"], false)],
        total: line([], null),
        told: { total: "All reps" },
      },
      statement: { goals: [{ metric: "net_sales", of: "base" }] },
      told: {
        metrics: [
          { id: "net_sales", name: "Net sales", goal: column.id, value: "", goal_words: "at least 100%" },
        ],
      },
    } as unknown as Card;
    const look = {
      font: "x",
      ink: "#000",
      quiet: "#777",
      line: "#ddd",
      sheet: "#fff",
      met: "#0a0",
      missed: "#a00",
    };
    const found = new DOMParser().parseFromString(
      cardPicture(card, NUMBERS, look, "Goals", "As of today"),
      "image/svg+xml",
    );
    const words = [...found.querySelectorAll("text")].map((each) => each.textContent);
    expect(words).toEqual(
      expect.arrayContaining([
        "A & <B>",
        "80.0% met",
        "80.0% missed",
        "80.0% cannot be told",
        "All reps",
        "1 of 1",
      ]),
    );
    expect(found.querySelectorAll("rect")).toHaveLength(4);
  });
});
