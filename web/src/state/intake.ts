/** Files on their way into a ledger: read, checked, corrected, placed and posted. */
import { defineStore } from "pinia";
import { ref, shallowRef } from "vue";
import type {
  Correction,
  DatabasePreview,
  Expected,
  Failure,
  Finding,
  Job,
  Mapping,
  Replacement,
  Posting,
  PostingPreview,
  Reading,
  RowsPage,
  Staging,
  StagingCheck,
} from "@/contract";
import { Refusal } from "@/server/http";
import * as server from "@/server/intake";

/** What goes on: what is being done, and how far it is where that is known (total 0: it is not). */
export interface Doing {
  doing: string;
  done: number;
  total: number;
  stop: () => void;
}
const APPENDED: Replacement = { replaces: [], first_day: null, last_day: null };

export const useIntake = defineStore("intake", () => {
  const waiting = shallowRef<Staging[]>([]);
  const staging = shallowRef<Staging | null>(null);
  const check = shallowRef<StagingCheck | null>(null);
  const replacement = shallowRef<Replacement>(APPENDED);
  const preview = shallowRef<PostingPreview | null>(null);
  const doing = shallowRef<Doing | null>(null);
  const posted = shallowRef<Posting | null>(null);
  const busy = ref("");
  const failure = ref<Failure | null>(null);
  let checks = 0;
  let attempts = 0;

  async function attempt(words: string, work: () => Promise<void>): Promise<void> {
    const mine = ++attempts;
    busy.value = words;
    failure.value = null;
    try {
      await work();
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      failure.value = error.failure;
    } finally {
      if (mine === attempts) {
        busy.value = "";
        doing.value = null;
      }
    }
  }

  /** Follow a job to its end; a job that failed or was stopped is an error with its sentence. */
  async function followed(started: Promise<Job>): Promise<Job> {
    const now = await server.followed(await started, (job) => {
      doing.value = { ...job, stop: () => void server.stop(job.id) };
    });
    doing.value = null;
    if (now.failure) throw new Refusal(now.failure);
    return now;
  }

  /** Check what is staged, as it is placed; a check that a later decision has overtaken is passed over. */
  async function checkAgain(): Promise<void> {
    if (!staging.value) return;
    const mine = ++checks;
    const { id } = staging.value;
    preview.value = null;
    const found = (await followed(server.check(id, replacement.value))).check ?? null;
    if (mine !== checks) return;
    check.value = found;
    const change = found?.ready ? await server.preview(id, replacement.value) : null;
    if (mine === checks) preview.value = change;
  }

  /** Open something that waits, or has just been read. */
  function open(found: Staging): Promise<void> {
    return attempt("Checking", async () => {
      posted.value = null;
      check.value = null;
      staging.value = found;
      await checkAgain();
    });
  }

  async function stage(start: () => Promise<Job>, words: string): Promise<void> {
    await attempt(words, async () => {
      posted.value = null;
      check.value = null;
      staging.value = (await followed(start())).staging ?? null;
      await checkAgain();
    });
  }

  /** Send files, with how much of them has gone. */
  function sent(ledger: string, files: File[]): Promise<Job> {
    const stopping = new AbortController();
    const words = files.length === 1 ? `Sending ${files[0]?.name ?? ""}` : `Sending ${files.length} files`;
    const told = (done: number, total: number): void => {
      doing.value = { doing: words, done, total, stop: () => stopping.abort() };
    };
    told(0, 0);
    return server.stage(ledger, files, told, stopping.signal);
  }

  /** Why so many or such large files cannot be sent; told before anything is. */
  async function tooMuch(files: File[]): Promise<Failure | null> {
    const most = await server.limits();
    const bytes = files.reduce((sum, each) => sum + each.size, 0);
    const part = null;
    const way_out = null;
    const kind = "refused";
    if (files.length > most.files)
      return { kind, message: `At most ${most.files} files can be sent at once.`, part, way_out };
    if (bytes <= most.bytes) return null;
    const [mine, all] = [bytes, most.bytes].map((each) => `${Math.ceil(each / 2 ** 20)} MB`);
    const message = `These are ${mine}, and at most ${all} can be sent at once: send fewer, or use the inbox.`;
    return { kind, message, part, way_out };
  }

  function drop(ledger: string, files: File[]): Promise<void> {
    const start = async (): Promise<Job> => {
      const refused = await tooMuch(files);
      if (refused) throw new Refusal(refused);
      return sent(ledger, files);
    };
    return stage(start, "Reading the files");
  }

  function fetchDatabase(ledger: string, url: string, query: string): Promise<void> {
    return stage(() => server.stageDatabase(ledger, url, query), "Fetching the rows");
  }

  function previewDatabase(url: string, query: string): Promise<DatabasePreview> {
    return server.previewDatabase(url, query);
  }

  /** Take a decision about the staged files, and check again. */
  function decide(words: string, change: (id: string) => Promise<Staging>): Promise<void> {
    return attempt(words, async () => {
      if (!staging.value) return;
      staging.value = await change(staging.value.id);
      await checkAgain();
    });
  }

  function map(file: number, mapping: Mapping): Promise<void> {
    return decide("Reading with the new mapping", (id) => server.mapFile(id, file, mapping));
  }

  function read(file: number, reading: Reading): Promise<void> {
    return decide("Reading the file again", (id) => server.readAgain(id, file, reading));
  }

  function correct(file: number, correction: Correction): Promise<void> {
    return decide("Correcting", (id) => server.correct(id, file, correction));
  }

  function expect(file: number, expected: Expected): Promise<void> {
    return decide("Checking", (id) => server.expect(id, file, expected));
  }

  function leaveOut(file: number): Promise<void> {
    return decide("Leaving the file out", (id) => server.leaveOut(id, file));
  }

  function place(next: Replacement): Promise<void> {
    replacement.value = next;
    return attempt("Checking", checkAgain);
  }

  function rows(file: number, finding: Finding, member: string | null, offset: number): Promise<RowsPage> {
    return server.rows(staging.value?.id ?? "", file, finding, member, offset);
  }

  function unreadable(file: number): Promise<string> {
    return server.unreadable(staging.value?.id ?? "", file);
  }

  /** Post, and follow the job to its end. */
  function post(): Promise<void> {
    return attempt("Posting", async () => {
      if (!staging.value) return;
      posted.value = (await followed(server.post(staging.value.id, replacement.value))).posting ?? null;
      staging.value = check.value = preview.value = null;
      replacement.value = APPENDED;
    });
  }

  function stop(): void {
    doing.value?.stop();
  }

  /** Put the files aside: they go on waiting. */
  function putAside(): void {
    staging.value = check.value = preview.value = failure.value = null;
    replacement.value = APPENDED;
  }

  async function discard(number: string): Promise<void> {
    await server.discard(number);
    if (staging.value?.id === number) putAside();
    waiting.value = waiting.value.filter((each) => each.id !== number);
  }

  async function readWaiting(ledger: string): Promise<void> {
    try {
      waiting.value = await server.waiting(ledger);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      failure.value = error.failure;
    }
  }

  return {
    waiting,
    staging,
    check,
    replacement,
    preview,
    doing,
    posted,
    busy,
    failure,
    open,
    drop,
    fetchDatabase,
    previewDatabase,
    map,
    read,
    correct,
    expect,
    leaveOut,
    place,
    rows,
    unreadable,
    post,
    stop,
    putAside,
    discard,
    readWaiting,
  };
});
