<script setup lang="ts">
/** A part of the statement: its words, which open what it can be changed to; removed, moved and dragged by key or pointer. */
import { CaretBottom } from "@element-plus/icons-vue";
import { onClickOutside, useEventListener } from "@vueuse/core";
import { computed, nextTick, onMounted, ref, watch, type Component } from "vue";
import { ABOUT } from "@/words/parts";
import { usePart } from "@/composables/parts";
import { useMoving } from "@/parts/partMoving";

defineOptions({ inheritAttrs: false });
const props = defineProps<{
  label: string;
  tone?: number | undefined;
  name: string;
  /** Whether it adds something: it is seen while it is open, and opened from the list of what can be added. */
  adds?: boolean;
  /** Whether it offers what can be added. */
  offers?: boolean;
  /** Whether it stands among the tools, with its icon, and with a frame of its own. */
  tool?: boolean;
  framed?: boolean;
  icon?: Component | undefined;
  about?: string | undefined;
  /** What kind of part it is, and where it stands among its like: it can then be moved. */
  kind?: string | undefined;
  at?: number | undefined;
  removes?: boolean;
}>();
const emit = defineEmits<{ remove: []; move: [from: number, to: number]; open: [now: boolean] }>();
/** Which place of the guide is about it; others are parts of the sentence. */
const GUIDES: Record<string, string> = {
  window: "window",
  base: "comparison",
  filter: "counted",
  reading: "counted",
  goal: "goal",
  statements: "questions",
  keep: "statement",
};
const kindOfPart = computed(() => props.name.replace(/^add-/, "").split("-")[0] ?? "");
const guide = computed(() => GUIDES[kindOfPart.value] ?? "statement");
const shown = ref(false);
const { over, pressed, dragged, dropped } = useMoving(
  props,
  () => emit("remove"),
  (from, to) => emit("move", from, to),
);
const button = ref<HTMLButtonElement | null>(null);
const box = ref<HTMLElement | null>(null);

/** One part is open at a time, however it was opened. */
const OPENED = "lofty-part-opened";
watch(shown, (now) => emit("open", now));
/** What can be chosen is made anew each time, of the statement as it is then; opened again while it fades, it stays. */
const made = ref(false);
watch(shown, (now) => now && (made.value = true), { flush: "sync" });
watch(shown, (now) => now && window.dispatchEvent(new CustomEvent(OPENED, { detail: button.value })));
function otherOpened(event: Event): void {
  if ((event as CustomEvent).detail !== button.value) shown.value = false;
}
useEventListener(window, OPENED as keyof WindowEventMap, otherOpened);
/** Set by hand: the popover takes this attribute off what opens it. */
function tell(): void {
  button.value?.setAttribute("aria-expanded", String(shown.value));
}
onMounted(() => void nextTick(tell));
watch(shown, tell, { flush: "post" });

/** Opened by name: as a click does. */
usePart(
  () => props.name,
  () => {
    button.value?.focus();
    button.value?.click();
  },
);

/** Most parts are never opened: what opens is made at the first click. */
const wanted = ref(false);
async function turn(): Promise<void> {
  if (!wanted.value) {
    wanted.value = true;
    await nextTick();
  }
  shown.value = !shown.value;
}
/** Lists and calendars that open from within it are part of it, wherever they are drawn. */
onClickOutside(box, () => (shown.value = false), { ignore: [button, ".el-popper"] });

function close(): void {
  shown.value = false;
  void nextTick(() => button.value?.focus());
}

/** A list that is open within it closes first. */
function escaped(event: Event): void {
  if ((event.target as HTMLElement).getAttribute("aria-expanded") === "true") return;
  event.stopPropagation();
  close();
}

/** Whoever opens it by key goes on by key; who is in it already stays where they are. */
function entered(): void {
  if (box.value?.contains(document.activeElement)) return;
  const first =
    box.value?.querySelector<HTMLElement>(".chosen") ??
    box.value?.querySelector<HTMLElement>("input:not([type=checkbox]), select, button:not(:disabled), input");
  first?.focus({ preventScroll: true });
}

/** Up and down go through what can be chosen. */
function walk(event: KeyboardEvent): void {
  if (event.key !== "ArrowDown" && event.key !== "ArrowUp") return;
  const target = event.target as HTMLElement;
  if (target.matches("select, .el-select input, input[type=number], input[type=date]")) return;
  const all = [...(box.value?.querySelectorAll<HTMLElement>("button:not(:disabled), input, select") ?? [])];
  const at = all.indexOf(target);
  const next = all[at + (event.key === "ArrowDown" ? 1 : -1)];
  if (!next) return;
  event.preventDefault();
  next.focus();
}
</script>

<template>
  <button
    ref="button"
    v-bind="$attrs"
    type="button"
    class="part"
    :class="[
      offers || adds ? 'offers' : '',
      adds && !shown ? 'waiting' : '',
      tool ? 'tool' : '',
      framed ? 'framed' : '',
      over ? 'over' : '',
      tone === undefined ? '' : `tone-${Math.min(tone, 4)}`,
    ]"
    :title="about || ABOUT[kindOfPart] || undefined"
    :draggable="at !== undefined"
    :tabindex="adds ? -1 : undefined"
    aria-expanded="false"
    :data-guide="guide"
    :data-test="`part-${name}`"
    @click="turn"
    @keydown.esc="close"
    @keydown="pressed"
    @dragstart="dragged"
    @dragover.prevent="over = at !== undefined"
    @dragleave="over = false"
    @drop.prevent="dropped"
  >
    <component :is="icon" v-if="icon" class="icon" aria-hidden="true" />{{ label
    }}<CaretBottom v-if="tool" class="caret" aria-hidden="true" />
  </button>
  <ElPopover
    v-if="wanted && button"
    :visible="shown"
    :virtual-ref="button"
    virtual-triggering
    placement="bottom-start"
    width="auto"
    :show-arrow="false"
    :teleported="true"
    :hide-after="0"
    transition="at-once"
    @after-enter="entered"
    @after-leave="made = shown"
  >
    <div
      ref="box"
      class="choices"
      :data-guide="guide"
      role="group"
      :aria-label="`Change: ${label}`"
      @keydown.esc.capture="escaped"
      @keydown="walk"
    >
      <slot v-if="made" :close="close" />
    </div>
  </ElPopover>
</template>

<style scoped src="./part.css" />
