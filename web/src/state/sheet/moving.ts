/** Who moved in a sheet's statement: asked where its page is seen, and superseded like an answer. */
import { ref, shallowRef } from "vue";
import type { Failure, Layout, Movers } from "@/contract";
import type { Question } from "@/model/statement";
import * as server from "@/server/figures";
import { Refusal } from "@/server/http";

export function useMoving() {
  const moved = shallowRef<Movers | null>(null);
  const movedFailure = shallowRef<Failure | null>(null);
  const moving = ref(false);
  let asking = new AbortController();
  let asked = "";

  /** Ask who moved, where that is seen and not known already. */
  async function look(question: Question, layout: Layout, version: number): Promise<void> {
    const { ledger, statement } = question;
    const body = { ledger, statement, asked: { ...layout.movers, search: layout.search } };
    const key = JSON.stringify([body, version]);
    if (layout.page !== "movers" || (key === asked && !movedFailure.value)) return;
    asking.abort();
    asking = new AbortController();
    const mine = asking;
    asked = key;
    moving.value = true;
    try {
      const found = await server.movers(body, version, mine.signal);
      if (mine.signal.aborted) return;
      moved.value = found;
      movedFailure.value = null;
    } catch (error) {
      if (mine.signal.aborted || !(error instanceof Refusal)) return;
      movedFailure.value = error.failure;
    } finally {
      if (mine === asking) moving.value = false;
    }
  }

  function leave(): void {
    asking.abort();
  }

  return { moved, movedFailure, moving, look, leave };
}
