import { createPinia, setActivePinia } from "pinia";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { useIntake } from "@/state/intake";

/** Answers that are given when the test says so. */
const waiting: { url: string; give: (body: unknown) => void }[] = [];

function ready(url: string, body: unknown): void {
  for (const each of waiting.filter((one) => one.url.includes(url))) each.give(body);
}

beforeEach(() => {
  setActivePinia(createPinia());
  waiting.length = 0;
  vi.stubGlobal(
    "fetch",
    (url: string) =>
      new Promise((resolve) => {
        const give = (body: unknown): void =>
          resolve(new Response(JSON.stringify(body), { headers: { "content-type": "application/json" } }));
        waiting.push({ url, give });
      }),
  );
});

describe("posted files", () => {
  it("are those of the ledger that is open, though another one's answer comes later", async () => {
    const intake = useIntake();
    const slow = intake.readBatches("Large");
    const quick = intake.readBatches("Small");
    ready("name=Small", [{ id: 2 }]);
    await quick;
    ready("name=Large", [{ id: 1 }]);
    await slow;
    expect(intake.batches).toEqual([{ id: 2 }]);
    expect(intake.months).toEqual([{ id: 2 }]);
  });
});
