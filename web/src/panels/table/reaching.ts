/** Cells reached by key and pointer: chosen one by one or as a block, brought into sight, focused. */
import { computed, nextTick, type ComputedRef, type Ref } from "vue";
import type { Answer, Layout, MemberKey, Row } from "@/contract";
import { holds, slotFrom, type Line } from "@/model/lines";
import { samePath } from "@/model/statement";
import type FiguresRow from "@/panels/table/FiguresRow.vue";
import { STEPS, type useBlock } from "@/panels/table/selecting";

/** Pixels of the names of rows, which stand beside every figure. */
const LABELS = 260;

export interface Table {
  answer: Answer;
  layout: Layout;
  selected: { path: MemberKey[]; column: string; rest?: boolean } | null;
}

/** What stands where in a table that is scrolled. */
export interface Places {
  box: Ref<HTMLElement | null>;
  lines: ComputedRef<Line[]>;
  totalLines: ComputedRef<Line[]>;
  reachable: ComputedRef<Line[]>;
  widths: ComputedRef<number[]>;
  tall: ComputedRef<number>;
  scrolled: () => void;
}

export interface Reached {
  select: (path: MemberKey[], column: string, rest: boolean) => void;
  toggle: (row: Row) => void;
}

export function useReaching(
  props: Table,
  { box, lines, totalLines, reachable, widths, tall, scrolled }: Places,
  { block, extend, spotOf }: Pick<ReturnType<typeof useBlock>, "block" | "extend" | "spotOf">,
  reached: Reached,
) {
  function nameOf({ row, place }: Line): string {
    const rest = row.rest === null || row.rest === undefined ? "" : "/…";
    const name = row === props.answer.total ? "row-total" : `row-${row.path.join("/")}${rest}`;
    return place ? `${name}~${place}` : name;
  }

  function selectedIn(line: Line): string | null {
    const { selected } = props;
    if (!selected || !samePath(selected.path, line.row.path) || !holds(line, selected.column)) return null;
    return !!selected.rest === (typeof line.row.rest === "number") ? selected.column : null;
  }

  const isSelectedShown = computed(
    () => !!props.selected && reachable.value.some((each) => selectedIn(each) !== null),
  );

  /** Tab reaches the selected cell, or the first one where none is. */
  function reachedIn(line: Line): string | null {
    if (isSelectedShown.value) return selectedIn(line);
    return line === reachable.value[0] ? (line.columns.find(Boolean)?.column.id ?? null) : null;
  }

  function choose(line: Line, column: string, further: boolean): void {
    const here = spotOf(line, column);
    if (further && block.value) extend(here, here);
    else {
      block.value = { from: here, to: here };
      reached.select(line.row.path, column, typeof line.row.rest === "number");
    }
  }

  async function pressed(event: KeyboardEvent, line: Line, column: string): Promise<void> {
    if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      if (line.row.can_open) reached.toggle(line.row);
      return;
    }
    const step = STEPS[event.key];
    if (!step || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    const extends_ = event.shiftKey && block.value;
    const from = extends_ && block.value ? block.value.to : spotOf(line, column);
    const to = Math.min(Math.max(from[0] + step[0], 0), reachable.value.length - 1);
    const next = reachable.value[to];
    const over = next ? slotFrom(next, from[1] + step[1], step[1]) : null;
    const id = next && over !== null ? next.columns[over]?.column.id : undefined;
    if (!next || over === null || !id) return;
    if (event.shiftKey) extend(spotOf(line, column), [to, over]);
    else choose(next, id, false);
    show(lines.value.indexOf(next), over);
    await nextTick();
    // Also while a block grows: the cell that it began at may be drawn no longer, and keys would be lost with it.
    drawnLines.get(nameOf(next))?.cellOf(id)?.focus({ preventScroll: true });
  }

  /** The lines that are drawn, by their names. */
  const drawnLines = new Map<string, InstanceType<typeof FiguresRow>>();
  /** What keeps a line's row: the same each time, so that the row is not drawn again for another one. */
  const keepers = new WeakMap<Line, (row: unknown) => void>();
  function keep(line: Line): (row: unknown) => void {
    const known = keepers.get(line);
    if (known) return known;
    const keeper = (row: unknown): void => {
      if (row) drawnLines.set(nameOf(line), row as InstanceType<typeof FiguresRow>);
      else drawnLines.delete(nameOf(line));
    };
    keepers.set(line, keeper);
    return keeper;
  }

  /** Bring a cell into what is seen, below the headings and above the total. */
  function show(line: number, slot: number): void {
    const place = box.value;
    if (!place) return;
    if (line >= 0) {
      const top = line * tall.value;
      const under = tall.value * (props.layout.totals === "off" ? 3.5 : 3.5 + totalLines.value.length);
      if (top < place.scrollTop) place.scrollTop = top;
      else if (top + under > place.scrollTop + place.clientHeight)
        place.scrollTop = top + under - place.clientHeight;
    }
    const left = widths.value.slice(0, slot).reduce((sum, each) => sum + each, 0);
    if (left < place.scrollLeft) place.scrollLeft = left;
    else if (left + (widths.value[slot] ?? 0) + LABELS > place.scrollLeft + place.clientWidth)
      place.scrollLeft = left + (widths.value[slot] ?? 0) + LABELS - place.clientWidth;
    // Drawn at once, not at the next frame: the cell is there to be focused.
    scrolled();
  }

  async function focusSelected(): Promise<void> {
    await nextTick();
    const cell =
      box.value?.querySelector<HTMLElement>("td.selected") ??
      box.value?.querySelector<HTMLElement>("td[tabindex='0']");
    cell?.focus();
  }

  return { nameOf, selectedIn, reachedIn, choose, pressed, keep, focusSelected };
}
