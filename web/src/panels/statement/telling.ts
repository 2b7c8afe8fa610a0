/** What a choice would come to, told before it is taken: its days, how many, how fair; or why it does not fit. */
import { ref, watch, type Ref } from "vue";
import type { Statement } from "@/contract";
import { useFigures } from "@/state/figures";
import { previewWords } from "@/words/words";

/** One statement's window in words. at: the base of this number, 0 for the current window. */
export function useTelling(): (statement: Statement, at: number) => Promise<string> {
  const figures = useFigures();
  return async (statement, at) => {
    const [found] = await figures.previews([statement]);
    return found?.refused || previewWords(found, at);
  };
}

/** The same, kept up to date while a choice is being put together; '' where there is none yet. */
export function useToldOf(choice: () => { statement: Statement; at: number } | null): Ref<string> {
  const tell = useTelling();
  const told = ref("");
  let newest = 0;
  watch(
    choice,
    async (next) => {
      const mine = ++newest;
      const words = next ? await tell(next.statement, next.at) : "";
      if (mine === newest) told.value = words;
    },
    { immediate: true, deep: true },
  );
  return told;
}
