/** The question on screen, its answer, the check of its totals, and the number under proof. */
import { defineStore } from "pinia";
import { computed, ref, shallowRef } from "vue";
import type { Answer, Failure, LinesPage, MemberKey, Opened, Proof, Statement, TableCheck } from "@/contract";
import type { View } from "@/model/address";
import type { Question } from "@/model/statement";
import * as server from "@/server/figures";
import { Refusal } from "@/server/http";

export interface Spot {
  path: MemberKey[];
  column: string;
}

export const useFigures = defineStore("figures", () => {
  const question = ref<Question | null>(null);
  const selected = ref<Spot | null>(null);
  const answer = shallowRef<Answer | null>(null);
  const answered = shallowRef<Statement | null>(null);
  const check = shallowRef<TableCheck | null>(null);
  const proof = shallowRef<Proof | null>(null);
  const lines = shallowRef<LinesPage | null>(null);
  const operand = ref(0);
  const loading = ref(false);
  const failure = ref<Failure | null>(null);
  let asking = new AbortController();
  let proving = new AbortController();

  const view = computed<View | null>(() =>
    question.value ? { question: question.value, selected: selected.value } : null,
  );

  /**
   * Ask what a view asks of a ledger's version; the old answer stays readable until the new one is there, and a superseded
   * question is dropped.
   */
  async function ask(next: View, version: number): Promise<void> {
    const same =
      JSON.stringify(question.value) === JSON.stringify(next.question) && answer.value?.version === version;
    question.value = next.question;
    selected.value = next.selected;
    if (!same) {
      asking.abort();
      asking = new AbortController();
      loading.value = true;
      const mine = asking;
      try {
        answer.value = await server.answer(next.question, mine.signal);
        answered.value = next.question.statement;
        failure.value = null;
        void compare(next.question, mine.signal);
      } catch (error) {
        if (!(error instanceof Refusal)) return;
        failure.value = error.failure;
      } finally {
        if (mine === asking) loading.value = false;
      }
    }
    await prove();
  }

  async function compare(asked: Question, signal: AbortSignal): Promise<void> {
    check.value = null;
    try {
      check.value = await server.check(asked, signal);
    } catch (error) {
      if (error instanceof Refusal) failure.value = error.failure;
    }
  }

  async function prove(): Promise<void> {
    proving.abort();
    proving = new AbortController();
    const spot = selected.value;
    const column = spot && answer.value?.columns.find((each) => each.id === spot.column);
    if (!spot || !column || !question.value || failure.value) {
      proof.value = null;
      lines.value = null;
      return;
    }
    operand.value = 0;
    const asked = { ...question.value, ...spot };
    try {
      proof.value = await server.prove(number(asked), proving.signal);
      lines.value = await server.lines(number(asked), 0, 0, proving.signal);
    } catch (error) {
      if (!(error instanceof Refusal)) return;
      proof.value = null;
      lines.value = null;
    }
  }

  async function showLines(of: number, offset: number): Promise<void> {
    const spot = selected.value;
    if (!spot || !question.value) return;
    operand.value = of;
    lines.value = await server.lines(number({ ...question.value, ...spot }), of, offset, proving.signal);
  }

  function asCsv(): Promise<string> {
    return question.value ? server.answerCsv(question.value) : Promise.resolve("");
  }

  return {
    question,
    selected,
    answer,
    answered,
    check,
    proof,
    lines,
    operand,
    loading,
    failure,
    view,
    ask,
    showLines,
    asCsv,
  };
});

function number(asked: Question & Spot & { opened?: Opened }): server.AskedNumber {
  return { ledger: asked.ledger, statement: asked.statement, path: asked.path, column: asked.column };
}
