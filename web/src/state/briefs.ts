/** The briefs of the open ledger: which there are, the one that is put together, its draft, and how its figures are proved. */
import { defineStore } from "pinia";
import { computed, ref, shallowRef } from "vue";
import type {
  Brief,
  Briefs,
  CopyMember,
  Draft,
  Handing,
  Job,
  KeptBrief,
  MemberKey,
  Proof,
  ProvedBlock,
} from "@/contract";
import { emptyBrief, NO_HANDING } from "@/model/brief";
import * as server from "@/server/briefs";
import { prove } from "@/server/figures";

/** A figure of a brief, by what proves it. */
export interface BriefFigure {
  block: number;
  path: MemberKey[];
  column: string;
}

const MOST_STEPS = 100;

export const useBriefs = defineStore("briefs", () => {
  const ledger = ref("");
  const list = shallowRef<Briefs>({ briefs: [], unreadable: [] });
  /** The brief that is put together: its number, when it was kept last, and what it is by now. */
  const id = ref<number | null>(null);
  const seen = ref<string | null>(null);
  const brief = shallowRef<Brief | null>(null);
  const handing = shallowRef<Handing>(NO_HANDING);
  const refused = ref("");
  const saving = ref(false);
  const steps = shallowRef<Brief[]>([]);
  const back = ref(0);

  async function refresh(name: string): Promise<void> {
    ledger.value = name;
    list.value = await server.listBriefs(name);
  }

  /** Follow the list: issues come by themselves, and so does what was restated. */
  function watchList(name: string): () => void {
    return server.watchBriefs(name, (found) => {
      if (name === ledger.value) list.value = found;
    });
  }

  const listed = computed(() => list.value.briefs.find((each) => each.kept.id === id.value) ?? null);

  function take(kept: KeptBrief): void {
    id.value = kept.id;
    seen.value = kept.saved_at;
    brief.value = kept.brief;
    handing.value = kept.handing;
    refused.value = "";
    steps.value = [kept.brief];
    back.value = 0;
    draft.value = null;
  }

  function open(number: number): void {
    const found = list.value.briefs.find((each) => each.kept.id === number);
    if (found && id.value !== number) take(found.kept);
  }

  /** A new brief, under a name that is free. */
  async function make(): Promise<void> {
    const names = new Set(list.value.briefs.map((each) => each.kept.brief.name));
    let name = "New brief";
    for (let at = 2; names.has(name); at++) name = `New brief ${at}`;
    await added(emptyBrief(name));
  }

  async function added(next: Brief): Promise<KeptBrief | null> {
    return attempt(async () => {
      const kept = await server.keepBrief(ledger.value, next, NO_HANDING, null, null);
      await refresh(ledger.value);
      take(kept);
      return kept;
    });
  }

  async function attempt<Result>(work: () => Promise<Result>): Promise<Result | null> {
    refused.value = "";
    try {
      return await work();
    } catch (error) {
      if (error instanceof DOMException && error.name === "AbortError") return null;
      refused.value = error instanceof Error ? error.message : String(error);
      return null;
    }
  }

  /** Change the brief, one step that can be undone; it is kept at once. */
  async function change(next: Brief): Promise<void> {
    steps.value = [...steps.value.slice(0, back.value + 1), next].slice(-MOST_STEPS);
    back.value = steps.value.length - 1;
    brief.value = next;
    await save();
  }

  async function step(by: number): Promise<void> {
    const next = steps.value[back.value + by];
    if (!next) return;
    back.value += by;
    brief.value = next;
    await save();
  }

  async function changeHanding(next: Handing): Promise<boolean> {
    const before = handing.value;
    handing.value = next;
    const done = await save();
    if (!done) handing.value = before;
    return done;
  }

  /** One after the other: what is changed while the last change is on its way goes with the next one. */
  let running: Promise<boolean> = Promise.resolve(true);
  function save(): Promise<boolean> {
    running = running.then(async () => {
      if (!brief.value || id.value === null) return false;
      saving.value = true;
      const number = id.value;
      const kept = await attempt(() =>
        server.keepBrief(ledger.value, brief.value as Brief, handing.value, number, seen.value),
      );
      saving.value = false;
      if (kept && id.value === number) seen.value = kept.saved_at;
      return kept !== null;
    });
    return running;
  }

  async function forget(number: number): Promise<void> {
    await attempt(() => server.forgetBrief(number));
    if (id.value === number) [id.value, brief.value] = [null, null];
    await refresh(ledger.value);
  }

  async function takeBack(number: number): Promise<void> {
    await attempt(() => server.takeBackBrief(number));
    await refresh(ledger.value);
    open(number);
  }

  const draft = shallowRef<Draft | null>(null);
  const pages = shallowRef<string[]>([]);
  const composing = ref(false);
  let leaving = new AbortController();

  function question(copy: CopyMember | null) {
    const of = copy ? { copy: true, member: copy.key, label: copy.label } : {};
    return {
      ledger: ledger.value,
      brief: brief.value as Brief,
      id: id.value,
      day: null,
      copy: false,
      member: null,
      label: "",
      ...of,
    };
  }

  /** Compose the brief as it is by now; one that is superseded is dropped. */
  async function compose(version: number, copy: CopyMember | null, printed: boolean): Promise<void> {
    leaving.abort();
    if (!brief.value) return;
    leaving = new AbortController();
    const { signal } = leaving;
    composing.value = true;
    const asking = question(copy);
    const found = await attempt(() => server.draft(asking, version, signal));
    if (found && !signal.aborted) draft.value = found;
    if (found && printed && !signal.aborted) {
      const shown = await attempt(() => server.draftPages(asking, signal));
      if (shown && !signal.aborted) pages.value = shown;
    }
    if (!signal.aborted) composing.value = false;
  }

  async function members(): Promise<CopyMember[]> {
    return (await attempt(() => server.copyMembers(question(null)))) ?? [];
  }

  const publishing = shallowRef<Job | null>(null);
  /** Publish the next issue; its number in the records, null where it was refused. */
  async function publish(day: string | null, handOut: boolean): Promise<number | null> {
    const number = id.value;
    if (number === null) return null;
    await running;
    const ended = await attempt(async () =>
      server.followed(await server.publish(number, day, handOut), (job) => (publishing.value = job)),
    );
    publishing.value = null;
    if (ended?.failure) refused.value = ended.failure.message;
    await refresh(ledger.value);
    return ended?.issue?.id ?? null;
  }

  async function stopPublishing(): Promise<void> {
    if (publishing.value) await server.stop(publishing.value.id);
  }

  /** The proof of a figure of a block, on the version that it was answered on. */
  async function proofOf(
    name: string,
    blocks: ProvedBlock[],
    figure: BriefFigure,
    version: number,
  ): Promise<Proof | null> {
    const block = blocks[figure.block];
    if (!block) return null;
    const { path, column } = figure;
    const asked = { ledger: name, statement: block.statement, path, column, rest: false, version };
    return attempt(() => prove(asked, new AbortController().signal));
  }

  return {
    ledger,
    list,
    listed,
    id,
    brief,
    handing,
    refused,
    saving,
    canUndo: computed(() => back.value > 0),
    canRedo: computed(() => back.value < steps.value.length - 1),
    draft,
    pages,
    composing,
    publishing,
    refresh,
    watchList,
    open,
    take,
    make,
    added,
    change,
    step,
    changeHanding,
    forget,
    takeBack,
    compose,
    members,
    publish,
    stopPublishing,
    proofOf,
    attempt,
  };
});

export const {
  openIssue,
  restated,
  pageOf,
  fileOf,
  handOut,
  watchMails,
  testMail,
  sendAgain,
  nextMoment,
  briefOf,
} = server;
