/** Files on their way into a ledger. */
import type {
  Correction,
  DatabasePreview,
  Expected,
  Finding,
  Job,
  Mapping,
  Replacement,
  PostingPreview,
  Reading,
  RowsPage,
  Staging,
} from "@/contract";
import { client, given, upload } from "./http";
import { watched } from "./queries";

/** Milliseconds between looks at a job. */
const ASK_AGAIN = 200;

function of(staging: string): { params: { path: { staging: string } } } {
  return { params: { path: { staging } } };
}

/** What may be sent at once. */
export function limits(): Promise<{ bytes: number; files: number }> {
  return given(client.GET("/api/limits")) as Promise<{ bytes: number; files: number }>;
}

/** Drop files: told how much of them is sent, and stopped by the signal. */
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
  return given(client.GET("/api/stagings", { params: { query: { ledger } } }));
}

export function mapFile(staging: string, file: number, mapping: Mapping): Promise<Staging> {
  return given(client.PUT("/api/stagings/{staging}/mapping", { ...of(staging), body: { file, mapping } }));
}

export function readAgain(staging: string, file: number, reading: Reading): Promise<Staging> {
  return given(client.PUT("/api/stagings/{staging}/reading", { ...of(staging), body: { file, reading } }));
}

export function correct(staging: string, file: number, correction: Correction): Promise<Staging> {
  return given(
    client.PUT("/api/stagings/{staging}/correction", { ...of(staging), body: { file, correction } }),
  );
}

export function expect(staging: string, file: number, expected: Expected): Promise<Staging> {
  return given(client.PUT("/api/stagings/{staging}/expected", { ...of(staging), body: { file, expected } }));
}

export function leaveOut(staging: string, file: number): Promise<Staging> {
  return given(
    client.DELETE("/api/stagings/{staging}/files/{file}", { params: { path: { staging, file } } }),
  );
}

export function check(staging: string, replacement: Replacement): Promise<Job> {
  return given(client.POST("/api/stagings/{staging}/checking", { ...of(staging), body: replacement }));
}

export function rows(
  staging: string,
  file: number,
  finding: Finding,
  member: string | null,
  offset: number,
): Promise<RowsPage> {
  const body = { file, code: finding.code, about: finding.about, member, offset, limit: 20, rest: false };
  return given(client.POST("/api/stagings/{staging}/rows", { ...of(staging), body }));
}

export function unreadable(staging: string, file: number): Promise<string> {
  const asked = client.GET("/api/stagings/{staging}/files/{file}/unreadable.csv", {
    params: { path: { staging, file } },
    parseAs: "text",
  });
  return given(asked) as Promise<string>;
}

export function preview(staging: string, replacement: Replacement): Promise<PostingPreview> {
  return given(client.POST("/api/stagings/{staging}/preview", { ...of(staging), body: replacement }));
}

export function post(staging: string, replacement: Replacement): Promise<Job> {
  return given(client.POST("/api/stagings/{staging}/posting", { ...of(staging), body: replacement }));
}

export async function discard(staging: string): Promise<void> {
  await given(client.DELETE("/api/stagings/{staging}", of(staging)));
}

export function previewDatabase(url: string, query: string): Promise<DatabasePreview> {
  return given(client.POST("/api/database/preview", { body: { url, query } }));
}

export function stageDatabase(ledger: string, url: string, query: string): Promise<Job> {
  return given(client.POST("/api/database/stagings", { body: { ledger, url, query } }));
}

/** Follow a job until it runs no more, told of each look at it. */
export function followed(started: Job, told: (job: Job) => void): Promise<Job> {
  if (started.state !== "running") return Promise.resolve(started);
  told(started);
  return new Promise((resolve, reject) => {
    const stop = watched(
      ["job", started.id],
      () => given(client.GET("/api/jobs/{job}", { params: { path: { job: started.id } } })),
      (last) => (last && last.state !== "running" ? false : ASK_AGAIN),
      ({ data, error }) => {
        if (data?.state === "running" && !error) told(data);
        else {
          // The library tells the first answer while it is still being subscribed to.
          queueMicrotask(() => stop());
          if (error) reject(error);
          else if (data) resolve(data);
        }
      },
      true,
    );
  });
}

export function stop(job: string): Promise<Job> {
  return given(client.DELETE("/api/jobs/{job}", { params: { path: { job } } }));
}
