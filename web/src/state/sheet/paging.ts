/** What another page of a sheet's statement shows: asked where that page is seen, and superseded like an answer. */
import { ref, shallowRef } from "vue";
import type { Failure, Layout } from "@/contract";
import type { Question } from "@/model/statement";
import { Refusal } from "@/server/http";

/** page: where it is seen; asked: of a question, what is asked there; give: who answers that. */
export function usePage<Body extends object, Found>(
  page: Layout["page"],
  asked: (question: Question, layout: Layout) => Body,
  give: (body: Body, version: number, signal: AbortSignal) => Promise<Found>,
) {
  const found = shallowRef<Found | null>(null);
  const failure = shallowRef<Failure | null>(null);
  const loading = ref(false);
  let asking = new AbortController();
  let last = "";

  /** Ask, where its page is seen and it is not known already. */
  async function look(question: Question, layout: Layout, version: number): Promise<void> {
    const body = asked(question, layout);
    const key = JSON.stringify([body, version]);
    if (layout.page !== page || (key === last && !failure.value)) return;
    asking.abort();
    asking = new AbortController();
    const mine = asking;
    last = key;
    loading.value = true;
    try {
      const answer = await give(body, version, mine.signal);
      if (mine.signal.aborted) return;
      found.value = answer;
      failure.value = null;
    } catch (error) {
      if (mine.signal.aborted || !(error instanceof Refusal)) return;
      failure.value = error.failure;
    } finally {
      if (mine === asking) loading.value = false;
    }
  }

  function leave(): void {
    asking.abort();
  }

  return { found, failure, loading, look, leave };
}
