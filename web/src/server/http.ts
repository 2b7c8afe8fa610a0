/** The only place that speaks HTTP. Errors become `Refusal`s that hold the server's own sentence. */
import type { Failure } from "@/contract";

export class Refusal extends Error {
  readonly failure: Failure;

  constructor(failure: Failure) {
    super(failure.message);
    this.failure = failure;
  }
}

/** Under whose name changes are sent; the application's own setting counts where it is empty. */
let person = "";

export function sendAs(name: string): void {
  person = name.trim();
}

export async function get<Result>(path: string, query: Record<string, string> = {}): Promise<Result> {
  return receive(await reach(`${path}?${new URLSearchParams(query)}`, {}));
}

export async function send<Result>(
  method: "POST" | "PUT" | "DELETE",
  path: string,
  body?: unknown,
  signal?: AbortSignal,
): Promise<Result> {
  const form = body instanceof FormData;
  const headers: Record<string, string> =
    form || body === undefined ? {} : { "Content-Type": "application/json" };
  if (person) headers["Lofty-Person"] = encodeURIComponent(person);
  const text = form || body === undefined ? (body as FormData | undefined) : JSON.stringify(body);
  return receive(await reach(path, { method, headers, body: text ?? null, signal: signal ?? null }));
}

async function reach(path: string, init: RequestInit): Promise<Response> {
  try {
    return await fetch(path, init);
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new Refusal({
      kind: "away",
      message: "The application does not answer. Start it again; nothing that was posted is lost.",
      part: null,
      way_out: null,
    });
  }
}

async function receive<Result>(response: Response): Promise<Result> {
  if (response.status === 204) return undefined as Result;
  const text = await response.text();
  if (response.ok)
    return (response.headers.get("content-type")?.includes("json") ? JSON.parse(text) : text) as Result;
  throw new Refusal(failureIn(text, response.status));
}

function failureIn(text: string, status: number): Failure {
  try {
    return JSON.parse(text) as Failure;
  } catch {
    return {
      kind: "ours",
      message: `The application answered with status ${status}.`,
      part: null,
      way_out: null,
    };
  }
}
