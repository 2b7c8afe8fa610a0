/** What a choice would come to, told before it is taken: its days, how many, how fair; or why it does not fit. */
import { ref, watch, type Ref } from "vue";
import type { Statement } from "@/contract";
import { turnedBaseUnits } from "@/model/statement";
import { useSheet } from "@/state/sheet/sheet";

/** One statement's window in words. at: the base of this number, 0 for the current window. */
export function useTelling(): (statement: Statement, at: number) => Promise<string> {
  const sheet = useSheet();
  return async (statement, at) => {
    const [found] = await sheet.previews([statement]);
    return found?.refused || (found?.windows[at]?.words ?? "");
  };
}

/** The first base stepped by the next unit that the statement can be answered with; null where there is none. */
export function useTurning(
  previews: ReturnType<typeof useSheet>["previews"],
): (statement: Statement) => Promise<Statement | null> {
  return async (statement) => {
    const turned = turnedBaseUnits(statement);
    const found = await previews(turned);
    return turned.find((_, at) => found[at]?.refused === "") ?? null;
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
