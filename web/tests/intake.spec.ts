import { createPinia, setActivePinia } from "pinia";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Staging } from "@/contract";
import { bothDates } from "@/model/bothDates";
import { useIntake } from "@/state/intake";
import { usePostings } from "@/state/postings";
import { serve, type Asked } from "./serving";

/** Answers that are given when the test says so. */
let waiting: Asked[] = [];

function ready(url: string, body: unknown): void {
  for (const each of waiting.filter((one) => one.url.includes(url))) each.give(body);
}

async function asked(url: string, method = "GET"): Promise<void> {
  await vi.waitFor(() =>
    expect(waiting.some((each) => each.url.includes(url) && each.method === method)).toBe(true),
  );
}

/** What may be sent at once is asked for before anything is sent. */
async function limited(bytes = 1000): Promise<void> {
  await asked("/api/limits");
  ready("/api/limits", { bytes, files: 2 });
  await vi.waitFor(() => expect(useIntake().doing ?? useIntake().failure).not.toBeNull());
}

/** A request whose progress the test tells, and which may be stopped. */
class Sending {
  static last: Sending;
  upload: { onprogress: (event: { loaded: number; total: number }) => void } = {
    onprogress: () => undefined,
  };
  onload: () => void = () => undefined;
  onerror: () => void = () => undefined;
  onabort: () => void = () => undefined;
  status = 202;
  responseText = "";
  constructor() {
    Sending.last = this;
  }
  open(): void {}
  send(): void {}
  setRequestHeader(): void {}
  abort(): void {
    this.onabort();
  }
  getResponseHeader(): string {
    return "application/json";
  }
  give(body: unknown): void {
    this.responseText = JSON.stringify(body);
    this.onload();
  }
}

beforeEach(() => {
  setActivePinia(createPinia());
  vi.stubGlobal("XMLHttpRequest", Sending);
  waiting = serve();
});

describe("posted files", () => {
  it("are those of the ledger that is open, though another one's answer comes later", async () => {
    const postings = usePostings();
    const slow = postings.refresh("Large");
    const quick = postings.refresh("Small");
    await vi.waitFor(() => expect(waiting).toHaveLength(8));
    ready("name=Small", [{ id: 2 }]);
    await quick;
    ready("name=Large", [{ id: 1 }]);
    await slow;
    expect(postings.batches).toEqual([{ id: 2 }]);
    expect(postings.months).toEqual([{ id: 2 }]);
  });
});

describe("reading files", () => {
  it("is followed to its end, and can be stopped", async () => {
    const intake = useIntake();
    const dropping = intake.drop("Own", [new File(["a"], "a.csv")]);
    await limited();
    Sending.last.upload.onprogress({ loaded: 40, total: 100 });
    expect(intake.doing).toMatchObject({ doing: "Sending a.csv", done: 40, total: 100 });
    Sending.last.give({
      id: "j1",
      state: "running",
      doing: "Reading a.csv: 200 rows",
      done: 200,
      total: 0,
    });
    await vi.waitFor(() => expect(intake.doing?.doing).toBe("Reading a.csv: 200 rows"));
    intake.stop();
    await asked("/api/jobs/j1", "DELETE");
    await asked("/api/jobs/j1");
    const failure = {
      kind: "stopped",
      message: "Stopped as asked. Nothing was changed.",
      part: null,
      way_out: null,
    };
    ready("/api/jobs/j1", { id: "j1", state: "stopped", doing: "", done: 0, total: 0, failure });
    await dropping;
    expect(intake.failure?.kind).toBe("stopped");
    expect(intake.staging).toBeNull();
    expect(intake.busy).toBe("");
  });
});

describe("sending files", () => {
  it("can be stopped, and says that nothing has come of it", async () => {
    const intake = useIntake();
    const dropping = intake.drop("Own", [new File(["a"], "a.csv"), new File(["b"], "b.csv")]);
    await limited();
    expect(intake.doing?.doing).toBe("Sending 2 files");
    intake.stop();
    await dropping;
    expect(intake.failure?.message).toContain("Nothing has come of it");
    expect(intake.doing).toBeNull();
    expect(intake.busy).toBe("");
  });

  it("is refused before it begins where it is too much", async () => {
    const intake = useIntake();
    const dropping = intake.drop("Own", [new File(["a".repeat(2000)], "a.csv")]);
    await limited();
    await dropping;
    expect(intake.failure?.message).toContain("can be sent at once");
    waiting.length = 0;
    const many = intake.drop(
      "Own",
      [1, 2, 3].map((each) => new File(["a"], `${each}.csv`)),
    );
    await asked("/api/limits");
    ready("/api/limits", { bytes: 1000, files: 2 });
    await many;
    expect(intake.failure?.message).toBe("At most 2 files can be sent at once.");
  });

  it("says when the application is away", async () => {
    const intake = useIntake();
    const dropping = intake.drop("Own", [new File(["a"], "a.csv")]);
    await limited();
    Sending.last.onerror();
    await dropping;
    expect(intake.failure?.kind).toBe("away");
  });
});

describe("decisions that follow each other fast", () => {
  it("are checked as the last of them left it", async () => {
    const intake = useIntake();
    const staging = { id: "s1", files: [] } as unknown as Staging;
    const done = (amount: string): object => ({ id: "j", state: "done", check: { ready: true, amount } });
    const opening = intake.open(staging);
    await asked("/api/stagings/s1/checking", "POST");
    const replacement = intake.place({ replaces: [7], first_day: null, last_day: null });
    await vi.waitFor(() => expect(waiting.filter((each) => each.url.includes("checking")).length).toBe(2));
    const [early, late] = waiting.filter((each) => each.url.includes("checking"));
    late?.give(done("2"));
    await asked("/api/stagings/s1/preview", "POST");
    ready("preview", { lines_out: 16 });
    early?.give(done("1"));
    await Promise.all([opening, replacement]);
    expect(intake.check?.amount).toBe("2");
    expect(intake.preview?.lines_out).toBe(16);
    expect(waiting.filter((each) => each.url.includes("preview")).length).toBe(1);
  });
});

describe("dates that can be read in two ways", () => {
  it("are shown in both, for rows where that differs", () => {
    expect(bothDates(["14.03.2026", "03.04.2026", "05.05.2026", "1/2/26", "6/7/26"])).toEqual([
      "03.04.2026: 3 Apr 2026 or 4 Mar 2026",
      "1/2/26: 1 Feb 2026 or 2 Jan 2026",
    ]);
    expect(bothDates(["2026-03-04", "none"])).toEqual([]);
  });
});
