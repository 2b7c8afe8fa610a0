/** Which ledgers there are, and the one that is open. */
import { defineStore } from "pinia";
import { computed, ref } from "vue";
import type {
  CalendarPreview,
  LedgerDescription,
  LedgerListed,
  LedgerSettings,
  MembersFound,
} from "@/contract";
import * as server from "@/server/ledgers";

/** Milliseconds between looks for what others have posted. */
const WATCH_EVERY = 4_000;

export const useLedgers = defineStore("ledgers", () => {
  const list = ref<LedgerListed[]>([]);
  const open = ref<LedgerDescription | null>(null);

  async function refresh(): Promise<void> {
    list.value = await server.listLedgers();
  }

  /** Open a ledger by name; the first one where none is named or the named one is gone. */
  async function choose(name: string | null): Promise<void> {
    if (!list.value.length) await refresh();
    const known = list.value.find((each) => each.name === name) ?? list.value[0];
    open.value = known ? await server.describeLedger(known.name) : null;
  }

  async function make(
    name: string,
    currency: string,
    timeZone: string,
    lineGrain: LedgerSettings["line_grain"],
  ): Promise<void> {
    open.value = await server.makeLedger(name, currency, timeZone, lineGrain);
    await refresh();
  }

  function settings(): Promise<LedgerSettings> {
    return server.settingsOf(open.value?.name ?? "");
  }

  async function changeSettings(next: LedgerSettings): Promise<void> {
    const changed = await server.changeSettings(open.value?.name ?? "", next);
    await refresh();
    await choose(changed.name);
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
    const timer = setInterval(() => {
      if (document.visibilityState === "visible") void refresh().catch(() => undefined);
    }, WATCH_EVERY);
    return () => clearInterval(timer);
  }

  return {
    list,
    open,
    newer,
    said,
    watchPostings,
    refresh,
    choose,
    make,
    settings,
    changeSettings,
    previewCalendar,
    members,
  };
});
