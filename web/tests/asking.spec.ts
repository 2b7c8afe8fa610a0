// @vitest-environment happy-dom
/** A question that is refused, and the next one that is not: what stands on screen meanwhile, and of what it is said to be. */
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Answer, Statement } from "@/contract";
import { whole } from "@/model/statement";
import type { View } from "@/model/address";
import { PLAIN } from "@/contract/vocabulary";
import type { Lead } from "@/state/sheet/ahead";
import { createSheet, type Sheet } from "@/state/sheet/sheet";
import { answer, column, row } from "./answers";
import { serve, serveAtOnce, type Asked } from "./serving";

const NOW = column("net_sales.0.value");
const STATEMENT = whole({ measures: [{ measure: "net_sales" }] } as Partial<Statement>);
const REFUSED = { kind: "question", message: "that cannot be answered", part: "rows", way_out: null };
const AGREES = { agrees: true, lines: 3, totals: [], not_checked: [], over_all_days: null };
const AWAY = { kind: "away", message: "lines are being read", part: null, way_out: null };
let refuses = false;
let isAway = false;

function asked(rows: string[]): View {
  const question = { ledger: "L", statement: { ...STATEMENT, rows }, opened: { depth: 1, paths: [] } };
  return { question, selected: null, layout: PLAIN };
}

beforeEach(() => {
  refuses = isAway = false;
  serveAtOnce((url) => {
    if (url.startsWith("/api/checks")) return [AGREES];
    if (url.startsWith("/api/tellings")) return [{ windows: [], parts: [], conventions: [], refusals: [] }];
    if (isAway) return [AWAY, 503];
    return refuses ? [REFUSED, 422] : [answer([NOW], [row(["N"], ["4.50"])], row([], ["8.25"]))];
  });
});

it("leaves the figures of before, named as such, when a question is refused", async () => {
  const sheet = createSheet();
  await sheet.show(asked(["region"]), 1);
  await vi.waitFor(() => expect(sheet.check?.agrees).toBe(true));
  expect([sheet.failure, sheet.outdated]).toEqual([null, false]);

  refuses = true;
  await sheet.show(asked(["nothing"]), 1);
  expect(sheet.failure?.message).toBe("that cannot be answered");
  expect(sheet.answer?.total.cells[0]?.value).toBe("8.25");
  expect([sheet.outdated, sheet.check]).toEqual([true, null]);
  expect(sheet.answered?.rows).toEqual(["region"]);
});

it("forgets the refusal when what it was about has gone", async () => {
  const sheet = createSheet();
  await sheet.show(asked(["region"]), 1);
  refuses = true;
  await sheet.show(asked(["nothing"]), 1);
  refuses = false;
  await sheet.show(asked(["region", "rep"]), 1);
  expect([sheet.failure, sheet.outdated]).toEqual([null, false]);
  expect(sheet.answered?.rows).toEqual(["region", "rep"]);
  await vi.waitFor(() => expect(sheet.check?.agrees).toBe(true));
});

it("is asked again by itself while lines are being read", async () => {
  vi.useFakeTimers();
  try {
    const sheet = createSheet();
    isAway = true;
    await sheet.show(asked(["region"]), 1);
    await vi.advanceTimersByTimeAsync(3_000);
    expect([sheet.failure?.message, sheet.answer]).toEqual(["lines are being read", null]);
    isAway = false;
    await vi.advanceTimersByTimeAsync(3_000);
    expect([sheet.failure, sheet.answer?.total.cells[0]?.value]).toEqual([null, "8.25"]);
    sheet.leave();
  } finally {
    vi.useRealTimers();
  }
});

describe("somebody who goes on step by step", () => {
  const day = (at: number): View => {
    const view = asked(["region"]);
    const as_of = { kind: "pinned", day: `2026-03-0${at}` } as const;
    return { ...view, question: { ...view.question, statement: { ...view.question.statement, as_of } } };
  };
  const found = (at: number): Answer => ({
    ...answer([NOW], [], row([], [`${at}.00`])),
    as_of: `2026-03-0${at}`,
  });
  const TOLD = { windows: [], parts: [], conventions: [], refusals: [] };
  const nextDay: Lead = (_, { as_of }) => day(Number(as_of.slice(-1)) - 1).question;
  const dayIn = ({ body }: Asked): string =>
    (body as { statement: { as_of: { day: string } } }).statement.as_of.day;
  const of = (requests: Asked[], url: string): string[] =>
    requests.filter((each) => each.url === url).map(dayIn);

  /** A sheet that shows the third of March, by a step that leads on. */
  async function stepped(): Promise<{ requests: Asked[]; sheet: Sheet }> {
    const requests = serve();
    const sheet = createSheet();
    sheet.lead(nextDay);
    void sheet.show(day(3), 1);
    // Once more, when its address is written.
    void sheet.show(day(3), 1);
    await vi.waitFor(() => expect(requests).toHaveLength(2));
    for (const each of requests) each.give(each.url === "/api/answers" ? found(3) : TOLD);
    await vi.waitFor(() => expect(sheet.answer?.as_of).toBe("2026-03-03"));
    return { requests, sheet };
  }

  it("finds the next step asked for, and asks it no second time", async () => {
    const { requests, sheet } = await stepped();
    await vi.waitFor(() => expect(of(requests, "/api/answers")).toEqual(["2026-03-03", "2026-03-02"]));
    expect(of(requests, "/api/tellings")).toEqual(["2026-03-03", "2026-03-02"]);
    void sheet.show(day(2), 1);
    for (const each of requests.slice(2)) each.give(each.url === "/api/answers" ? found(2) : TOLD);
    await vi.waitFor(() => expect(sheet.answer?.total.cells[0]?.value).toBe("2.00"));
    expect(of(requests, "/api/answers")).toHaveLength(2);
    sheet.leave();
  });

  it("finds the step beyond the next one begun, and keeps it while the next one is taken", async () => {
    const { requests, sheet } = await stepped();
    const give = (at: number): void =>
      requests
        .filter((each) => dayIn(each) === `2026-03-0${at}`)
        .forEach((each) => each.give(each.url === "/api/answers" ? found(at) : TOLD));
    await vi.waitFor(() => expect(of(requests, "/api/answers")).toHaveLength(2));
    await new Promise((resolve) => setTimeout(resolve));
    expect(of(requests, "/api/answers"), "the nearer one first").toEqual(["2026-03-03", "2026-03-02"]);
    give(2);
    await vi.waitFor(() => expect(of(requests, "/api/answers")).toHaveLength(3));
    expect(of(requests, "/api/tellings")).toEqual(["2026-03-03", "2026-03-02", "2026-03-01"]);
    sheet.lead(nextDay);
    void sheet.show(day(2), 1);
    await vi.waitFor(() => expect(sheet.answer?.total.cells[0]?.value).toBe("2.00"));
    expect(requests.filter((each) => each.signal.aborted)).toEqual([]);
    give(1);
    void sheet.show(day(1), 1);
    await vi.waitFor(() => expect(sheet.answer?.total.cells[0]?.value).toBe("1.00"));
    expect(of(requests, "/api/answers"), "each is asked once").toHaveLength(
      new Set(of(requests, "/api/answers")).size,
    );
    sheet.leave();
  });

  it("asks another step beyond where steps have another length now", async () => {
    const { requests, sheet } = await stepped();
    await vi.waitFor(() => expect(of(requests, "/api/answers")).toHaveLength(2));
    requests
      .filter((each) => dayIn(each) === "2026-03-02")
      .forEach((each) => each.give(each.url === "/api/answers" ? found(2) : TOLD));
    await vi.waitFor(() => expect(of(requests, "/api/answers")).toHaveLength(3));
    sheet.lead((_, { as_of }) => day(Number(as_of.slice(-1)) + 5).question);
    void sheet.show(day(2), 1);
    await vi.waitFor(() => expect(of(requests, "/api/answers")).toContain("2026-03-07"));
    const beyond = requests.filter((each) => dayIn(each) === "2026-03-01");
    await vi.waitFor(() => expect(beyond.map((each) => each.signal.aborted)).toEqual([true, true]));
    sheet.leave();
  });

  it("drops the steps beyond where another question comes, too", async () => {
    const { requests, sheet } = await stepped();
    await vi.waitFor(() => expect(of(requests, "/api/answers")).toHaveLength(2));
    requests
      .filter((each) => dayIn(each) === "2026-03-02")
      .forEach((each) => each.give(each.url === "/api/answers" ? found(2) : TOLD));
    await vi.waitFor(() => expect(of(requests, "/api/answers")).toHaveLength(3));
    const beyond = requests.filter((each) => dayIn(each) === "2026-03-01");
    void sheet.show(day(9), 1);
    await vi.waitFor(() => expect(beyond.map((each) => each.signal.aborted)).toEqual([true, true]));
    sheet.leave();
  });

  it("has what was asked for ahead dropped where another question comes", async () => {
    const { requests, sheet } = await stepped();
    await vi.waitFor(() => expect(of(requests, "/api/answers")).toHaveLength(2));
    const ahead = requests.filter((each) => dayIn(each) === "2026-03-02");
    void sheet.show(day(9), 1);
    await vi.waitFor(() => expect(ahead.map((each) => each.signal.aborted)).toEqual([true, true]));
    expect(of(requests, "/api/answers")).toEqual(["2026-03-03", "2026-03-02", "2026-03-09"]);
    sheet.leave();
  });

  it("asks nothing ahead that no step leads to", async () => {
    const { requests, sheet } = await stepped();
    await vi.waitFor(() => expect(of(requests, "/api/answers")).toHaveLength(2));
    void sheet.show(day(7), 1);
    await vi.waitFor(() => expect(of(requests, "/api/answers")).toHaveLength(3));
    requests
      .filter((each) => dayIn(each) === "2026-03-07")
      .forEach((each) => each.give(each.url === "/api/answers" ? found(7) : TOLD));
    await vi.waitFor(() => expect(sheet.answer?.as_of).toBe("2026-03-07"));
    expect(of(requests, "/api/answers")).toHaveLength(3);
    sheet.leave();
  });
});
