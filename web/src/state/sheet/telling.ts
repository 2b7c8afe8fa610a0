/** The statement on screen in words: told by the server before its numbers are there. */
import { isCancelledError } from "@tanstack/query-core";
import { shallowRef } from "vue";
import type { Statement, StatementPreview, StatementTold } from "@/contract";
import type { Question } from "@/model/statement";
import * as server from "@/server/figures";
import { Refusal } from "@/server/http";

export type Telling = ReturnType<typeof useTold>;

export function useTold() {
  /** The words, and the statement that they tell. */
  const told = shallowRef<{ statement: Statement; words: StatementTold } | null>(null);
  let telling = new AbortController();

  /** Have a statement told; one that is superseded meanwhile is not. */
  async function tell({ ledger, statement }: Question, version: number): Promise<void> {
    telling.abort();
    telling = new AbortController();
    const mine = telling;
    try {
      const words = await server.telling(ledger, statement, version, mine.signal);
      if (!mine.signal.aborted) told.value = { statement, words };
    } catch (error) {
      // Whatever cannot be told now is refused as a question, too, and said there; what was dropped is told again.
      const dropped = mine.signal.aborted || isCancelledError(error);
      if (!dropped && !(error instanceof Refusal)) throw error;
    }
  }

  /** What windows some statements would come to; none where it cannot be told now. */
  async function previews(ledger: string, statements: Statement[]): Promise<StatementPreview[]> {
    if (!statements.length) return [];
    try {
      return await server.previews(ledger, statements, new AbortController().signal);
    } catch (error) {
      if (error instanceof Refusal) return [];
      throw error;
    }
  }

  return { told, tell, previews, leave: () => telling.abort() };
}
