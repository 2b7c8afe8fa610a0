/** Which rows and columns of a large table are drawn: those that are seen, and a few more. */
import { defaultRangeExtractor, useVirtualizer } from "@tanstack/vue-virtual";
import { computed, watch, type ComputedRef, type Ref } from "vue";

/** Rows and columns that are drawn beside those that are seen. */
const MORE_ROWS = 8;
const MORE_COLUMNS = 4;
/** Columns up to which all are drawn, as wide as their figures are. */
const FEW_COLUMNS = 64;
/** What is drawn before the size of the table is known. */
const FIRST = { width: 1000, height: 600 };

/** Some of a number of items, and the pixels of those before and after them. */
export interface Drawn {
  first: number;
  last: number;
  before: number;
  after: number;
}

/** What is drawn of a list; the list itself where that is all of it, so that whoever has it need not be drawn again. */
export function drawnOf<Item>(list: Item[], { first, last }: Drawn): Item[] {
  return first === 0 && last >= list.length ? list : list.slice(first, last);
}

export interface DrawnTable {
  rows: ComputedRef<Drawn>;
  columns: ComputedRef<Drawn>;
  /** Look at once where the table was scrolled to, not at the next frame. */
  scrolled: () => void;
}

/** box: what is scrolled. count: of rows, each so tall; widths: of columns, all in pixels. */
export function useDrawn(
  box: Ref<HTMLElement | null>,
  count: () => number,
  tall: () => number,
  widths: () => number[],
): DrawnTable {
  const down = useVirtualizer(
    computed(() => ({
      count: count(),
      getScrollElement: () => box.value,
      estimateSize: tall,
      overscan: MORE_ROWS,
      initialRect: FIRST,
    })),
  );
  const along = useVirtualizer(
    computed(() => ({
      horizontal: true,
      count: widths().length,
      getScrollElement: () => box.value,
      estimateSize: (at: number) => widths()[at] ?? 0,
      overscan: MORE_COLUMNS,
      initialRect: FIRST,
      rangeExtractor: (range: Parameters<typeof defaultRangeExtractor>[0]) =>
        range.count <= FEW_COLUMNS
          ? Array.from({ length: range.count }, (_, at) => at)
          : defaultRangeExtractor(range),
    })),
  );
  watch(tall, () => down.value.measure());
  watch(widths, () => along.value.measure());

  function drawn(of: typeof down): Drawn {
    const items = of.value.getVirtualItems();
    const [first, last] = [items[0], items.at(-1)];
    if (!first || !last) return { first: 0, last: 0, before: 0, after: of.value.getTotalSize() };
    return {
      first: first.index,
      last: last.index + 1,
      before: first.start,
      after: of.value.getTotalSize() - last.end,
    };
  }

  /** The same as before where nothing of it has changed: a table is then not drawn again, however often it is measured. */
  function drawnAnew(of: typeof down): ComputedRef<Drawn> {
    return computed<Drawn>((before) => {
      const next = drawn(of);
      return before && JSON.stringify(before) === JSON.stringify(next) ? before : next;
    });
  }

  return {
    rows: drawnAnew(down),
    columns: drawnAnew(along),
    scrolled: () => box.value?.dispatchEvent(new Event("scroll")),
  };
}
