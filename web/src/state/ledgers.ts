/** Which ledgers there are, and the one that is open. */
import { defineStore } from "pinia";
import { ref } from "vue";
import type { LedgerDescription, LedgerListed, LedgerSettings, MembersFound } from "@/contract";
import * as server from "@/server/ledgers";

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

  function members(dimension: string, search: string): Promise<MembersFound> {
    return server.findMembers(open.value?.name ?? "", dimension, search);
  }

  return { list, open, refresh, choose, make, settings, changeSettings, members };
});
