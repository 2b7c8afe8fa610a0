/** Where a sheet's view is written down: in the address of its page, so that it can be undone and shared. */
import { computed, ref, type ComputedRef } from "vue";
import { useRoute, useRouter } from "vue-router";

export interface AddressBar {
  /** What is written there now. */
  query: () => Record<string, string>;
  /** Whether its page is the one that is seen. */
  isHere: () => boolean;
  /** Which of its pages is seen, without a slash. */
  page: () => string;
  /** Write a view there, as a step that can be undone or in place of the one before; on another of its pages, if one is named. */
  write: (query: Record<string, string>, replace: boolean, page?: string) => Promise<void>;
  /** Something else may be written there by now: what can be undone is known anew. */
  stepped: () => void;
  canUndo: ComputedRef<boolean>;
  canRedo: ComputedRef<boolean>;
  undo: () => void;
  redo: () => void;
}

/** The address of a page, or of several that are one. prefix: before the names of a sheet among several on the page; what others wrote there stays. */
export function useAddressBar(pages: readonly string[], prefix = ""): AddressBar {
  const route = useRoute();
  const router = useRouter();
  /** Goes up with every step, so that what can be undone is known anew. */
  const steps = ref(0);

  function isOurs(address: unknown): boolean {
    return typeof address === "string" && pages.some((each) => address.startsWith(`/${each}?`));
  }

  return {
    query() {
      const own = Object.entries(route.query).filter(([name]) => name.startsWith(prefix));
      return Object.fromEntries(own.map(([name, value]) => [name.slice(prefix.length), String(value)]));
    },
    isHere: () => pages.includes(route.path.slice(1)),
    page: () => route.path.slice(1),
    async write(query, replace, page) {
      // Who has gone to another page meanwhile is not called back.
      if (!pages.includes(route.path.slice(1))) return;
      const path = page ? `/${page}` : route.path;
      const others = prefix ? Object.entries(route.query).filter(([name]) => !name.startsWith(prefix)) : [];
      const own = Object.entries(query).map(([name, value]) => [`${prefix}${name}`, value]);
      await router[replace ? "replace" : "push"]({ path, query: Object.fromEntries([...others, ...own]) });
      steps.value += 1;
    },
    stepped: () => void (steps.value += 1),
    canUndo: computed(() => steps.value >= 0 && isOurs(history.state?.back)),
    canRedo: computed(() => steps.value >= 0 && isOurs(history.state?.forward)),
    undo: () => router.back(),
    redo: () => router.forward(),
  };
}
