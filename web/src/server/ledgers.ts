import type { BatchRecord, LedgerDescription, LedgerListed, MembersFound, PostedMonth } from "@/contract";
import { get, send } from "./http";

export function listLedgers(): Promise<LedgerListed[]> {
  return get("/api/ledgers");
}

export function describeLedger(name: string): Promise<LedgerDescription> {
  return get("/api/ledger", { name });
}

export function makeLedger(name: string, currency: string): Promise<LedgerDescription> {
  return send("POST", "/api/ledgers", { name, currency });
}

export function listBatches(name: string): Promise<BatchRecord[]> {
  return get("/api/ledger/batches", { name });
}

export function listMonths(name: string): Promise<PostedMonth[]> {
  return get("/api/ledger/months", { name });
}

export function withdraw(ledger: string, batch: number, leaveHole: boolean): Promise<{ version: number }> {
  return send("POST", "/api/ledger/withdrawals", { ledger, batch, leave_hole: leaveHole });
}

export function restore(ledger: string, batch: number): Promise<{ version: number }> {
  return send("POST", "/api/ledger/restorations", { ledger, batch });
}

export function findMembers(name: string, dimension: string, search: string): Promise<MembersFound> {
  return get("/api/ledger/members", { name, dimension, search, limit: "200" });
}
