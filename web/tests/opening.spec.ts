// @vitest-environment happy-dom
/** What is asked before the page's own code is there: what the page then asks for, and nothing twice. */
import { flushPromises, mount } from "@vue/test-utils";
import { createPinia, setActivePinia } from "pinia";
import { beforeEach, describe, expect, it } from "vitest";
import { defineComponent, h } from "vue";
import { createRouter, createWebHistory, type Router } from "vue-router";
import type { LedgerDescription, LedgerListed } from "@/contract";
import { memoryOf } from "@/model/address";
import { FIRST_PAGE } from "@/model/opening";
import { metric, whole } from "@/model/statement";
import { askFirst } from "@/server/opening";
import { useAddressBar } from "@/state/sheet/address";
import { createSheet, type Sheet } from "@/state/sheet/sheet";
import { useSteps } from "@/state/sheet/steps";
import { answer, column, row } from "./answers";
import { serveAtOnce } from "./serving";

const FIRST = whole({ measures: [metric("net_sales")], rows: ["rep"] });
const OTHER = whole({ measures: [metric("orders")], rows: ["region"] });
const ANSWER = answer([column("net_sales.0.value")], [row(["N"], ["1"])], row([], ["1"]));
const AWAY = { kind: "away", message: "Not yet.", part: null, way_out: null };
const LISTED = [
  { id: 3, name: "Set aside", version: 1, archived_at: "2026-01-01" },
  { id: 4, name: "Own", version: 2, archived_at: null },
  { id: 5, name: "Empty", version: 0, archived_at: null },
] as LedgerListed[];

/** What was asked so far: the path, and the statement where there is one. */
let asked: string[] = [];
/** Whether the application still reads the lines. */
let isAway = false;

function described(search: string): LedgerDescription {
  const name = new URLSearchParams(search).get("name");
  const listed = LISTED.find((each) => each.name === name);
  const rest = { first: FIRST, measures: [], figures: [], days: [], usual_day: "", dimensions: [] };
  return { ...listed, ...rest, lines: name === "Empty" ? 0 : 3 } as unknown as LedgerDescription;
}

beforeEach(() => {
  setActivePinia(createPinia());
  localStorage.clear();
  [asked, isAway] = [[], false];
  serveAtOnce((path, body, search) => {
    const { statement } = (body ?? {}) as { statement?: object };
    asked.push(statement ? `${path} ${JSON.stringify(statement)}` : path + search);
    if (isAway) return [AWAY, 503];
    if (path === "/api/ledgers") return [LISTED];
    if (path === "/api/ledger") return [described(search)];
    if (path === "/api/ledger/statements") return [{ unreadable: [], saved: [], offered: [] }];
    if (path === "/api/answers") return [ANSWER];
    return [{ parts: [], conventions: [], refusals: [], windows: [] }];
  });
});

/** The questions that are asked before the page is there. */
async function opens(address: string): Promise<string[]> {
  await askFirst(new URL(address, "http://here")).catch(() => undefined);
  return [...asked];
}

/** The page at the same address, which takes what it asks. */
async function page(address: string): Promise<Sheet> {
  const routes = ["/figures", "/movers", "/scorecard"].map((path) => ({
    path,
    component: { render: () => null },
  }));
  const router: Router = createRouter({ history: createWebHistory(), routes });
  await router.push(address);
  let sheet: Sheet | null = null;
  const Page = defineComponent(() => {
    sheet = createSheet();
    const steps = useSteps(sheet, useAddressBar(["figures", "movers", "scorecard"]), true);
    void steps.take().catch(() => undefined);
    return () => h("div");
  });
  mount(Page, { global: { plugins: [router] } });
  await flushPromises();
  if (!sheet) throw new Error("there is no sheet");
  return sheet;
}

const QUESTIONS = (statement: object): string[] =>
  ["/api/tellings", "/api/answers"].map((path) => `${path} ${JSON.stringify(statement)}`);
const OWN = ["/api/ledgers", "/api/ledger?name=Own"];
const shows = (ledger: string | number, statement: object): string =>
  new URLSearchParams({ ledger: String(ledger), show: JSON.stringify(statement) }).toString();

describe("before its code is read, a page has asked for", () => {
  it.each([
    ["the first statement of the first ledger", "/", FIRST],
    ["the same on its own page", "/figures", FIRST],
    ["the statement of its address", `/movers?${shows(4, OTHER)}`, OTHER],
    ["that of an address with the ledger's name", `/figures?${shows("Own", OTHER)}`, OTHER],
  ])("%s", async (_, address, statement) => {
    expect(await opens(address)).toEqual([...OWN, ...QUESTIONS(statement)]);
  });

  it("the statement of the last visit", async () => {
    localStorage.setItem(
      memoryOf("4"),
      JSON.stringify(Object.fromEntries(new URLSearchParams(shows(4, OTHER)))),
    );
    expect(await opens("/")).toEqual([...OWN, ...QUESTIONS(OTHER)]);
  });

  it.each([
    ["no figures where another page comes first", "/intake", ["/api/ledgers"]],
    ["nor where the reader has another one opened first", "/", ["/api/ledgers"], "/briefs"],
    ["nor of a ledger that is not there", "/figures?ledger=77", ["/api/ledgers"]],
    ["nor of one without lines", "/figures?ledger=5", ["/api/ledgers", "/api/ledger?name=Empty"]],
    ["nor of a statement that cannot be read", "/figures?ledger=4&show={", OWN],
    ["nor of one that the ledger keeps", "/figures?ledger=4&kept=7", OWN],
  ])("%s", async (_, address, questions, opensFirst = "/figures") => {
    localStorage.setItem(FIRST_PAGE.key, opensFirst);
    expect(await opens(address)).toEqual(questions);
  });

  it("nothing more where the application does not answer yet", async () => {
    isAway = true;
    expect(await opens("/")).toEqual(["/api/ledgers"]);
  });
});

describe("the page that comes after it", () => {
  it.each([["/figures"], [`/figures?${shows(4, OTHER)}`]])("asks nothing again: %s", async (address) => {
    const before = await opens(address);
    const sheet = await page(address);
    expect(sheet.answer?.total.cells[0]?.value).toBe("1");
    expect(asked).toEqual(before);
  });
});
