<script setup lang="ts">
/** A rendering as it is, in a frame of its own; its figures are proved, and its blocks taken, by pointer and key. */
import { useElementSize, useEventListener } from "@vueuse/core";
import { computed, onBeforeUnmount, ref, watch } from "vue";
import type { BriefFigure } from "@/state/briefs";

const props = defineProps<{
  html?: string | undefined;
  src?: string | undefined;
  title: string;
  /** Pixels that the page is at least wide: it is shown smaller where there is less room. */
  wide?: number;
  /** The block that is chosen, where blocks can be. */
  chosen?: number | null;
  picks?: boolean;
}>();
const emit = defineEmits<{ prove: [figure: BriefFigure]; pick: [at: number] }>();

const box = ref<HTMLElement | null>(null);
const frame = ref<HTMLIFrameElement | null>(null);
const { width } = useElementSize(box);
const tall = ref(600);
const own = computed(() => Math.max(props.wide ?? 0, width.value));
const scale = computed(() => (own.value ? width.value / own.value : 1));
let watcher: ResizeObserver | undefined;

function loaded(): void {
  const page = frame.value?.contentDocument;
  if (!page?.body) return;
  // What holds the frame scrolls, not the frame: it is as tall as its page.
  page.documentElement.style.overflow = "hidden";
  for (const each of page.querySelectorAll<HTMLElement>("[data-proof]")) {
    each.tabIndex = 0;
    each.setAttribute("role", "button");
    each.style.cursor = "pointer";
  }
  if (props.picks)
    for (const each of page.querySelectorAll<HTMLElement>("[data-at]")) each.style.cursor = "pointer";
  page.addEventListener("click", pressed);
  page.addEventListener("keydown", (event) => {
    if (event.key === "Enter" || event.key === " ") pressed(event);
  });
  watcher?.disconnect();
  watcher = new ResizeObserver(measure);
  watcher.observe(page.body);
  measure();
  mark();
}

function measure(): void {
  const page = frame.value?.contentDocument;
  if (page?.body) tall.value = Math.ceil(page.body.getBoundingClientRect().height);
}

function pressed(event: Event): void {
  // What is in the frame is made by another window's classes.
  const target = event.target as Element | null;
  const figure = target?.closest?.("[data-proof]");
  if (figure) {
    event.preventDefault();
    emit("prove", JSON.parse(figure.getAttribute("data-proof") ?? "{}") as BriefFigure);
    return;
  }
  const block = props.picks ? target?.closest?.("[data-at]") : null;
  if (block) emit("pick", Number(block.getAttribute("data-at")));
}

/** The chosen block is marked, and brought into sight. */
function mark(): void {
  const page = frame.value?.contentDocument;
  for (const each of page?.querySelectorAll<HTMLElement>("[data-at]") ?? []) {
    const on = Number(each.dataset.at) === props.chosen;
    each.style.outline = on ? "2px solid #d8a24a" : "";
    each.style.outlineOffset = "6px";
  }
}
watch(() => props.chosen, mark);
useEventListener(window, "resize", measure);
onBeforeUnmount(() => watcher?.disconnect());
</script>

<template>
  <div ref="box" class="sheet" :style="{ height: `${tall * scale}px` }">
    <iframe
      ref="frame"
      :title="title"
      v-bind="src ? { src } : { srcdoc: html ?? '' }"
      sandbox="allow-same-origin allow-popups"
      :style="{ width: `${own}px`, height: `${tall}px`, transform: `scale(${scale})` }"
      data-test="brief-sheet"
      @load="loaded"
    />
  </div>
</template>

<style scoped>
.sheet {
  position: relative;
  overflow: hidden;
  background: #fff;
  border: 1px solid var(--line);
  box-shadow: 0 1px 4px rgb(0 0 0 / 8%);
  flex: none;
}
iframe {
  border: 0;
  display: block;
  transform-origin: 0 0;
}
</style>
