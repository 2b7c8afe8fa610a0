// @vitest-environment happy-dom
/** A question that is refused, and the next one that is not: what stands on screen meanwhile, and of what it is said to be. */
import { beforeEach, expect, it, vi } from "vitest";
import type { Statement } from "@/contract";
import { whole } from "@/model/statement";
import type { View } from "@/model/address";
import { PLAIN } from "@/contract/vocabulary";
import { createSheet } from "@/state/sheet/sheet";
import { answer, column, row } from "./answers";
import { serveAtOnce } from "./serving";

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
