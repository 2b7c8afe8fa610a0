/** The words that come from the server: those of an answer's columns, and those of the statement on screen, piece by piece. */
import type { Answer, AnsweredColumn, ColumnWords, Statement, StatementTold } from "@/contract";

/** A column of an answer in words. */
export function wordsOf(column: AnsweredColumn, answer: Answer): ColumnWords {
  const own = answer.columns.indexOf(column);
  const at = own < 0 ? answer.columns.findIndex((each) => each.id === column.id) : own;
  const words = answer.told.columns[at];
  if (!words) throw new Error(`the answer has no column ${column.id}`);
  return words;
}

/** What stands for words that are still on their way. */
const COMING = "…";

export interface Pieces {
  /** The words of one thing in the sentence: of a base, say, the second one. */
  of: (kind: string, at?: number) => string;
  /** The words of all things of a kind. */
  all: (kind: string) => string[];
}

/**
 * The pieces of a statement in words. known: the last that was told and, as long as that is of the statement before, what it says of
 * things that have not changed since.
 */
export function piecesOf(
  statement: Statement,
  known: { statement: Statement; words: StatementTold } | null,
): Pieces {
  const said = new Map<string, string[]>();
  for (const part of known?.words.parts ?? [])
    for (const { kind, words } of part.pieces) said.set(kind, [...(said.get(kind) ?? []), words]);
  const now = JSON.stringify(statement) === JSON.stringify(known?.statement);
  const same = (kind: string, at: number): boolean =>
    now || (!!known && valueOf(statement, kind, at) === valueOf(known.statement, kind, at));
  const of = (kind: string, at = 0): string => (same(kind, at) ? said.get(kind)?.[at] : undefined) ?? COMING;
  return { of, all: (kind) => (said.get(kind) ?? []).map((_, at) => of(kind, at)) };
}

/** What a piece tells, to be compared. */
function valueOf(statement: Statement, kind: string, at: number): string {
  const { measures, as_of, window } = statement;
  if (kind === "measures" || kind === "show") return JSON.stringify([measures[at], measures.length]);
  if (kind === "window" || kind === "before_window") return JSON.stringify([window, as_of]);
  const part = statement[kind as keyof Statement];
  return JSON.stringify(Array.isArray(part) ? part[at] : part);
}
