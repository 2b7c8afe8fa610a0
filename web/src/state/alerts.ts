/** The alerts of a ledger. */
import { defineStore } from "pinia";
import { ref, shallowRef } from "vue";
import type { Alert, KeptAlerts } from "@/contract";
import * as server from "@/server/briefs";

export const useAlerts = defineStore("alerts", () => {
  const found = shallowRef<KeptAlerts>({ rows: [], unreadable: [] });
  const refused = ref("");

  async function refresh(ledger: string): Promise<void> {
    found.value = await server.listAlerts(ledger);
  }

  /** Keep an alert; whether it is kept. */
  async function keep(ledger: string, alert: Alert, id: number | null): Promise<boolean> {
    refused.value = "";
    try {
      await server.keepAlert(ledger, alert, id);
      await refresh(ledger);
      return true;
    } catch (error) {
      refused.value = error instanceof Error ? error.message : String(error);
      return false;
    }
  }

  async function forget(ledger: string, id: number): Promise<void> {
    await server.forgetAlert(ledger, id);
    await refresh(ledger);
  }

  return { found, refused, refresh, keep, forget };
});
