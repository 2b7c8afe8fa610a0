/** A block of cells of the table: chosen by pointer or by key, and what it adds up to. */
import { computed, ref, watch } from "vue";
import type { Numbers } from "@/model/numbers";
import type { Row } from "@/contract";
import type { Line } from "@/model/lines";
import { bounds, summed, type Block } from "@/model/selection";

/** lines: all that can be reached, in the order in which they stand. decimals: by the place of a column in the answer. */
export function useBlock(lines: () => Line[], decimals: () => number[], { count, rounded }: Numbers) {
  const block = ref<Block | null>(null);
  const spanned = computed(() => (block.value ? summed(lines(), block.value) : null));
  /** Rows that the block spans and that are still to be filled. */
  const missing = computed<Row[]>(() => spanned.value?.missing ?? []);

  const words = computed(() => {
    if (!block.value || !spanned.value) return "";
    const { count: cells, sum } = spanned.value;
    if (missing.value.length) return `${count(missing.value.length, "row")} still to come`;
    if (cells < 2) return "";
    const { top, left } = bounds(block.value);
    const places = decimals()[lines()[top]?.columns[left]?.at ?? 0] ?? 2;
    if (!sum) return count(cells, "cell");
    const mean = { top: sum.top, bottom: sum.bottom * BigInt(cells) };
    return `${count(cells, "cell")} · sum ${rounded(sum, places)} · mean ${rounded(mean, places + 2)}`;
  });

  function spotOf(line: Line, column: string): [number, number] {
    return [lines().indexOf(line), line.columns.findIndex((each) => each?.column.id === column)];
  }

  /** From its cell to another one; from there itself where there is no block yet. */
  function extend(from: [number, number], to: [number, number]): void {
    block.value = block.value ? { ...block.value, to } : { from, to };
  }

  /** The columns of a line that the block spans; null where it is one cell, or lies elsewhere. */
  function blockIn(line: Line): [number, number] | null {
    if (!block.value) return null;
    const { top, bottom, left, right } = bounds(block.value);
    const at = lines().indexOf(line);
    return at >= top && at <= bottom && (top !== bottom || left !== right) ? [left, right] : null;
  }

  /** The cells of the block, for copying; null where it is one cell. */
  function selectedBlock(): { lines: Line[]; slots: [number, number] } | null {
    if (!block.value) return null;
    const { top, bottom, left, right } = bounds(block.value);
    if (top === bottom && left === right) return null;
    return { lines: lines().slice(top, bottom + 1), slots: [left, right] };
  }

  /** Forget the block when something else stands there. */
  function forgetWith(changes: (() => unknown)[]): void {
    watch(changes, () => (block.value = null));
  }

  return { block, missing, words, spotOf, extend, blockIn, selectedBlock, forgetWith };
}

/** Steps by key: so many lines, so many columns. */
export const STEPS: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  PageUp: [-12, 0],
  PageDown: [12, 0],
  Home: [0, -10_000],
  End: [0, 10_000],
};
