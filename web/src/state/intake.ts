/** Files on their way into a ledger. */
import { defineStore } from "pinia";
import { ref, shallowRef } from "vue";
import type { BatchRecord, Failure, Job, Mapping, PostedMonth, Staging, StagingCheck } from "@/contract";
import { Refusal } from "@/server/http";
import * as server from "@/server/intake";
import * as ledgers from "@/server/ledgers";
import { listBatches, listMonths } from "@/server/ledgers";

const ASK_AGAIN = 250;

export const useIntake = defineStore("intake", () => {
  const staging = shallowRef<Staging | null>(null);
  const check = shallowRef<StagingCheck | null>(null);
  const job = shallowRef<Job | null>(null);
  const batches = shallowRef<BatchRecord[]>([]);
  const months = shallowRef<PostedMonth[]>([]);
  const replacing = shallowRef<BatchRecord | null>(null);
  const busy = ref("");
  let reading = "";
  const failure = ref<Failure | null>(null);

  async function attempt(doing: string, work: () => Promise<void>): Promise<void> {
    busy.value = doing;
    failure.value = null;
    try {
      await work();
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      failure.value = error.failure;
    } finally {
      busy.value = "";
    }
  }

  function drop(ledger: string, files: File[]): Promise<void> {
    return attempt("Reading the files", async () => {
      job.value = null;
      check.value = null;
      staging.value = await server.stage(ledger, files);
      check.value = await server.check(staging.value.id);
    });
  }

  function map(file: number, mapping: Mapping): Promise<void> {
    return attempt("Reading with the new mapping", async () => {
      if (!staging.value) return;
      staging.value = await server.mapFile(staging.value.id, file, mapping);
      check.value = await server.check(staging.value.id);
    });
  }

  function chooseSheet(file: number, sheet: string): Promise<void> {
    return attempt("Reading the sheet", async () => {
      if (!staging.value) return;
      staging.value = await server.chooseSheet(staging.value.id, file, sheet);
      check.value = await server.check(staging.value.id);
    });
  }

  /** Post, and follow the job to its end. */
  function post(): Promise<void> {
    return attempt("Posting", async () => {
      if (!staging.value) return;
      job.value = await server.post(staging.value.id, replacing.value ? [replacing.value.id] : []);
      while (job.value.state === "running") {
        await new Promise((resume) => setTimeout(resume, ASK_AGAIN));
        job.value = await server.job(job.value.id);
      }
      if (job.value.failure) failure.value = job.value.failure;
      else staging.value = check.value = replacing.value = null;
    });
  }

  async function discard(): Promise<void> {
    if (staging.value) await server.discard(staging.value.id);
    staging.value = check.value = failure.value = null;
  }

  async function readBatches(ledger: string): Promise<void> {
    reading = ledger;
    const answer = await Promise.all([listBatches(ledger), listMonths(ledger)]);
    // The answer of a ledger that was left meanwhile comes too late to be shown.
    if (reading === ledger) [batches.value, months.value] = answer;
  }

  /** Take a posted file out, or in again. */
  function withdraw(ledger: string, batch: number, leaveHole: boolean): Promise<void> {
    return attempt("Withdrawing", async () => {
      await ledgers.withdraw(ledger, batch, leaveHole);
      await readBatches(ledger);
    });
  }

  function restore(ledger: string, batch: number): Promise<void> {
    return attempt("Restoring", async () => {
      await ledgers.restore(ledger, batch);
      await readBatches(ledger);
    });
  }

  return {
    staging,
    check,
    job,
    batches,
    months,
    replacing,
    busy,
    failure,
    drop,
    map,
    chooseSheet,
    post,
    discard,
    readBatches,
    withdraw,
    restore,
  };
});
