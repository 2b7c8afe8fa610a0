import type {
  BatchRecord,
  CalendarPreview,
  ExportedMapping,
  KeptMapping,
  LedgerDescription,
  LedgerHoldings,
  LedgerListed,
  LedgerSettings,
  LineChange,
  Mapping,
  MembersFound,
  PostedMonth,
  Posting,
  VersionRecord,
  SavedStatement,
  Statements,
} from "@/contract";
import { get, send } from "./http";

export function listLedgers(): Promise<LedgerListed[]> {
  return get("/api/ledgers");
}

export function describeLedger(name: string): Promise<LedgerDescription> {
  return get("/api/ledger", { name });
}

export function makeLedger(
  name: string,
  currency: string,
  timeZone: string,
  lineGrain: LedgerSettings["line_grain"],
): Promise<LedgerDescription> {
  return send("POST", "/api/ledgers", { name, currency, time_zone: timeZone, line_grain: lineGrain });
}

export function archiveLedger(ledger: string, archived: boolean): Promise<void> {
  return send("POST", "/api/ledger/archive", { ledger, archived });
}

export function holdingsOf(name: string): Promise<LedgerHoldings> {
  return get("/api/ledger/holdings", { name });
}

export function deleteLedger(ledger: string, typed: string): Promise<LedgerHoldings> {
  return send("POST", "/api/ledger/deletion", { ledger, typed });
}

export function takeBackStatement(ledger: string, name: string): Promise<void> {
  return send("POST", "/api/ledger/statements/taken-back", { ledger, name });
}

export function takeBackMapping(ledger: string, shape: string): Promise<void> {
  return send("POST", "/api/ledger/mappings/taken-back", { ledger, shape });
}

export function settingsOf(name: string): Promise<LedgerSettings> {
  return get("/api/ledger/settings", { name });
}

export function changeSettings(ledger: string, settings: LedgerSettings): Promise<LedgerSettings> {
  return send("PUT", "/api/ledger/settings", { ledger, settings });
}

/** How a year falls out under settings that are not yet kept. */
export function previewCalendar(
  ledger: string,
  settings: LedgerSettings,
  yearsAhead: number,
): Promise<CalendarPreview> {
  return send("POST", "/api/ledger/calendar", { ledger, settings, years_ahead: yearsAhead });
}

export function listBatches(name: string): Promise<BatchRecord[]> {
  return get("/api/ledger/batches", { name });
}

export function listMonths(name: string): Promise<PostedMonth[]> {
  return get("/api/ledger/months", { name });
}

export function listVersions(name: string): Promise<VersionRecord[]> {
  return get("/api/ledger/versions", { name });
}

export function listMappings(name: string): Promise<KeptMapping[]> {
  return get("/api/ledger/mappings", { name });
}

export function exportMapping(name: string, shape: string): Promise<ExportedMapping> {
  return get("/api/ledger/mapping", { name, shape });
}

export function importMapping(ledger: string, exported: unknown): Promise<Mapping> {
  return send("POST", "/api/ledger/mappings", { ledger, exported });
}

export function forgetMapping(name: string, shape: string): Promise<void> {
  return send("DELETE", `/api/ledger/mappings?${new URLSearchParams({ name, shape })}`);
}

export function withdraw(ledger: string, batch: number, leaveHole: boolean): Promise<{ version: number }> {
  return send("POST", "/api/ledger/withdrawals", { ledger, batch, leave_hole: leaveHole });
}

export function restore(ledger: string, batch: number): Promise<{ version: number }> {
  return send("POST", "/api/ledger/restorations", { ledger, batch });
}

export function correctLine(
  ledger: string,
  line: number,
  change: LineChange | null,
  reason: string,
): Promise<Posting> {
  return send("POST", "/api/ledger/corrections", { ledger, line, change, reason });
}

export function findMembers(name: string, dimension: string, search: string): Promise<MembersFound> {
  return get("/api/ledger/members", { name, dimension, search, limit: "200" });
}

export function statements(name: string): Promise<Statements> {
  return get("/api/ledger/statements", { name });
}

export function saveStatement(
  ledger: string,
  saved: Pick<SavedStatement, "name" | "folder" | "description" | "statement" | "opened" | "layout"> & {
    id?: number;
  },
): Promise<SavedStatement> {
  return send("PUT", "/api/ledger/statements", { ledger, ...saved });
}

export function forgetStatement(name: string, statement: string): Promise<void> {
  return send("DELETE", `/api/ledger/statements?${new URLSearchParams({ name, statement })}`);
}
