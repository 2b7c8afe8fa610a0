/** How a reader wants to see every page: kept in this browser. */
import { useColorMode } from "@vueuse/core";
import { defineStore } from "pinia";

export type Theme = "auto" | "light" | "dark";

export const useReader = defineStore("reader", () => {
  /** Light, dark, or as the reader's system is; the page carries it as a class. */
  const { store: theme } = useColorMode<Theme>({ storageKey: "lofty-theme", emitAuto: true });
  return { theme };
});
