import type {
  Answer,
  Layout,
  LineSort,
  LinesPage,
  MemberKey,
  Opened,
  OperandDays,
  Proof,
  Row,
  Statement,
  StatementPreview,
  TableCheck,
} from "@/contract";
import { send, sendForFile, type SentFile } from "./http";

export interface Asked {
  ledger: string;
  statement: Statement;
  opened: Opened;
  /** An earlier version; the current one where it is left out. */
  version?: number;
  /** How many rows come with their cells where the table is large. */
  fill?: number;
}

export interface AskedNumber {
  ledger: string;
  statement: Statement;
  path: MemberKey[];
  column: string;
  rest: boolean;
}

export function answer(asked: Asked, signal: AbortSignal): Promise<Answer> {
  return send("POST", "/api/answers", asked, signal);
}

/** Some rows of an answer with their cells. */
export function rows(
  asked: Asked & { version: number; places: number[] },
  signal: AbortSignal,
): Promise<Row[]> {
  return send("POST", "/api/answers/rows", asked, signal);
}

/** The kinds of file that an answer is written as. */
export type FileKind = "csv" | "xlsx" | "json";

/** The answer as a file, laid out as it is seen; formatted: figures of CSV as they are shown. */
export function answerFile(
  asked: Asked,
  kind: FileKind,
  layout: Layout,
  how: { formatted: boolean; title: string; words: Record<string, string> },
): Promise<SentFile> {
  return sendForFile(`/api/answers.${kind}`, { ...asked, layout, ...how });
}

/** What windows some statements would come to. */
export function previews(ledger: string, statements: Statement[]): Promise<StatementPreview[]> {
  return send("POST", "/api/previews", { ledger, statements });
}

export function check(asked: Asked, signal: AbortSignal): Promise<TableCheck> {
  return send("POST", "/api/checks", asked, signal);
}

export function prove(asked: AskedNumber, signal: AbortSignal): Promise<Proof> {
  return send("POST", "/api/proofs", asked, signal);
}

export function lines(asked: AskedNumber, wanted: LinesWanted, signal: AbortSignal): Promise<LinesPage> {
  return send("POST", "/api/proofs/lines", { ...asked, ...wanted, limit: 50 }, signal);
}

/** Which lines of a number: of which operand, from where on, those that hold a text, in what order. */
export interface LinesWanted {
  operand: number;
  offset: number;
  search: string;
  sort: LineSort;
  descending: boolean;
}

/** All lines of an operand as CSV. */
export async function linesFile(asked: AskedNumber, operand: number): Promise<Blob> {
  return (await sendForFile("/api/proofs/lines.csv", { ...asked, operand })).content;
}

/** Per operand its window day by day. */
export function days(asked: AskedNumber): Promise<OperandDays[]> {
  return send("POST", "/api/proofs/days", asked);
}
