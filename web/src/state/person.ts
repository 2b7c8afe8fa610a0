/** Under whose name this browser posts. */
import { defineStore } from "pinia";
import { ref, watch } from "vue";
import { sendAs } from "@/server/http";

const KEPT = "lofty-person";

export const usePerson = defineStore("person", () => {
  const name = ref(localStorage.getItem(KEPT) ?? "");
  watch(
    name,
    (now) => {
      localStorage.setItem(KEPT, now);
      sendAs(now);
    },
    { immediate: true },
  );
  return { name };
});
