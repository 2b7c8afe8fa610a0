/** How a reader wants to see every page: kept in this browser. */
import { useColorMode, useLocalStorage } from "@vueuse/core";
import { defineStore } from "pinia";
import { computed, ref, watch } from "vue";
import { localMarks, type Marks } from "@/model/numbers";
import { FIRST_PAGE } from "@/model/opening";

export type Theme = "auto" | "light" | "dark";
export type Size = "usual" | "larger" | "largest";
/** Which day a week starts on in pickers: the ledger's, or one's own (0 is Monday). */
export type WeekStart = "ledger" | "0" | "5" | "6";

/** How much of the browser's own size the text has, in percent: everything is measured by it. */
const PERCENT: Record<Size, number> = { usual: 100, larger: 115, largest: 130 };

/** How much larger everything is while it is shown to others. */
const SHOWING = 1.25;

export const useReader = defineStore("reader", () => {
  /** Light, dark, or as the reader's system is; the page carries it as a class. */
  const { store: theme, state } = useColorMode<Theme>({ storageKey: "lofty-theme", emitAuto: true });
  /** Whether the page is dark by now. */
  const isDark = computed(() => state.value === "dark");
  const size = useLocalStorage<Size>("lofty-size", "usual");
  /** The language by whose habits numbers and dates are written; "" is the browser's. */
  const language = useLocalStorage("lofty-language", "");
  const weekStart = useLocalStorage<WeekStart>("lofty-week-start", "ledger");
  /** The page that the bare address opens. */
  const firstPage = useLocalStorage(FIRST_PAGE.key, FIRST_PAGE.usual);

  const locale = computed(() => language.value || undefined);
  const marks = computed<Marks>(() => localMarks(locale.value));

  /** Whether a statement asks to be seen larger, for showing. */
  const showing = ref(false);

  /** How much larger than usual the text is, whatever makes it so: what is drawn in pixels follows. */
  const scale = ref(1);
  watch(
    [size, showing],
    ([next, shows]) => {
      const root = document.documentElement;
      const percent = PERCENT[next] * (shows ? SHOWING : 1);
      root.style.fontSize = percent === 100 ? "" : `${percent}%`;
      scale.value = (parseFloat(getComputedStyle(root).fontSize) || 16) / 16;
    },
    { immediate: true },
  );

  return { theme, isDark, size, language, locale, marks, weekStart, firstPage, showing, scale };
});
