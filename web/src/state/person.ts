/** Under whose name this browser posts. */
import { useLocalStorage } from "@vueuse/core";
import { defineStore } from "pinia";
import { watch } from "vue";
import { sendAs } from "@/server/http";

export const usePerson = defineStore("person", () => {
  const name = useLocalStorage("lofty-person", "");
  watch(name, sendAs, { immediate: true });
  return { name };
});
