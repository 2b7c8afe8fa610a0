/** A server for tests: requests are kept, and answered when the test says so. */
import { vi } from "vitest";
import { queries } from "@/server/queries";

export interface Asked {
  /** The path with its query. */
  url: string;
  method: string;
  body: unknown;
  signal: AbortSignal;
  give: (body: unknown, status?: number) => void;
}

/** Stand in for the server; what was asked is appended as it comes. Nothing that was given before is remembered. */
export function serve(): Asked[] {
  const asked: Asked[] = [];
  queries.clear();
  vi.stubGlobal("fetch", async (request: Request) => {
    const text = await request.clone().text();
    const { pathname, search } = new URL(request.url);
    return new Promise((resolve, reject) => {
      request.signal.addEventListener("abort", () => reject(new DOMException("superseded", "AbortError")));
      const headers = { "content-type": "application/json" };
      asked.push({
        url: pathname + search,
        method: request.method,
        body: text ? JSON.parse(text) : undefined,
        signal: request.signal,
        give: (body, status = 200) => resolve(new Response(JSON.stringify(body), { status, headers })),
      });
    });
  });
  return asked;
}

/** The same, answered at once. */
export function serveAtOnce(
  reply: (path: string, body: unknown, search: string) => [unknown, number?],
): void {
  queries.clear();
  vi.stubGlobal("fetch", async (request: Request) => {
    const text = await request.clone().text();
    const { pathname, search } = new URL(request.url);
    const [body, status = 200] = reply(pathname, text ? JSON.parse(text) : undefined, search);
    return new Response(JSON.stringify(body), { status, headers: { "content-type": "application/json" } });
  });
}
