/** Questions on figures: answers, tellings, checks, proofs, files. */
import type {
  Answer,
  Card,
  CardAsked,
  Layout,
  LineSort,
  LinesPage,
  MemberKey,
  Movers,
  MoversAsked,
  Opened,
  OperandDays,
  Proof,
  Row,
  Statement,
  StatementPreview,
  StatementTold,
  TableCheck,
} from "@/contract";
import { client, file, given, type SentFile } from "./http";
import { asked } from "./queries";

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

/** An answer as of a version that is known to be posted. anew: not one that was given just before. */
export function answer(body: Asked, version: number, leaving: AbortSignal, anew = false): Promise<Answer> {
  return asked(
    ["answer", version, body],
    (signal) => given(client.POST("/api/answers", { body, signal })),
    leaving,
    anew,
  );
}

/** Who moved in a statement, as of a version that is known to be posted. */
export function movers(
  body: { ledger: string; statement: Statement; asked: MoversAsked },
  version: number,
  leaving: AbortSignal,
): Promise<Movers> {
  return asked(
    ["movers", version, body],
    (signal) => given(client.POST("/api/movers", { body, signal })),
    leaving,
  );
}

/** Whether goals are met, as of a version that is known to be posted. */
export function scorecard(
  body: { ledger: string; statement: Statement; asked: CardAsked },
  version: number,
  leaving: AbortSignal,
): Promise<Card> {
  return asked(
    ["scorecard", version, body],
    (signal) => given(client.POST("/api/scorecards", { body, signal })),
    leaving,
  );
}

/** Some rows of an answer with their cells. */
export function rows(
  body: Asked & { version: number; places: number[] },
  signal: AbortSignal,
): Promise<Row[]> {
  return given(client.POST("/api/answers/rows", { body, signal }));
}

/** The kinds of file that an answer is written as. */
export type FileKind = "csv" | "xlsx" | "json";

/** The answer as a file, laid out as it is seen; formatted: figures of CSV as they are shown. */
export function answerFile(
  question: Asked,
  kind: FileKind,
  layout: Layout,
  how: { formatted: boolean; title: string },
): Promise<SentFile> {
  const asking = { body: { ...question, layout, ...how }, parseAs: "blob" } as const;
  switch (kind) {
    case "csv":
      return file(client.POST("/api/answers.csv", asking));
    case "xlsx":
      return file(client.POST("/api/answers.xlsx", asking));
    case "json":
      return file(client.POST("/api/answers.json", asking));
  }
}

/** A statement in words, with what there is to choose. */
export function telling(
  ledger: string,
  statement: Statement,
  version: number,
  leaving: AbortSignal,
): Promise<StatementTold> {
  return asked(
    ["telling", version, ledger, statement],
    (signal) => given(client.POST("/api/tellings", { body: { ledger, statement }, signal })),
    leaving,
  );
}

/** What windows some statements would come to. */
export function previews(
  ledger: string,
  statements: Statement[],
  leaving: AbortSignal,
): Promise<StatementPreview[]> {
  return asked(
    ["previews", ledger, statements],
    (signal) => given(client.POST("/api/previews", { body: { ledger, statements }, signal })),
    leaving,
  );
}

export function check(body: Asked, signal: AbortSignal): Promise<TableCheck> {
  return given(client.POST("/api/checks", { body, signal }));
}

export function prove(body: AskedNumber, signal: AbortSignal): Promise<Proof> {
  return given(client.POST("/api/proofs", { body, signal }));
}

export function lines(number: AskedNumber, wanted: LinesWanted, signal: AbortSignal): Promise<LinesPage> {
  return given(client.POST("/api/proofs/lines", { body: { ...number, ...wanted, limit: 50 }, signal }));
}

/** Which lines of a number: of which operand, from where on, those that hold a text, in what order. */
export interface LinesWanted {
  operand: number;
  offset: number;
  search: string;
  sort: LineSort;
  descending: boolean;
}

const ALL_LINES = { offset: 0, limit: 50, search: "", sort: "day", descending: true } as const;

/** All lines of an operand as CSV. */
export async function linesFile(number: AskedNumber, operand: number): Promise<Blob> {
  const body = { ...number, ...ALL_LINES, operand };
  return (await file(client.POST("/api/proofs/lines.csv", { body, parseAs: "blob" }))).content;
}

/** Per operand its window day by day. */
export function days(body: AskedNumber): Promise<OperandDays[]> {
  return given(client.POST("/api/proofs/days", { body }));
}
