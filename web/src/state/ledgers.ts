/** Which ledgers there are, and the one that is open. */
import { defineStore } from "pinia";
import { computed, ref } from "vue";
import type {
  CalendarPreview,
  LedgerDescription,
  LedgerHoldings,
  LedgerListed,
  LedgerSettings,
  MembersFound,
} from "@/contract";
import { activeLedgers, ledgerNamed, ledgerToOpen } from "@/model/opening";
import { byNearness } from "@/model/nearest";
import { Refusal } from "@/server/http";
import * as server from "@/server/ledgers";
import { forgetAnswers } from "@/server/queries";

/** Milliseconds between looks for what others have posted. */
const WATCH_EVERY = 2_000;
/** Ledgers that are offered in place of one that is not there. */
const MOST_NEAR = 5;

export const useLedgers = defineStore("ledgers", () => {
  const list = ref<LedgerListed[]>([]);
  const open = ref<LedgerDescription | null>(null);

  async function refresh(): Promise<void> {
    list.value = await server.listLedgers();
  }

  /** What an address asked for, where there is no such ledger; and what there is, the nearest first. */
  const missing = ref("");
  const near = computed(() =>
    byNearness(missing.value, active.value, (each) => each.name).slice(0, MOST_NEAR),
  );
  /** The ledgers that are not set aside. */
  const active = computed(() => activeLedgers(list.value));

  /** A ledger by its name or, as addresses have it, its number. */
  function named(text: string | null): LedgerListed | undefined {
    return ledgerNamed(list.value, text);
  }

  /** How an address calls a ledger: by its number, which stays when the name changes. */
  function addressOf(name: string): string {
    return String(named(name)?.id ?? name);
  }

  /** Open a ledger by name or number; the first one where none is named. Of one that is not there it is said so. */
  async function choose(text: string | null): Promise<void> {
    // What the application begins with is asked before any page is there.
    const before = list.value.length ? 0 : server.JUST_NOW;
    if (!list.value.length) list.value = await server.listLedgers(before);
    else if (text && !named(text)) await refresh();
    const known = ledgerToOpen(list.value, text);
    missing.value = text && !known ? text : "";
    open.value = known ? await server.describeLedger(known.name, before) : null;
  }

  async function archive(name: string, archived: boolean): Promise<void> {
    await server.archiveLedger(name, archived);
    await refresh();
  }

  function holdings(name: string): Promise<LedgerHoldings> {
    return server.holdingsOf(name);
  }

  /** Throw a ledger away for good, and open another one. */
  async function remove(name: string, typed: string): Promise<void> {
    await server.deleteLedger(name, typed);
    await refresh();
    await choose(null);
  }

  /** A new ledger; it is opened by its address, not here: the page that is left must not be taken along. */
  async function make(
    name: string,
    currency: string,
    timeZone: string,
    lineGrain: LedgerSettings["line_grain"],
  ): Promise<LedgerDescription> {
    const made = await server.makeLedger(name, currency, timeZone, lineGrain);
    await refresh();
    return made;
  }

  function settings(): Promise<LedgerSettings> {
    return server.settingsOf(open.value?.name ?? "");
  }

  async function changeSettings(next: LedgerSettings): Promise<void> {
    const changed = await server.changeSettings(open.value?.name ?? "", next);
    forgetAnswers();
    await refresh();
    await choose(changed.name);
  }

  /** The holidays of a calendar file, with what is said of them; none of one that cannot be read. */
  async function readHolidays(file: string, text: string): Promise<{ days: string[]; words: string }> {
    try {
      const { days, words } = await server.readHolidays(open.value?.name ?? "", file, text);
      return { days: days.map((each) => each.day), words };
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      return { days: [], words: error.failure.message };
    }
  }

  function previewCalendar(next: LedgerSettings, yearsAhead: number): Promise<CalendarPreview> {
    return server.previewCalendar(open.value?.name ?? "", next, yearsAhead);
  }

  function members(dimension: string, search: string): Promise<MembersFound> {
    return server.findMembers(open.value?.name ?? "", dimension, search);
  }

  /** What the open ledger says of its measures and dimensions, by name. */
  const said = computed<Record<string, string>>(() =>
    Object.fromEntries(
      [...(open.value?.measures ?? []), ...(open.value?.dimensions ?? [])].map((each) => [
        each.name,
        each.description,
      ]),
    ),
  );

  /** The version that is posted by now, where it is a later one than the one that is open. */
  const newer = computed(() => {
    const known = list.value.find((each) => each.name === open.value?.name);
    return known && open.value && known.version > open.value.version ? known.version : null;
  });

  /** Look for postings by others now and then, while the page is seen; the server being away is told elsewhere. */
  function watchPostings(): () => void {
    return server.watchLedgers(WATCH_EVERY, (found) => (list.value = found));
  }

  return {
    list,
    active,
    open,
    missing,
    near,
    named,
    addressOf,
    archive,
    holdings,
    remove,
    newer,
    said,
    watchPostings,
    refresh,
    choose,
    make,
    settings,
    changeSettings,
    previewCalendar,
    readHolidays,
    members,
  };
});
