/** Somebody who goes on step by step: the next steps are asked for while they look at the last one, and dropped if another comes. */
import type { Answer } from "@/contract";
import { FIRST_ROWS } from "@/model/filling";
import type { Question } from "@/model/statement";
import * as server from "@/server/figures";

/** Where a step leads to from a question and the day that it is as of. */
export type Lead = (question: Question, found: Pick<Answer, "as_of">) => Question;

/** How many steps are asked for: who goes quickly finds the second one begun when the first is drawn. */
const STEPS = 2;

interface Step {
  name: string;
  leaving: AbortController;
  /** Whether its answer has come; not where it was refused or dropped. */
  come: Promise<boolean>;
}

export function useAhead() {
  let steps: Step[] = [];
  let going = new AbortController();

  /** Ask for the words and figures of the steps that may come next: whoever asks them then finds them given, or under way. */
  function expect(lead: Lead, from: Question, found: Pick<Answer, "as_of">, version: number): void {
    going.abort();
    going = new AbortController();
    const { signal } = going;
    // Once what was answered has been laid out: the server works while it is painted.
    setTimeout(() => void goOn(lead, from, found, version, signal));
  }

  async function goOn(
    lead: Lead,
    from: Question,
    found: Pick<Answer, "as_of">,
    version: number,
    signal: AbortSignal,
  ): Promise<void> {
    let [question, as_of] = [from, found.as_of];
    for (let number = 0; number < STEPS && !signal.aborted; number += 1) {
      question = lead(question, { as_of });
      const day = question.statement.as_of;
      const known = steps[number];
      const isAsked = known?.name === named(question, version);
      // Steps of another length led here before: what lay beyond is another day.
      if (!isAsked) known?.leaving.abort();
      const step = isAsked ? known : ask(question, version);
      steps[number] = step;
      // One after the other: the nearer one is not to wait for the one beyond it.
      if (day.kind !== "pinned" || !(await step.come)) return;
      as_of = day.day;
    }
  }

  function ask(question: Question, version: number): Step {
    const leaving = new AbortController();
    const { ledger, statement } = question;
    // What is refused, or dropped, is told when somebody truly asks it.
    void server.telling(ledger, statement, version, leaving.signal).catch(() => undefined);
    const coming = server.answer({ ...question, fill: FIRST_ROWS }, version, leaving.signal);
    const come = coming.then(() => true).catch(() => false);
    return { name: named(question, version), leaving, come };
  }

  /** Somebody asks a question themselves: the steps beyond it stay asked for, and all of them are dropped if it is none. */
  function follow(question: Question, version: number): void {
    going.abort();
    const passed = steps.findIndex((each) => each.name === named(question, version)) + 1 || steps.length;
    for (const each of steps.slice(0, passed)) each.leaving.abort();
    steps = steps.slice(passed);
  }

  /** None of them is to come. */
  function drop(): void {
    going.abort();
    for (const each of steps) each.leaving.abort();
    steps = [];
  }

  return { expect, follow, drop };
}

function named(question: Question, version: number): string {
  return JSON.stringify([version, question]);
}
