import type { Job, Mapping, Staging, StagingCheck } from "@/contract";
import { get, send } from "./http";

export function stage(ledger: string, files: File[]): Promise<Staging> {
  const form = new FormData();
  form.append("ledger", ledger);
  for (const file of files) form.append("files", file);
  return send("POST", "/api/stagings", form);
}

export function mapFile(staging: string, file: number, mapping: Mapping): Promise<Staging> {
  return send("PUT", `/api/stagings/${staging}/mapping`, { file, mapping });
}

export function chooseSheet(staging: string, file: number, sheet: string): Promise<Staging> {
  return send("PUT", `/api/stagings/${staging}/sheet`, { file, sheet });
}

export function check(staging: string): Promise<StagingCheck> {
  return get(`/api/stagings/${staging}/check`);
}

export function post(staging: string, replaces: number[]): Promise<Job> {
  return send("POST", `/api/stagings/${staging}/posting`, { replaces });
}

export function discard(staging: string): Promise<void> {
  return send("DELETE", `/api/stagings/${staging}`);
}

export function job(id: string): Promise<Job> {
  return get(`/api/jobs/${id}`);
}
