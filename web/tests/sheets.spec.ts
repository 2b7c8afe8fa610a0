import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Statement } from "@/contract";
import { PLAIN } from "@/contract/vocabulary";
import type { View } from "@/model/address";
import { createSheet } from "@/state/sheet/sheet";
import { serve, type Asked } from "./serving";

let asked: Asked[] = [];
beforeEach(() => {
  asked = serve();
});

/** The questions on figures among what was asked. */
function questions(): Asked[] {
  return asked.filter((each) => each.url === "/api/answers");
}

async function question(measure: string): Promise<Asked> {
  return vi.waitFor(() => {
    const found = questions().findLast(
      (each) => (each.body as { statement: Statement }).statement.measures[0]?.measure === measure,
    );
    if (!found) throw new Error(`nobody asked for ${measure}`);
    return found;
  });
}

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
    const sheet = createSheet();
    const first = sheet.show(view("orders"), 1);
    const left = await question("orders");
    const second = sheet.show(view("units"), 1);
    (await question("units")).give({ version: 7, columns: [] });
    await Promise.all([first, second]);
    expect(left.signal.aborted).toBe(true);
    expect(sheet.answer).toMatchObject({ version: 7 });
    expect(sheet.loading).toBe(false);
  });

  it("that are answered by the version before, which is read while theirs is made ready, are asked again", async () => {
    const sheet = createSheet();
    const shown = sheet.show(view("orders"), 2);
    (await question("orders")).give({ version: 1, columns: [] });
    await shown;
    expect(sheet.answer).toMatchObject({ version: 1 });
    await vi.waitFor(() => expect(questions()).toHaveLength(2), 3000);
    (await question("orders")).give({ version: 2, columns: [] });
    await vi.waitFor(() => expect(sheet.answer).toMatchObject({ version: 2 }));
    sheet.leave();
  });

  it("that are refused say why and leave the last answer readable", async () => {
    const sheet = createSheet();
    const good = sheet.show(view("orders"), 1);
    (await question("orders")).give({ version: 1, columns: [] });
    await good;
    const bad = sheet.show(view("ordrs"), 1);
    const failure = { kind: "question", message: "there is no measure", part: "measures[0]", way_out: null };
    (await question("ordrs")).give(failure, 422);
    await bad;
    expect(sheet.failure?.message).toBe("there is no measure");
    expect(sheet.answer).toMatchObject({ version: 1 });
    expect([sheet.outdated, sheet.check]).toEqual([true, null]);
    await sheet.show(view("orders"), 1);
    expect([sheet.outdated, sheet.failure]).toEqual([false, null]);
  });

  it("do not end in silence when the application is away", async () => {
    const sheet = createSheet();
    vi.stubGlobal("fetch", () => Promise.reject(new TypeError("refused")));
    await sheet.show(view("orders"), 1);
    expect(sheet.failure?.kind).toBe("away");
  });

  it("that were just answered are not asked again, unless it is wanted", async () => {
    const sheet = createSheet();
    for (const measure of ["orders", "units"]) {
      const shown = sheet.show(view(measure), 1);
      (await question(measure)).give({ version: 1, columns: [] });
      await shown;
    }
    await sheet.show(view("orders"), 1);
    expect(questions()).toHaveLength(2);
    sheet.again();
    const again = sheet.show(view("orders"), 1);
    await vi.waitFor(() => expect(questions()).toHaveLength(3));
    (await question("orders")).give({ version: 1, columns: [] });
    await again;
  });
});

describe("several sheets", () => {
  it("on one page are asked, answered and dropped each by itself", async () => {
    const [one, other] = [createSheet(), createSheet()];
    const shown = [one.show(view("orders"), 1), other.show(view("units"), 1)];
    const left = await question("units");
    (await question("orders")).give({ version: 1, columns: [] });
    other.leave();
    await Promise.all(shown);
    expect(left.signal.aborted).toBe(true);
    expect([one.answer?.version, other.answer]).toEqual([1, null]);
    expect(one.question?.statement.measures[0]?.measure).toBe("orders");
  });

  it("that ask the same are asked for once; one that leaves takes no answer from the other", async () => {
    const [one, other] = [createSheet(), createSheet()];
    // Both wait equally long for their words: neither leaves before the other has asked.
    vi.useFakeTimers();
    const shown = [one.show(view("orders"), 1), other.show(view("orders"), 1)];
    await vi.advanceTimersByTimeAsync(1000);
    vi.useRealTimers();
    const only = await question("orders");
    one.leave();
    expect(only.signal.aborted).toBe(false);
    only.give({ version: 1, columns: [] });
    await Promise.all(shown);
    expect(questions()).toHaveLength(1);
    expect([one.answer, other.answer?.version]).toEqual([null, 1]);
  });
});

describe("the words of a statement", () => {
  it("are asked for before its figures, and superseded like them", async () => {
    const told = (): Asked[] => asked.filter((each) => each.url !== "/api/checks");
    const sheet = createSheet();
    const first = sheet.show(view("orders"), 1);
    await vi.waitFor(() => expect(told().map((each) => each.url)).toEqual(["/api/tellings", "/api/answers"]));
    const second = sheet.show(view("units"), 1);
    await vi.waitFor(() => expect(told()).toHaveLength(4));
    told()[0]?.give({ title: "late", parts: [] });
    told()[2]?.give({ title: "units", parts: [] });
    await vi.waitFor(() => expect(sheet.told?.words.title).toBe("units"));
    expect([sheet.answer, sheet.told?.statement.measures[0]?.measure]).toEqual([null, "units"]);
    (await question("units")).give({ version: 1, columns: [] });
    await Promise.all([first, second]);
  });
});

describe("a new version of the ledger", () => {
  it("is asked for again, though the question is the same", async () => {
    const sheet = createSheet();
    const first = sheet.show(view("orders"), 1);
    (await question("orders")).give({ version: 1, columns: [] });
    await first;
    await sheet.show(view("orders"), 1);
    expect(questions()).toHaveLength(1);
    const second = sheet.show(view("orders"), 2);
    await vi.waitFor(() => expect(questions()).toHaveLength(2));
    (await question("orders")).give({ version: 2, columns: [] });
    await second;
    expect(sheet.answer).toMatchObject({ version: 2 });
  });
});
