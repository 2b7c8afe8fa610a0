// @vitest-environment happy-dom
/** Steps from a view to another one: written in the address, undone, shared, remembered; of one sheet and of several on a page. */
import { flushPromises, mount } from "@vue/test-utils";
import { createPinia, setActivePinia } from "pinia";
import { beforeEach, describe, expect, it } from "vitest";
import { defineComponent, h } from "vue";
import { createRouter, createWebHistory, type Router } from "vue-router";
import type { LedgerDescription, LedgerListed, Statement } from "@/contract";
import { PLAIN } from "@/contract/vocabulary";
import { metric, whole } from "@/model/statement";
import { useLedgers } from "@/state/ledgers";
import { useAddressBar } from "@/state/sheet/address";
import { createSheet, type Sheet } from "@/state/sheet/sheet";
import { useSteps, type Steps } from "@/state/sheet/steps";
import { answer, column, row } from "./answers";
import { serveAtOnce } from "./serving";

const FIRST = whole({ measures: [metric("net_sales", ["rank"])], rows: ["region", "rep"] });
const ANSWER = answer([column("net_sales.0.value")], [row(["N"], ["1"], { is_open: true })], row([], ["1"]));
const LISTED = { id: 4, name: "Own", version: 1, archived_at: null } as LedgerListed;
const OWN = {
  ...LISTED,
  lines: 3,
  first: FIRST,
  measures: [],
  figures: [],
  days: [],
  usual_day: "",
  dimensions: [],
} as unknown as LedgerDescription;

interface Held {
  sheet: Sheet;
  steps: Steps;
  undoable: () => boolean;
}

/** A page on which sheets stand, each with the prefix of its part of the address. */
function page(router: Router, prefixes = [""]): Held[] {
  const held: Held[] = [];
  const Page = defineComponent(() => {
    for (const prefix of prefixes) {
      const sheet = createSheet();
      const bar = useAddressBar(["figures"], prefix);
      held.push({ sheet, steps: useSteps(sheet, bar, !prefix), undoable: () => bar.canUndo.value });
    }
    return () => h("div");
  });
  mount(Page, { global: { plugins: [router] } });
  return held;
}

function routed(): Router {
  const routes = ["/figures", "/intake"].map((path) => ({ path, component: { render: () => null } }));
  return createRouter({ history: createWebHistory(), routes });
}

/** Where the page is by now, taken by the sheet as its page does. */
async function taken({ steps }: Held): Promise<void> {
  await flushPromises();
  await steps.take();
  await flushPromises();
}

beforeEach(() => {
  setActivePinia(createPinia());
  localStorage.clear();
  serveAtOnce((url) => {
    if (url === "/api/ledgers") return [[LISTED]];
    if (url === "/api/ledger") return [OWN];
    if (url === "/api/answers") return [ANSWER];
    if (url === "/api/ledger/statements")
      return [
        {
          unreadable: [],
          saved: [{ id: 7, statement: FIRST, opened: { depth: 1, paths: [] } }],
          offered: [],
        },
      ];
    return [{ parts: [], conventions: [], refusals: [], windows: [] }];
  });
});

async function opened(query: Record<string, string> = {}, prefixes = [""]): Promise<[Router, Held[]]> {
  const router = routed();
  await router.push({ path: "/figures", query });
  const held = page(router, prefixes);
  for (const each of held) {
    await taken(each);
    await taken(each);
  }
  return [router, held];
}

describe("a view", () => {
  it("begins with the ledger's first statement, under the ledger's number", async () => {
    const [router, [held]] = await opened();
    expect(router.currentRoute.value.query.ledger).toBe("4");
    expect(held?.sheet.question).toEqual({
      ledger: "Own",
      statement: FIRST,
      opened: { depth: 2, paths: [] },
    });
    expect(held?.sheet.answer?.total.cells[0]?.value).toBe("1");
  });

  it("is changed step by step, and each step is undone and done again", async () => {
    const [router, [held]] = await opened();
    if (!held) throw new Error("there is no sheet");
    const without: Statement = { ...FIRST, rows: ["region"] };
    held.steps.change(without);
    await taken(held);
    expect(held.sheet.question?.statement.rows).toEqual(["region"]);
    expect(held.sheet.question?.opened).toEqual({ depth: 1, paths: [] });
    expect(held.undoable()).toBe(true);
    router.back();
    await expect.poll(() => router.currentRoute.value.query.show).toContain("rep");
    await taken(held);
    expect(held.sheet.question?.statement.rows).toEqual(["region", "rep"]);
    router.forward();
    await expect.poll(() => router.currentRoute.value.query.show).not.toContain("rep");
  });

  it("keeps what is selected when rows stay, and forgets it when they change", async () => {
    const [router, [held]] = await opened();
    if (!held) throw new Error("there is no sheet");
    held.steps.select(["N"], "net_sales.0.value", false);
    await taken(held);
    expect(router.currentRoute.value.query.at).toContain('"N"');
    held.steps.change({ ...FIRST, sort: { column: "net_sales.0.value", descending: true } });
    await taken(held);
    expect(held.sheet.selected?.path).toEqual(["N"]);
    held.steps.change({ ...FIRST, rows: ["rep"] });
    await taken(held);
    expect(held.sheet.selected).toBeNull();
  });

  it("is found again at the next visit, and by an address that another one sends", async () => {
    const [, [held]] = await opened();
    held?.steps.lay({ ...PLAIN, totals: "above" });
    await taken(held as Held);
    const [router, [again]] = await opened({ ledger: "4" });
    expect(again?.sheet.layout.totals).toBe("above");
    localStorage.clear();
    const [, [sent]] = await opened(router.currentRoute.value.query as Record<string, string>);
    expect(sent?.sheet.layout.totals).toBe("above");
  });

  it("of a kept statement is opened by its number; one that is not kept is told", async () => {
    const [, [held]] = await opened({ ledger: "4", kept: "7" });
    expect(held?.sheet.question?.statement).toEqual(FIRST);
    const router = routed();
    await router.push({ path: "/figures", query: { ledger: "4", kept: "8" } });
    const [other] = page(router);
    await expect(other?.steps.take()).rejects.toThrow("keeps no statement of the number 8");
  });

  it("that cannot be read says so, and is not written over", async () => {
    const router = routed();
    await router.push({ path: "/figures", query: { ledger: "4", show: "{" } });
    const [held] = page(router);
    await expect(held?.steps.take()).rejects.toThrow("part of it is missing");
    expect(router.currentRoute.value.query.show).toBe("{");
  });

  it("calls nobody back who has gone to another page", async () => {
    const [router, [held]] = await opened();
    await router.push("/intake");
    held?.steps.change({ ...FIRST, rows: [] });
    await flushPromises();
    expect(router.currentRoute.value.path).toBe("/intake");
  });
});

describe("several sheets on a page", () => {
  it("have their own parts of the address, and none writes over another's", async () => {
    const [router, held] = await opened({}, ["a.", "b."]);
    held[0]?.steps.change({ ...FIRST, rows: ["rep"] });
    await flushPromises();
    for (const each of held) await taken(each);
    expect(held.map((each) => each.sheet.question?.statement.rows)).toEqual([["rep"], ["region", "rep"]]);
    expect(Object.keys(router.currentRoute.value.query).sort()).toEqual([
      "a.ledger",
      "a.open",
      "a.show",
      "b.ledger",
      "b.open",
      "b.show",
    ]);
    expect(useLedgers().open?.name).toBe("Own");
  });
});
