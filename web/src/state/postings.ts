/** What is posted to a ledger: batches, months, versions and the mappings that are kept. */
import { defineStore } from "pinia";
import { ref, shallowRef } from "vue";
import type { BatchRecord, Failure, KeptMappings, LineChange, PostedMonth, VersionRecord } from "@/contract";
import { Refusal } from "@/server/http";
import * as server from "@/server/ledgers";

export const usePostings = defineStore("postings", () => {
  const batches = shallowRef<BatchRecord[]>([]);
  const months = shallowRef<PostedMonth[]>([]);
  const versions = shallowRef<VersionRecord[]>([]);
  const mappings = shallowRef<KeptMappings>({ rows: [], unreadable: [] });
  const busy = ref(false);
  const failure = ref<Failure | null>(null);
  let reading = "";

  async function refresh(ledger: string): Promise<void> {
    reading = ledger;
    const answer = await Promise.all([
      server.listBatches(ledger),
      server.listMonths(ledger),
      server.listVersions(ledger),
      server.listMappings(ledger),
    ]);
    // The answer of a ledger that was left meanwhile comes too late to be shown.
    if (reading === ledger) [batches.value, months.value, versions.value, mappings.value] = answer;
  }

  async function change(ledger: string, work: () => Promise<unknown>): Promise<void> {
    busy.value = true;
    failure.value = null;
    try {
      await work();
      await refresh(ledger);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      failure.value = error.failure;
    } finally {
      busy.value = false;
    }
  }

  /** Take a posted file out, or in again. */
  function withdraw(ledger: string, batch: number, leaveHole: boolean): Promise<void> {
    return change(ledger, () => server.withdraw(ledger, batch, leaveHole));
  }

  function restore(ledger: string, batch: number): Promise<void> {
    return change(ledger, () => server.restore(ledger, batch));
  }

  function importMapping(ledger: string, exported: unknown): Promise<void> {
    return change(ledger, () => server.importMapping(ledger, exported));
  }

  /** The shape whose mapping was forgotten last, which can be taken back. */
  const forgotten = ref("");

  async function forgetMapping(ledger: string, shape: string): Promise<void> {
    await change(ledger, () => server.forgetMapping(ledger, shape));
    if (!failure.value) forgotten.value = shape;
  }

  async function takeBackMapping(ledger: string): Promise<void> {
    await change(ledger, () => server.takeBackMapping(ledger, forgotten.value));
    if (!failure.value) forgotten.value = "";
  }

  async function exportMapping(ledger: string, shape: string): Promise<string> {
    return JSON.stringify(await server.exportMapping(ledger, shape), null, 2);
  }

  /** Correct or void one line; the sentence of a refusal, or nothing. */
  async function correctLine(
    ledger: string,
    line: number,
    next: LineChange | null,
    reason: string,
  ): Promise<string> {
    try {
      await server.correctLine(ledger, line, next, reason);
      return "";
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      return error.failure.message;
    }
  }

  return {
    batches,
    months,
    versions,
    mappings,
    busy,
    failure,
    refresh,
    withdraw,
    restore,
    importMapping,
    forgetMapping,
    forgotten,
    takeBackMapping,
    exportMapping,
    correctLine,
  };
});
