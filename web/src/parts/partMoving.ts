/** A part of the statement moved among its like, by key or dragged, and removed by key. */
import { ref, type Ref } from "vue";

const DRAGGED = "application/x-lofty-part";

export interface Moved {
  /** What kind of part it is, and where it stands among its like: it can then be moved. */
  kind?: string | undefined;
  at?: number | undefined;
  removes?: boolean;
}

export interface Moving {
  /** Whether another part is dragged over it. */
  over: Ref<boolean>;
  pressed: (event: KeyboardEvent) => void;
  dragged: (event: DragEvent) => void;
  dropped: (event: DragEvent) => void;
}

export function useMoving(
  props: Moved,
  remove: () => void,
  move: (from: number, to: number) => void,
): Moving {
  const over = ref(false);

  function pressed(event: KeyboardEvent): void {
    if ((event.key === "Delete" || event.key === "Backspace") && props.removes) {
      event.preventDefault();
      remove();
    } else if (event.altKey && props.at !== undefined && /^Arrow(Left|Right)$/.test(event.key)) {
      event.preventDefault();
      move(props.at, props.at + (event.key === "ArrowLeft" ? -1 : 1));
    }
  }

  function dragged(event: DragEvent): void {
    event.dataTransfer?.setData(DRAGGED, `${props.kind}:${props.at}`);
  }

  function dropped(event: DragEvent): void {
    over.value = false;
    const [kind, from] = (event.dataTransfer?.getData(DRAGGED) ?? "").split(":");
    if (kind !== props.kind || props.at === undefined || from === undefined) return;
    if (Number(from) !== props.at) move(Number(from), props.at);
  }

  return { over, pressed, dragged, dropped };
}
