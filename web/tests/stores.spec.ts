/** The stores of ledgers, kept statements and postings: what they ask, what they hold, and what they say when they are refused. */
import { createPinia, setActivePinia } from "pinia";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { LedgerListed, SavedStatement } from "@/contract";
import { PLAIN } from "@/contract/vocabulary";
import { useLedgers } from "@/state/ledgers";
import { usePostings } from "@/state/postings";
import { useStatements } from "@/state/statements";
import { serve, type Asked } from "./serving";

let asked: Asked[] = [];
beforeEach(() => {
  setActivePinia(createPinia());
  asked = serve();
});

/** The next request of an address that nobody has answered yet. */
const answered = new WeakSet<Asked>();
async function next(url: string, method = "GET"): Promise<Asked> {
  return vi.waitFor(() => {
    const found = asked.find(
      (each) => each.url.split("?")[0] === url && each.method === method && !answered.has(each),
    );
    if (!found) throw new Error(`nobody asked for ${method} ${url}`);
    answered.add(found);
    return found;
  });
}

function ledger(id: number, name: string, version = 1): LedgerListed {
  return { id, name, version, archived_at: null } as LedgerListed;
}

describe("ledgers", () => {
  const list = [ledger(1, "North wholesale"), ledger(2, "2"), ledger(3, "South")];

  async function opened(text: string | null, name: string): Promise<ReturnType<typeof useLedgers>> {
    const ledgers = useLedgers();
    const chosen = ledgers.choose(text);
    (await next("/api/ledgers")).give(list);
    const described = await next("/api/ledger");
    expect(new URL(described.url, "http://x").searchParams.get("name")).toBe(name);
    described.give({ name, version: 1, measures: [], dimensions: [] });
    await chosen;
    return ledgers;
  }

  it("are opened by number or name, and a name comes before a number that reads alike", async () => {
    const ledgers = await opened("3", "South");
    expect([ledgers.open?.name, ledgers.missing]).toEqual(["South", ""]);
    expect(ledgers.named("2")?.id).toBe(2);
    expect(ledgers.addressOf("South")).toBe("3");
    expect(ledgers.addressOf("nowhere")).toBe("nowhere");
  });

  it("that are not there are told with what is near", async () => {
    const ledgers = useLedgers();
    const chosen = ledgers.choose("Nort wholesale");
    (await next("/api/ledgers")).give(list);
    await chosen;
    expect([ledgers.open, ledgers.missing]).toEqual([null, "Nort wholesale"]);
    expect(ledgers.near[0]?.name).toBe("North wholesale");
  });

  it("that somebody else posted to are seen by their newer version", async () => {
    const ledgers = await opened("3", "South");
    expect(ledgers.newer).toBeNull();
    const again = ledgers.refresh();
    (await next("/api/ledgers")).give([ledger(3, "South", 4)]);
    await again;
    expect(ledgers.newer).toBe(4);
  });

  it("that are set aside are not offered", async () => {
    const ledgers = await opened("3", "South");
    const done = ledgers.archive("South", true);
    const post = await next("/api/ledger/archive", "POST");
    expect(post.body).toEqual({ ledger: "South", archived: true });
    post.give({});
    (await next("/api/ledgers")).give([list[0], { ...ledger(3, "South"), archived_at: "2026-01-01" }]);
    await done;
    expect(ledgers.active.map((each) => each.name)).toEqual(["North wholesale"]);
  });
});

function saved(name: string): SavedStatement {
  const statement = { measures: [{ measure: "net_sales" }] };
  return { id: 5, name, folder: "", description: "", statement, opened: { depth: 1, paths: [] } } as never;
}

describe("kept statements", () => {
  const kept = (...names: string[]): unknown => ({ saved: names.map(saved), offered: [], unreadable: [] });

  it("of a ledger that was left meanwhile are not shown", async () => {
    const statements = useStatements();
    const first = statements.refresh("A");
    const left = await next("/api/ledger/statements");
    const second = statements.refresh("B");
    (await next("/api/ledger/statements")).give(kept("of B"));
    await second;
    left.give(kept("of A"));
    await first;
    expect(statements.found.saved.map((each) => each.name)).toEqual(["of B"]);
  });

  it("are duplicated under the first name that is free", async () => {
    const statements = useStatements();
    const listed = statements.refresh("A");
    (await next("/api/ledger/statements")).give(kept("Sales", "Sales, copy", "Sales, copy 2"));
    await listed;
    const done = statements.duplicate("A", saved("Sales"));
    const put = await next("/api/ledger/statements", "PUT");
    expect(put.body).toMatchObject({ ledger: "A", name: "Sales, copy 3" });
    put.give({});
    (await next("/api/ledger/statements")).give(kept());
    expect(await done).toBe(true);
  });

  it("are renamed by their number, so that nothing else is written over", async () => {
    const statements = useStatements();
    const done = statements.rename("A", saved("Sales"), "Turnover");
    const put = await next("/api/ledger/statements", "PUT");
    expect(put.body).toMatchObject({ id: 5, name: "Turnover" });
    put.give(
      { kind: "taken", message: "There is a statement Turnover already.", part: null, way_out: null },
      409,
    );
    expect(await done).toBe(false);
    expect(statements.refused).toBe("There is a statement Turnover already.");
  });

  it("that are forgotten can be taken back; one that could not be forgotten is not offered for it", async () => {
    const statements = useStatements();
    let done = statements.forget("A", saved("Sales"));
    (await next("/api/ledger/statements", "DELETE")).give(
      { kind: "not_found", message: "It is gone.", part: null, way_out: null },
      404,
    );
    expect([await done, statements.forgotten]).toEqual([false, ""]);
    done = statements.forget("A", saved("Sales"));
    (await next("/api/ledger/statements", "DELETE")).give({});
    (await next("/api/ledger/statements")).give(kept());
    expect([await done, statements.forgotten]).toEqual([true, "Sales"]);
    const back = statements.takeBack("A");
    const post = await next("/api/ledger/statements/taken-back", "POST");
    expect(post.body).toEqual({ ledger: "A", name: "Sales" });
    post.give({});
    (await next("/api/ledger/statements")).give(kept("Sales"));
    expect([await back, statements.forgotten]).toEqual([true, ""]);
  });

  it("are kept with how they are laid out", async () => {
    const statements = useStatements();
    const question = {
      ledger: "A",
      statement: saved("x").statement,
      opened: { depth: 2, paths: [] },
    } as never;
    const done = statements.save(question, { ...PLAIN, size: "large" }, "Mine", "Board", "for Mondays");
    const put = await next("/api/ledger/statements", "PUT");
    expect(put.body).toMatchObject({
      name: "Mine",
      folder: "Board",
      description: "for Mondays",
      opened: { depth: 2 },
      layout: { size: "large" },
    });
    put.give({});
    (await next("/api/ledger/statements")).give(kept("Mine"));
    expect(await done).toBe(true);
  });
});

describe("postings", () => {
  async function giveLists(batches: unknown[]): Promise<void> {
    (await next("/api/ledger/batches")).give(batches);
    (await next("/api/ledger/months")).give([]);
    (await next("/api/ledger/versions")).give([{ version: batches.length }]);
    (await next("/api/ledger/mappings")).give({ rows: [], unreadable: [] });
  }

  it("are listed anew once a file is taken out", async () => {
    const postings = usePostings();
    const done = postings.withdraw("A", 7, true);
    expect(postings.busy).toBe(true);
    const post = await next("/api/ledger/withdrawals", "POST");
    expect(post.body).toEqual({ ledger: "A", batch: 7, leave_hole: true });
    post.give({ version: 3 });
    await giveLists([{ id: 1 }]);
    await done;
    expect([postings.batches.length, postings.busy, postings.failure]).toEqual([1, false, null]);
  });

  it("that are refused stay as they are, with the reason", async () => {
    const postings = usePostings();
    const done = postings.restore("A", 7);
    (await next("/api/ledger/restorations", "POST")).give(
      { kind: "refused", message: "It counts already.", part: null, way_out: null },
      409,
    );
    await done;
    expect([postings.failure?.message, postings.busy]).toEqual(["It counts already.", false]);
    expect(asked.filter((each) => each.url.startsWith("/api/ledger/batches"))).toHaveLength(0);
  });

  it("of a ledger that was left meanwhile are not shown", async () => {
    const postings = usePostings();
    const first = postings.refresh("A");
    const left = [
      await next("/api/ledger/batches"),
      await next("/api/ledger/months"),
      await next("/api/ledger/versions"),
      await next("/api/ledger/mappings"),
    ];
    const second = postings.refresh("B");
    await giveLists([{ id: 2 }, { id: 3 }]);
    await second;
    for (const [at, each] of left.entries()) each.give(at === 3 ? { rows: [], unreadable: [] } : []);
    await first;
    expect(postings.batches.map((each) => each.id)).toEqual([2, 3]);
  });

  it("have their lines corrected, or say why not", async () => {
    const postings = usePostings();
    const done = postings.correctLine("A", 9, null, "twice");
    const post = await next("/api/ledger/corrections", "POST");
    expect(post.body).toMatchObject({ ledger: "A", line: 9, reason: "twice" });
    post.give({ kind: "refused", message: "It is void already.", part: null, way_out: null }, 409);
    expect(await done).toBe("It is void already.");
  });
});
