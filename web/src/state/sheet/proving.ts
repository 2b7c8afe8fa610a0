/** The number under proof: its evidence, its lines and its days. */
import { ref, shallowRef } from "vue";
import type { LinesPage, OperandDays, Proof } from "@/contract";
import * as server from "@/server/figures";
import { Refusal } from "@/server/http";

export type Proving = ReturnType<typeof useProving>;

export function useProving() {
  const proof = shallowRef<Proof | null>(null);
  const lines = shallowRef<LinesPage | null>(null);
  const operand = ref(0);
  const wanted = ref<server.LinesWanted>({
    operand: 0,
    offset: 0,
    search: "",
    sort: "day",
    descending: true,
  });
  const linesRefused = ref("");
  let proving = new AbortController();
  let number: server.AskedNumber | null = null;

  /** Prove a number, or none. */
  async function prove(asked: server.AskedNumber | null): Promise<void> {
    proving.abort();
    proving = new AbortController();
    const mine = proving;
    number = asked;
    if (!asked) {
      proof.value = null;
      lines.value = null;
      return;
    }
    try {
      proof.value = await server.prove(asked, mine.signal);
      await showLines({ ...wanted.value, operand: 0, offset: 0 });
    } catch (error) {
      if (mine.signal.aborted || !(error instanceof Refusal)) return;
      proof.value = null;
      lines.value = null;
    }
  }

  /** Other lines of the number; more than can be sorted or searched are refused in words. */
  async function showLines(next: server.LinesWanted): Promise<void> {
    if (!number) return;
    linesRefused.value = "";
    wanted.value = next;
    operand.value = next.operand;
    try {
      lines.value = await server.lines(number, next, proving.signal);
    } catch (error) {
      if (error instanceof Refusal) linesRefused.value = error.failure.message;
    }
  }

  async function linesFile(): Promise<Blob> {
    return number ? server.linesFile(number, operand.value) : new Blob();
  }

  async function days(): Promise<OperandDays[]> {
    return number ? server.days(number) : [];
  }

  return {
    proof,
    lines,
    operand,
    wanted,
    linesRefused,
    prove,
    showLines,
    linesFile,
    days,
    leave: () => proving.abort(),
  };
}
