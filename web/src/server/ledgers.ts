/** Ledgers, what is posted to them, and the statements and mappings that they keep. */
import type {
  BatchRecord,
  CalendarPreview,
  ExportedMapping,
  HolidaysRead,
  KeptMappings,
  LedgerDescription,
  LedgerHoldings,
  LedgerListed,
  LedgerSettings,
  LineChange,
  Mapping,
  MembersFound,
  PostedMonth,
  Posting,
  SavedStatement,
  Statements,
  VersionRecord,
} from "@/contract";
import type { components } from "@/contract/api";
import { client, given } from "./http";
import { queries, watched } from "./queries";

const LIST = ["ledgers"];
/** Milliseconds for which what was asked for before its page is as good as new. */
export const JUST_NOW = 2_000;
/** Members that are offered at once. */
const MOST_MEMBERS = 200;

function named(name: string): { params: { query: { name: string } } } {
  return { params: { query: { name } } };
}

/** All ledgers, as they are now, or as they were so many milliseconds ago. */
export function listLedgers(before = 0): Promise<LedgerListed[]> {
  return queries.fetchQuery({
    queryKey: LIST,
    queryFn: () => given(client.GET("/api/ledgers")),
    staleTime: before,
  });
}

/** Look at the list of ledgers now and then, while the page is seen. Returns how to stop. */
export function watchLedgers(every: number, told: (list: LedgerListed[]) => void): () => void {
  return watched<LedgerListed[]>(
    LIST,
    () => given(client.GET("/api/ledgers")),
    () => every,
    ({ data }) => data && told(data),
  );
}

/** A ledger as it is now, or as it was so many milliseconds ago. */
export function describeLedger(name: string, before = 0): Promise<LedgerDescription> {
  const ask = (): Promise<LedgerDescription> => given(client.GET("/api/ledger", named(name)));
  // Of now is what is asked now, not what is under way.
  return before ? queries.fetchQuery({ queryKey: [...LIST, name], queryFn: ask, staleTime: before }) : ask();
}

export function makeLedger(
  name: string,
  currency: string,
  timeZone: string,
  lineGrain: LedgerSettings["line_grain"],
): Promise<LedgerDescription> {
  // Its calendar is the usual one until it is set.
  const body = {
    name,
    currency,
    time_zone: timeZone,
    line_grain: lineGrain,
  } as components["schemas"]["NewLedgerShape"];
  return given(client.POST("/api/ledgers", { body }));
}

export async function archiveLedger(ledger: string, archived: boolean): Promise<void> {
  await given(client.POST("/api/ledger/archive", { body: { ledger, archived } }));
}

export function holdingsOf(name: string): Promise<LedgerHoldings> {
  return given(client.GET("/api/ledger/holdings", named(name)));
}

export function deleteLedger(ledger: string, typed: string): Promise<LedgerHoldings> {
  return given(client.POST("/api/ledger/deletion", { body: { ledger, typed } }));
}

export async function takeBackStatement(ledger: string, name: string): Promise<void> {
  await given(client.POST("/api/ledger/statements/taken-back", { body: { ledger, name } }));
}

export async function takeBackMapping(ledger: string, shape: string): Promise<void> {
  await given(client.POST("/api/ledger/mappings/taken-back", { body: { ledger, shape } }));
}

export function settingsOf(name: string): Promise<LedgerSettings> {
  return given(client.GET("/api/ledger/settings", named(name)));
}

export function changeSettings(ledger: string, settings: LedgerSettings): Promise<LedgerSettings> {
  return given(client.PUT("/api/ledger/settings", { body: { ledger, settings } }));
}

/** How a year falls out under settings that are not yet kept. */
export function previewCalendar(
  ledger: string,
  settings: LedgerSettings,
  yearsAhead: number,
): Promise<CalendarPreview> {
  return given(client.POST("/api/ledger/calendar", { body: { ledger, settings, years_ahead: yearsAhead } }));
}

/** The holidays of a calendar file. */
export function readHolidays(ledger: string, file: string, text: string): Promise<HolidaysRead> {
  return given(client.POST("/api/ledger/holidays", { body: { ledger, file, text } }));
}

export function listBatches(name: string): Promise<BatchRecord[]> {
  return given(client.GET("/api/ledger/batches", named(name)));
}

export function listMonths(name: string): Promise<PostedMonth[]> {
  return given(client.GET("/api/ledger/months", named(name)));
}

export function listVersions(name: string): Promise<VersionRecord[]> {
  return given(client.GET("/api/ledger/versions", named(name)));
}

export function listMappings(name: string): Promise<KeptMappings> {
  return given(client.GET("/api/ledger/mappings", named(name)));
}

export function exportMapping(name: string, shape: string): Promise<ExportedMapping> {
  return given(client.GET("/api/ledger/mapping", { params: { query: { name, shape } } }));
}

export function importMapping(ledger: string, exported: unknown): Promise<Mapping> {
  return given(
    client.POST("/api/ledger/mappings", { body: { ledger, exported: exported as ExportedMapping } }),
  );
}

export async function forgetMapping(name: string, shape: string): Promise<void> {
  await given(client.DELETE("/api/ledger/mappings", { params: { query: { name, shape } } }));
}

export async function withdraw(ledger: string, batch: number, leaveHole: boolean): Promise<void> {
  await given(client.POST("/api/ledger/withdrawals", { body: { ledger, batch, leave_hole: leaveHole } }));
}

export async function restore(ledger: string, batch: number): Promise<void> {
  await given(client.POST("/api/ledger/restorations", { body: { ledger, batch } }));
}

export function correctLine(
  ledger: string,
  line: number,
  change: LineChange | null,
  reason: string,
): Promise<Posting> {
  return given(client.POST("/api/ledger/corrections", { body: { ledger, line, change, reason } }));
}

export function findMembers(name: string, dimension: string, search: string): Promise<MembersFound> {
  const query = { name, dimension, search, limit: MOST_MEMBERS };
  return given(client.GET("/api/ledger/members", { params: { query } }));
}

export function statements(name: string): Promise<Statements> {
  return given(client.GET("/api/ledger/statements", named(name))) as Promise<Statements>;
}

export function saveStatement(
  ledger: string,
  saved: Pick<SavedStatement, "name" | "folder" | "description" | "statement" | "opened" | "layout"> & {
    id?: number;
  },
): Promise<SavedStatement> {
  const body = { ledger, ...saved } as components["schemas"]["StatementKept"];
  return given(client.PUT("/api/ledger/statements", { body })) as Promise<SavedStatement>;
}

export async function forgetStatement(name: string, statement: string): Promise<void> {
  await given(client.DELETE("/api/ledger/statements", { params: { query: { name, statement } } }));
}
