/** What help is asked about: the mark of what had the focus, null where none is shown. */
import { defineStore } from "pinia";
import { ref } from "vue";

export const useHelp = defineStore("help", () => {
  const topic = ref<string | null>(null);

  /** About what has the focus, else about the page. */
  function ask(page: string): void {
    const marked = document.activeElement?.closest<HTMLElement>("[data-guide]");
    topic.value = marked?.dataset.guide ?? page;
  }

  return { topic, ask };
});
