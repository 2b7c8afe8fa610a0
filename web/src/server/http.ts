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
  const headers: Record<string, string> = body === undefined ? {} : { "Content-Type": "application/json" };
  if (person) headers["Lofty-Person"] = encodeURIComponent(person);
  const text = body === undefined ? null : JSON.stringify(body);
  return receive(await reach(path, { method, headers, body: text, signal: signal ?? null }));
}

/** Send a question whose answer is a file. */
export async function sendForFile(path: string, body: unknown): Promise<SentFile> {
  const headers = { "Content-Type": "application/json" };
  const response = await reach(path, { method: "POST", headers, body: JSON.stringify(body) });
  if (!response.ok) return receive(response);
  const said = response.headers.get("content-disposition") ?? "";
  const name = /filename\*=UTF-8''([^;]+)/i.exec(said)?.[1] ?? /filename="?([^";]+)/.exec(said)?.[1] ?? "";
  return { name: decodeURIComponent(name), content: await response.blob() };
}

/** A file as the server names it. */
export interface SentFile {
  name: string;
  content: Blob;
}

/** Send files, telling how many bytes have gone; a browser tells that of this kind of request only. */
export async function upload<Result>(
  path: string,
  body: FormData,
  told: (sent: number, total: number) => void,
  signal: AbortSignal,
): Promise<Result> {
  const request = new XMLHttpRequest();
  const response = await new Promise<Response>((resolve, reject) => {
    request.upload.onprogress = (event) => told(event.loaded, event.total);
    request.onload = () => resolve(answered(request));
    request.onerror = () => reject(away());
    request.onabort = () => reject(new Refusal(STOPPED));
    signal.addEventListener("abort", () => request.abort());
    request.open("POST", path);
    if (person) request.setRequestHeader("Lofty-Person", encodeURIComponent(person));
    request.send(body);
  });
  return receive(response);
}

function answered(request: XMLHttpRequest): Response {
  const type = request.getResponseHeader("content-type") ?? "";
  return new Response(request.responseText, { status: request.status, headers: { "content-type": type } });
}

const STOPPED: Failure = {
  kind: "stopped",
  message: "Stopped while the files were sent. Nothing has come of it.",
  part: null,
  way_out: null,
};

function away(): Refusal {
  return new Refusal({
    kind: "away",
    message: "The application does not answer. Start it again; nothing that was posted is lost.",
    part: null,
    way_out: null,
  });
}

async function reach(path: string, init: RequestInit): Promise<Response> {
  try {
    return await fetch(path, init);
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw away();
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
