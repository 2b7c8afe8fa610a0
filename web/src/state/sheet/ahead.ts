/** Somebody who goes on step by step: the next step is asked for while they look at the last one, and dropped if another comes. */
import type { Answer } from "@/contract";
import { FIRST_ROWS } from "@/model/filling";
import type { Question } from "@/model/statement";
import * as server from "@/server/figures";

/** Where steps lead to from a question and its answer. */
export type Lead = (question: Question, found: Answer) => Question;

export function useAhead() {
  let asking = new AbortController();
  let waiting: ReturnType<typeof setTimeout> | undefined;

  /** Ask for the words and figures of a question that may come next: whoever asks it then finds them given, or under way. */
  function expect(next: Question, version: number): void {
    drop();
    const { signal } = asking;
    const { ledger, statement } = next;
    // Once what was answered has been laid out: the server works while it is painted.
    waiting = setTimeout(() => {
      // What is refused, or dropped, is told when somebody truly asks it.
      void server.telling(ledger, statement, version, signal).catch(() => undefined);
      void server.answer({ ...next, fill: FIRST_ROWS }, version, signal).catch(() => undefined);
    });
  }

  /** It is not to come, or asked by somebody else by now. */
  function drop(): void {
    clearTimeout(waiting);
    asking.abort();
    asking = new AbortController();
  }

  return { expect, drop };
}
