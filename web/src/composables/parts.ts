/** The parts of a page that can be opened by name: by a key, or from the palette. */
import { inject, onBeforeUnmount, onMounted, provide, shallowReactive, type InjectionKey } from "vue";

export interface Parts {
  /** Make a part known while it is there. */
  add: (name: string, open: () => void) => () => void;
  /** Whether there is a part of this name. */
  has: (name: string) => boolean;
  /** Open the first part whose name begins so; whether there is one. */
  open: (start: string) => boolean;
}
const PARTS: InjectionKey<Parts> = Symbol("parts");

/** Keep the parts of this page. */
export function provideParts(): Parts {
  const known = shallowReactive<{ name: string; open: () => void }[]>([]);
  const parts: Parts = {
    add(name, open) {
      const part = { name, open };
      known.push(part);
      return () => void known.splice(known.indexOf(part), 1);
    },
    has: (name) => known.some((each) => each.name === name),
    open(start) {
      const part = known.find(({ name }) => name.startsWith(start));
      part?.open();
      return !!part;
    },
  };
  provide(PARTS, parts);
  return parts;
}

/** The parts of the page, where it keeps any. */
export function useParts(): Parts | null {
  return inject(PARTS, null);
}

/** Let a part be opened by its name, where its page keeps parts. */
export function usePart(name: () => string, open: () => void): void {
  const parts = useParts();
  let forget: (() => void) | undefined;
  onMounted(() => (forget = parts?.add(name(), open)));
  onBeforeUnmount(() => forget?.());
}
