// @vitest-environment happy-dom
/** The page of intake: nothing that is dropped on it is lost. */
import { flushPromises, shallowMount } from "@vue/test-utils";
import { createPinia, setActivePinia } from "pinia";
import { beforeEach, expect, it, vi } from "vitest";
import type { LedgerDescription } from "@/contract";
import IntakePage from "@/pages/IntakePage.vue";
import DropPanel from "@/panels/intake/DropPanel.vue";
import { useIntake } from "@/state/intake";
import { useLedgers } from "@/state/ledgers";
import { usePostings } from "@/state/postings";

vi.mock("vue-router", () => ({
  useRoute: () => ({ fullPath: "/intake", path: "/intake", query: {} }),
  useRouter: () => ({ push: vi.fn() }),
}));

beforeEach(() => setActivePinia(createPinia()));

it("keeps files that come before their ledger is there, and sends them once it is", async () => {
  const [ledgers, intake, postings] = [useLedgers(), useIntake(), usePostings()];
  vi.spyOn(ledgers, "choose").mockResolvedValue();
  vi.spyOn(postings, "refresh").mockResolvedValue();
  vi.spyOn(intake, "readWaiting").mockResolvedValue();
  const sent = vi.spyOn(intake, "drop").mockResolvedValue();
  const page = shallowMount(IntakePage);
  const files = [new File(["a"], "a.csv")];
  page.findComponent(DropPanel).vm.$emit("files", files);
  await flushPromises();
  expect(sent).not.toHaveBeenCalled();
  ledgers.open = { name: "Shop", feeds: [] } as unknown as LedgerDescription;
  await flushPromises();
  expect(sent.mock.calls).toEqual([["Shop", files]]);
});
