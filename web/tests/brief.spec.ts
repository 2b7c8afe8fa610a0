// @vitest-environment happy-dom
/** Briefs: changes to one, the list of its blocks by key and drag, what is kept and what is refused, issues read. */
import { flushPromises, mount } from "@vue/test-utils";
import { createPinia, setActivePinia } from "pinia";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Alert, Block, Brief, Briefs, KeptBrief, LedgerDescription, Restatement } from "@/contract";
import { PLAIN, PLAIN_STATEMENT } from "@/contract/vocabulary";
import {
  emptyBrief,
  figureBlock,
  figureNumber,
  kindRefusal,
  movedBlock,
  NO_HANDING,
  withBlock,
  withoutBlock,
} from "@/model/brief";
import { whole } from "@/model/statement";
import AlertForm from "@/panels/briefs/AlertForm.vue";
import BlockForm from "@/panels/briefs/BlockForm.vue";
import BlockList from "@/panels/briefs/BlockList.vue";
import BriefList from "@/panels/briefs/BriefList.vue";
import MailTable from "@/panels/briefs/MailTable.vue";
import PeopleField from "@/panels/briefs/PeopleField.vue";
import ThenAndNow from "@/panels/briefs/ThenAndNow.vue";
import { useBriefs } from "@/state/briefs";
import { blockName, scheduleWords } from "@/words/briefs";
import { serve, type Asked } from "./serving";

const BASE = { kind: "period", back: 1, unit: "year" } as const;
const net = whole({
  measures: [{ measure: "net_sales" }] as never,
  rows: ["region"],
  bases: [BASE] as never,
});
const question = { statement: net, opened: { depth: 1, paths: [] } };
const table = figureBlock("table", question, PLAIN, "Regions");
const text: Block = { kind: "text", text: "# Hello\nthere", width: "full" };
const brief: Brief = { ...emptyBrief("Monthly"), blocks: [table, text, { kind: "restated" }] };
const kept = (values: Partial<KeptBrief> = {}): KeptBrief => ({
  id: 4,
  ledger_id: 1,
  brief,
  handing: NO_HANDING,
  saved_by: "Ann",
  saved_at: "2026-11-29T10:00:00Z",
  scheduled_to: null,
  trouble: "",
  ...values,
});
const issue = {
  id: 9,
  brief_id: 4,
  number: 1,
  title: "September 2026 in figures",
  as_of: "2026-09-30",
  version: 1,
  published_at: "2026-10-02T08:00:00Z",
  author: "Ann",
  headline: "",
  checksum: "ab",
  copies: [],
  restated: 2,
  restated_version: 2,
};
const ledger = {
  id: 1,
  name: "Shop",
  version: 2,
  feeds: [{ feed: "sales", first: "2026-01-01", last: "2026-09-30", declared: false }],
  figures: [],
  days: [],
  usual_day: "",
  dimensions: [],
} as unknown as LedgerDescription;

beforeEach(() => setActivePinia(createPinia()));

describe("a brief that is changed", () => {
  it("has blocks put in, moved and taken away, and stays where that makes no sense", () => {
    expect(withBlock(brief, text, 1).blocks.map((each) => each.kind)).toEqual([
      "table",
      "text",
      "text",
      "restated",
    ]);
    expect(movedBlock(brief, 0, 2).blocks.map((each) => each.kind)).toEqual(["text", "restated", "table"]);
    expect(movedBlock(brief, 0, -1)).toBe(brief);
    expect(movedBlock(brief, 2, 3)).toBe(brief);
    expect(withoutBlock(brief, 1).blocks.map((each) => each.kind)).toEqual(["table", "restated"]);
    expect([0, 1, 2].map((at) => figureNumber(brief.blocks, at))).toEqual([0, -1, -1]);
  });

  it("takes a statement only as what it can be read as", () => {
    const bare = { ...PLAIN_STATEMENT, measures: net.measures };
    expect(kindRefusal("movers", net)).toBeNull();
    expect(kindRefusal("bridge", bare)).toMatch("compares with nothing");
    expect(kindRefusal("scorecard", net)).toMatch("no goals");
    expect(kindRefusal("chart", bare)).toMatch("no rows");
    expect(kindRefusal("words", bare)).toMatch("neither");
    expect(kindRefusal("headline", bare)).toBeNull();
  });

  it("calls its blocks by their titles, else by what they show", () => {
    expect(blockName(table)).toBe("Table: Regions");
    expect(blockName({ ...table, title: "" }, "Net sales by region")).toBe("Table: Net sales by region");
    expect(blockName(text)).toBe("Text: Hello there");
    expect(scheduleWords({ kind: "weekly", weekdays: [0, 3], time: "07:00", day: 1, feed: "" })).toBe(
      "each Monday and Thursday at 07:00",
    );
  });
});

describe("the list of blocks", () => {
  const shown = () =>
    mount(BlockList, { props: { blocks: brief.blocks, chosen: 0, captions: ["Net sales by region"] } });

  it("moves a block with Alt and the arrows, takes it away with Delete, and chooses it", async () => {
    const list = shown();
    const names = list.findAll("button.name");
    await names[0]?.trigger("keydown", { key: "ArrowDown", altKey: true });
    await names[0]?.trigger("keydown", { key: "ArrowUp", altKey: true });
    await names[1]?.trigger("keydown", { key: "Delete" });
    await names[2]?.trigger("click");
    expect(list.emitted("move")).toEqual([[0, 1]]);
    expect(list.emitted("remove")).toEqual([[1]]);
    expect(list.emitted("choose")).toEqual([[2]]);
  });

  it("moves a block that is dragged onto another", async () => {
    const list = shown();
    const rows = list.findAll("li");
    const held = new Map<string, string>();
    const dataTransfer = {
      setData: (kind: string, what: string) => held.set(kind, what),
      getData: (kind: string) => held.get(kind) ?? "",
    };
    await rows[2]?.trigger("dragstart", { dataTransfer });
    await rows[0]?.trigger("dragover", { dataTransfer });
    await rows[0]?.trigger("drop", { dataTransfer });
    expect(list.emitted("move")).toEqual([[2, 0]]);
  });
});

describe("the form of a block", () => {
  it("gives a block an as-of date of its own, and takes it back", async () => {
    const form = mount(BlockForm, {
      props: { block: table, ledger, asOf: { kind: "last_posted" }, day: "2026-10-17" },
      global: { stubs: { BlockStatement: true } },
    });
    const select = form.findComponent('[data-test="block-as-of"]') as unknown as {
      vm: { $emit: (name: string, value: string) => void };
    };
    select.vm.$emit("change", "day");
    select.vm.$emit("change", "brief");
    expect(form.emitted("change")?.map(([each]) => (each as { as_of: unknown }).as_of)).toEqual([
      { kind: "pinned", day: "2026-10-17" },
      null,
    ]);
  });
});

describe("what is kept of a brief", () => {
  let asked: Asked[];
  const given = async (url: string, body: unknown, status = 200): Promise<Asked> => {
    const found = await vi.waitUntil(() =>
      asked.find((each) => each.url.startsWith(url) && !answered.has(each)),
    );
    answered.add(found);
    found.give(body, status);
    await flushPromises();
    return found;
  };
  const answered = new Set<Asked>();
  beforeEach(() => (asked = serve()));

  it("is kept one change after the other, each as seen by its changer, and steps back", async () => {
    const briefs = useBriefs();
    briefs.take(kept());
    void briefs.change({ ...brief, title: "One" });
    void briefs.change({ ...brief, title: "Two" });
    const first = await given("/api/briefs", kept({ saved_at: "2026-11-29T10:00:01Z" }));
    expect(first.body).toMatchObject({ id: 4, seen: "2026-11-29T10:00:00Z" });
    const second = await given("/api/briefs", kept({ saved_at: "2026-11-29T10:00:02Z" }));
    expect(second.body).toMatchObject({ seen: "2026-11-29T10:00:01Z", brief: { title: "Two" } });
    void briefs.step(-1);
    const back = await given("/api/briefs", kept());
    expect(back.body).toMatchObject({ brief: { title: "One" } });
    expect([briefs.canUndo, briefs.canRedo]).toEqual([true, true]);
  });

  it("says why it was refused, and what was handed out stays as it was", async () => {
    const briefs = useBriefs();
    briefs.take(kept());
    const done = briefs.changeHanding({ ...NO_HANDING, subject: "x" });
    await given("/api/briefs", { kind: "refused", message: "Ann changed this brief meanwhile" }, 409);
    expect(await done).toBe(false);
    expect(briefs.refused).toMatch("Ann changed");
    expect(briefs.handing.subject).toBe(NO_HANDING.subject);
  });

  it("drops a draft that is superseded", async () => {
    const briefs = useBriefs();
    briefs.take(kept());
    void briefs.compose(2, null, false);
    await flushPromises();
    void briefs.compose(2, { key: "North", label: "North" }, false);
    await flushPromises();
    const drafts = asked.filter((each) => each.url === "/api/drafts");
    expect(drafts[0]?.signal.aborted).toBe(true);
    expect(drafts[1]?.body).toMatchObject({ copy: true, member: "North" });
    drafts[1]?.give({ html: "", title: "Copy", as_of: "2026-09-30", version: 2, blocks: [], news: [] });
    await flushPromises();
    expect(briefs.draft?.title).toBe("Copy");
    expect(briefs.refused).toBe("");
  });
});

describe("issues and what became of them", () => {
  it("lists the draft and the issues, with what was restated", async () => {
    const list: Briefs = { briefs: [{ kept: kept(), issues: [issue], next_due: null }], unreadable: [] };
    const shown = mount(BriefList, {
      props: { list, brief: 4, issue: 9, restated: "2 figures would be different" },
    });
    expect(shown.text()).toContain("Draft of issue 2");
    expect(shown.text()).toContain("Issue 1 · September 2026 in figures");
    expect(shown.text()).toContain("2 figures restated");
    await shown.get('[data-test="then-and-now"]').trigger("click");
    await shown.get('[data-test="open-draft"]').trigger("click");
    expect(shown.emitted("compare")).toHaveLength(1);
    expect(shown.emitted("open")).toEqual([[4, null]]);
  });

  it("shows each figure then and now, with what caused the difference", async () => {
    const effect = {
      version: 2,
      made_at: "2026-10-05T08:00:00Z",
      made_by: "",
      what: "replaced a.csv",
      amount: "+5",
      exact: null,
    };
    const figure = {
      block: 0,
      title: "Net sales",
      row: "Lakes",
      heading: "This year",
      path: ["Lakes"],
      column: "net_sales.0.value",
      then: "10",
      now: "15",
      difference: "+5",
      effects: [effect],
    };
    const found = {
      issue: 9,
      number: 1,
      version: 2,
      count: 1,
      figures: [figure],
      new_rows: 1,
      words: "1 figure",
      trouble: [],
    };
    const shown = mount(ThenAndNow, {
      props: { modelValue: true, found: found as unknown as Restatement },
      attachTo: document.body,
    });
    await flushPromises();
    const said = document.body.textContent ?? "";
    for (const each of ["Lakes", "10", "15", "+5", "replaced a.csv", "1 row would be new"])
      expect(said).toContain(each);
    shown.unmount();
  });

  it("offers to send again what was given up, and nothing else", async () => {
    const mail = {
      message_id: "m",
      address: "a@b.example",
      name: "",
      subject: "",
      body: "",
      issue_id: 1,
      place: 0,
    };
    const row = {
      id: 1,
      ledger_id: 1,
      mail,
      attempts: 1,
      made_at: "2026-10-05T08:00:00Z",
      next_at: "2026-10-05T08:00:00Z",
    };
    const about = { real: true, place: "here", sender: "" };
    const mails = [
      { ...row, state: "sent", ended_at: "2026-10-05T08:00:00Z", said: "" },
      { ...row, id: 2, state: "given_up", ended_at: "2026-10-05T08:00:00Z", said: "550 no such user" },
    ];
    const shown = mount(MailTable, { props: { log: { about, mails } as never }, attachTo: document.body });
    await flushPromises();
    expect(shown.text()).toContain("550 no such user");
    expect(shown.text().match(/Send again/g)).toHaveLength(1);
    shown.unmount();
  });
});

describe("people and alerts", () => {
  it("takes an address that is one", async () => {
    const field = mount(PeopleField, { props: { people: [], copies: "", members: [] } });
    await field.get('[data-test="new-address"]').setValue("nobody");
    await field.get('[data-test="add-person"]').trigger("click");
    expect(field.text()).toContain("Write an address");
    await field.get('[data-test="new-address"]').setValue(" a@b.example ");
    await field.get('[data-test="add-person"]').trigger("click");
    expect(field.emitted("change")).toEqual([[[{ address: "a@b.example", name: "", copies: [] }]]]);
  });

  it("keeps an alert with its people", async () => {
    const alert = {
      name: "Behind",
      kind: "feed_behind" as const,
      statement: null,
      opened: { depth: 1, paths: [] },
      column: "",
      comparison: "below" as const,
      figure: "",
      feed: "",
      days: 5,
      people: [],
    };
    const form = mount(AlertForm, {
      props: { alert, id: null, ledger, refused: "" },
      attachTo: document.body,
    });
    await flushPromises();
    const people = document.querySelector<HTMLInputElement>('[data-test="alert-people"]');
    if (people) people.value = "a@b.example; c@d.example";
    people?.dispatchEvent(new Event("input"));
    await flushPromises();
    document.querySelector<HTMLElement>('[data-test="keep-alert"]')?.click();
    const [[sent, id]] = form.emitted("keep") as [[Alert, null]];
    expect(id).toBeNull();
    expect(sent.people.map((each) => each.address)).toEqual(["a@b.example", "c@d.example"]);
    form.unmount();
  });
});
