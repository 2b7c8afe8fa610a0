/** Of a large table the rows that are seen, and a few more, are filled; and those that a block of cells spans. */
import { watch, type Ref } from "vue";
import type { Answer, Row } from "@/contract";
import { isFilled, MOST_AT_ONCE } from "@/model/filling";

export function watchFilling(
  near: () => Row[],
  spanned: Ref<Row[]>,
  answer: () => Answer,
  ask: { see: (rows: Row[]) => void; fill: (rows: Row[]) => void },
): void {
  watch(
    near,
    (rows) => {
      const empty = rows.filter((row) => !isFilled(row, answer()));
      if (empty.length) ask.see(empty);
    },
    { immediate: true },
  );
  watch(spanned, (found) => {
    if (found.length && found.length <= MOST_AT_ONCE) ask.fill(found);
  });
}
