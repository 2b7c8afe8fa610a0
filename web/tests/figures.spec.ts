import { createPinia, setActivePinia } from "pinia";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Statement } from "@/contract";
import { PLAIN } from "@/model/layout";
import type { View } from "@/model/address";
import { useFigures } from "@/state/figures";

interface Asked {
  url: string;
  body: { statement: Statement };
  signal: AbortSignal;
  give: (status: number, body: unknown) => void;
}
let asked: Asked[] = [];

beforeEach(() => {
  setActivePinia(createPinia());
  asked = [];
  vi.stubGlobal(
    "fetch",
    (url: string, init: RequestInit) =>
      new Promise((resolve, reject) => {
        const signal = init.signal as AbortSignal;
        signal?.addEventListener("abort", () => reject(new DOMException("superseded", "AbortError")));
        const give = (status: number, body: unknown): void =>
          resolve(
            new Response(JSON.stringify(body), { status, headers: { "content-type": "application/json" } }),
          );
        asked.push({ url, body: JSON.parse(String(init.body)), signal, give });
      }),
  );
});

function view(measure: string): View {
  const statement = { measures: [{ measure, show: [] }], rows: [] } as unknown as Statement;
  return {
    question: { ledger: "L", statement, opened: { depth: 1, paths: [] } },
    selected: null,
    layout: PLAIN,
  };
}

describe("questions", () => {
  it("that are superseded are cancelled, and only the last answer is shown", async () => {
    const figures = useFigures();
    const first = figures.ask(view("orders"), 1);
    const second = figures.ask(view("units"), 1);
    expect(asked[0]?.signal.aborted).toBe(true);
    asked[1]?.give(200, { version: 7, columns: [] });
    await Promise.all([first, second]);
    expect(figures.answer).toMatchObject({ version: 7 });
    expect(figures.loading).toBe(false);
  });

  it("that are refused say why and leave the last answer readable", async () => {
    const figures = useFigures();
    const good = figures.ask(view("orders"), 1);
    asked[0]?.give(200, { version: 1, columns: [] });
    await good;
    const bad = figures.ask(view("ordrs"), 1);
    const failure = { kind: "question", message: "there is no measure", part: "measures[0]", way_out: null };
    asked.find((each) => each.body.statement.measures[0]?.measure === "ordrs")?.give(422, failure);
    await bad;
    expect(figures.failure?.message).toBe("there is no measure");
    expect(figures.answer).toMatchObject({ version: 1 });
    expect([figures.outdated, figures.check]).toEqual([true, null]);
    const mended = figures.ask(view("orders"), 1);
    asked
      .filter((each) => each.url.includes("answers"))
      .at(-1)
      ?.give(200, { version: 1, columns: [] });
    await mended;
    expect([figures.outdated, figures.failure]).toEqual([false, null]);
  });

  it("do not end in silence when the application is away", async () => {
    const figures = useFigures();
    vi.stubGlobal("fetch", () => Promise.reject(new TypeError("refused")));
    await figures.ask(view("orders"), 1);
    expect(figures.failure?.kind).toBe("away");
  });
});

describe("a new version of the ledger", () => {
  it("is asked for again, though the question is the same", async () => {
    const figures = useFigures();
    const first = figures.ask(view("orders"), 1);
    asked[0]?.give(200, { version: 1, columns: [] });
    await first;
    const count = asked.length;
    await figures.ask(view("orders"), 1);
    expect(asked.length).toBe(count);
    const second = figures.ask(view("orders"), 2);
    asked
      .filter((each) => each.url.includes("answers"))
      .at(-1)
      ?.give(200, { version: 2, columns: [] });
    await second;
    expect(figures.answer).toMatchObject({ version: 2 });
  });
});
