/** Columns moved and hidden by their headings; what is stacked in one goes together. */
import type { Ref } from "vue";
import type { Layout } from "@/contract";
import { moveColumn, turnColumn } from "@/model/layout";
import type { Slot } from "@/model/lines";

function idsOf({ columns: stacked }: Slot): string[] {
  return stacked.map((each) => each.column.id);
}

export function useColumnMoves(
  props: { layout: Layout },
  slots: Ref<Slot[]>,
  lay: (layout: Layout) => void,
): { move: (id: string, by: number) => void; hide: (id: string) => void } {
  function move(id: string, by: number): void {
    lay(moveColumn(props.layout, slots.value.map(idsOf), id, by));
  }

  function hide(id: string): void {
    const slot = slots.value.find((each) => each.head.column.id === id);
    if (slot) lay(turnColumn(props.layout, ...idsOf(slot)));
  }

  return { move, hide };
}
