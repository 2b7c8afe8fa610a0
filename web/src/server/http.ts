/** The only place that speaks HTTP: a client typed by the API's schema. Errors become `Refusal`s that hold the server's own sentence. */
import createClient from "openapi-fetch";
import type { Failure } from "@/contract";
import type { paths } from "@/contract/api";

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

const PERSON = "Lofty-Person";

export const client = createClient<paths>({
  baseUrl: globalThis.location?.origin ?? "http://localhost",
  fetch: reach,
});
interface Received {
  data?: unknown;
  error?: unknown;
  response: Response;
}

/** What a request gives. Raises Refusal. */
export async function given<Result>(asked: Promise<Received & { data?: Result }>): Promise<Result> {
  const { data, error, response } = await asked;
  if (response.ok) return data as Result;
  throw new Refusal(failureIn(error, response.status));
}

/** A file that a request gives, as the server names it. Raises Refusal. */
export async function file(asked: Promise<Received>): Promise<SentFile> {
  const { data, error, response } = await asked;
  if (!response.ok) throw new Refusal(failureIn(error, response.status));
  const said = response.headers.get("content-disposition") ?? "";
  const name = /filename\*=UTF-8''([^;]+)/i.exec(said)?.[1] ?? /filename="?([^";]+)/.exec(said)?.[1] ?? "";
  return { name: decodeURIComponent(name), content: data as Blob };
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
  await new Promise<void>((resolve, reject) => {
    request.upload.onprogress = (event) => told(event.loaded, event.total);
    request.onload = () => resolve();
    request.onerror = () => reject(new Refusal(AWAY));
    request.onabort = () => reject(new Refusal(STOPPED));
    signal.addEventListener("abort", () => request.abort());
    request.open("POST", path);
    if (person) request.setRequestHeader(PERSON, encodeURIComponent(person));
    request.send(body);
  });
  const answer = parsed(request.responseText);
  if (request.status < 300) return answer as Result;
  throw new Refusal(failureIn(answer, request.status));
}

const NO_PART = { part: null, way_out: null };
const STOPPED: Failure = {
  kind: "stopped",
  message: "Stopped while the files were sent. Nothing has come of it.",
  ...NO_PART,
};
const AWAY: Failure = {
  kind: "away",
  message: "The application does not answer. Start it again; nothing that was posted is lost.",
  ...NO_PART,
};

async function reach(request: Request): Promise<Response> {
  // Set here, not by what is asked before each request: a question leaves before anything is drawn.
  if (person && request.method !== "GET") request.headers.set(PERSON, encodeURIComponent(person));
  try {
    return await fetch(request);
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new Refusal(AWAY);
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return text;
  }
}

function failureIn(body: unknown, status: number): Failure {
  if (body && typeof body === "object" && "message" in body) return body as Failure;
  return { kind: "ours", message: `The application answered with status ${status}.`, ...NO_PART };
}
