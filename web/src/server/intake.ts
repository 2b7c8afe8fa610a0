import type {
  Correction,
  DatabasePreview,
  Expected,
  Finding,
  Job,
  Mapping,
  Placing,
  PostingPreview,
  Reading,
  RowsPage,
  Staging,
} from "@/contract";
import { get, send, upload } from "./http";

/** Drop files: told how much of them is sent, and stopped by the signal. */
/** What may be sent at once. */
export function limits(): Promise<{ bytes: number; files: number }> {
  return get("/api/limits");
}

export function stage(
  ledger: string,
  files: File[],
  told: (sent: number, total: number) => void,
  signal: AbortSignal,
): Promise<Job> {
  const form = new FormData();
  form.append("ledger", ledger);
  for (const file of files) form.append("files", file);
  return upload("/api/stagings", form, told, signal);
}

export function waiting(ledger: string): Promise<Staging[]> {
  return get("/api/stagings", { ledger });
}

export function mapFile(staging: string, file: number, mapping: Mapping): Promise<Staging> {
  return send("PUT", `/api/stagings/${staging}/mapping`, { file, mapping });
}

export function readAgain(staging: string, file: number, reading: Reading): Promise<Staging> {
  return send("PUT", `/api/stagings/${staging}/reading`, { file, reading });
}

export function correct(staging: string, file: number, correction: Correction): Promise<Staging> {
  return send("PUT", `/api/stagings/${staging}/correction`, { file, correction });
}

export function expect(staging: string, file: number, expected: Expected): Promise<Staging> {
  return send("PUT", `/api/stagings/${staging}/expected`, { file, expected });
}

export function leaveOut(staging: string, file: number): Promise<Staging> {
  return send("DELETE", `/api/stagings/${staging}/files/${file}`);
}

export function check(staging: string, placing: Placing): Promise<Job> {
  return send("POST", `/api/stagings/${staging}/checking`, placing);
}

export function rows(
  staging: string,
  file: number,
  finding: Finding,
  member: string | null,
  offset: number,
): Promise<RowsPage> {
  const asked = { file, code: finding.code, about: finding.about, member, offset, limit: 20 };
  return send("POST", `/api/stagings/${staging}/rows`, asked);
}

export function unreadable(staging: string, file: number): Promise<string> {
  return get(`/api/stagings/${staging}/files/${file}/unreadable.csv`);
}

export function preview(staging: string, placing: Placing): Promise<PostingPreview> {
  return send("POST", `/api/stagings/${staging}/preview`, placing);
}

export function post(staging: string, placing: Placing): Promise<Job> {
  return send("POST", `/api/stagings/${staging}/posting`, placing);
}

export function discard(staging: string): Promise<void> {
  return send("DELETE", `/api/stagings/${staging}`);
}

export function previewDatabase(url: string, query: string): Promise<DatabasePreview> {
  return send("POST", "/api/database/preview", { url, query });
}

export function stageDatabase(ledger: string, url: string, query: string): Promise<Job> {
  return send("POST", "/api/database/stagings", { ledger, url, query });
}

export function job(id: string): Promise<Job> {
  return get(`/api/jobs/${id}`);
}

export function stop(id: string): Promise<Job> {
  return send("DELETE", `/api/jobs/${id}`);
}
