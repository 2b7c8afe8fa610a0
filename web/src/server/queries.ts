/** Answers that were just given are not asked for again; one question that several wait for is asked once, and dropped when all have left. */
import { hashKey, QueryClient, QueryObserver, type QueryKey } from "@tanstack/query-core";

/** Milliseconds for which an answer counts as just given, and for which one that nobody looks at is kept. */
const FRESH = 30_000;
const KEPT = 60_000;

export const queries = new QueryClient({
  defaultOptions: {
    queries: {
      networkMode: "always",
      retry: false,
      gcTime: KEPT,
      structuralSharing: false,
      refetchOnWindowFocus: false,
    },
  },
});

const waiting = new Map<string, number>();

/** What a question gives, of now or of just before; anew: of now. Raises AbortError when its asker leaves. */
export async function asked<Result>(
  key: QueryKey,
  ask: (signal: AbortSignal) => Promise<Result>,
  leaving: AbortSignal,
  anew = false,
): Promise<Result> {
  leaving.throwIfAborted();
  const name = hashKey(key);
  waiting.set(name, (waiting.get(name) ?? 0) + 1);
  let left: (() => void) | undefined;
  const gone = new Promise<never>((_, reject) => {
    left = () => reject(leaving.reason);
    leaving.addEventListener("abort", left);
  });
  const answer = queries.fetchQuery({
    queryKey: key,
    queryFn: ({ signal }) => ask(signal),
    staleTime: anew ? 0 : FRESH,
  });
  // Nobody may be there any more to hear that it was dropped.
  answer.catch(() => undefined);
  try {
    return await Promise.race([answer, gone]);
  } finally {
    if (left) leaving.removeEventListener("abort", left);
    const others = (waiting.get(name) ?? 1) - 1;
    if (others) waiting.set(name, others);
    else waiting.delete(name);
    if (leaving.aborted && !others) {
      void queries.cancelQueries({ queryKey: key, exact: true });
    }
  }
}

/** Ask again and again, as long as somebody wants to hear and the answer says to go on. Returns how to stop. */
export function watched<Result>(
  key: QueryKey,
  ask: () => Promise<Result>,
  every: (last: Result | undefined) => number | false,
  told: (result: { data?: Result | undefined; error: unknown }) => void,
  unseen = false,
): () => void {
  const observer = new QueryObserver<Result>(queries, {
    queryKey: key,
    queryFn: ask,
    staleTime: 0,
    refetchInterval: (query) => every(query.state.data),
    refetchIntervalInBackground: unseen,
  });
  return observer.subscribe(({ data, error, isFetching }) => {
    if (!isFetching) told({ data, error });
  });
}

/** Forget what was given: something has changed that answers are made of. */
export function forgetAnswers(): void {
  queries.removeQueries({ type: "inactive", predicate: (each) => each.state.fetchStatus === "idle" });
  void queries.invalidateQueries();
}
