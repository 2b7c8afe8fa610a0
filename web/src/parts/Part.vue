<script setup lang="ts">
/** A part of the statement: its words, which open what it can be changed to; removed, moved and dragged by key or pointer. */
import { ElPopover } from "element-plus";
import "element-plus/es/components/popover/style/css";
import { nextTick, onBeforeUnmount, onMounted, ref, watch } from "vue";

const props = defineProps<{
  label: string;
  tone?: number | undefined;
  name: string;
  adds?: boolean;
  about?: string | undefined;
  /** What kind of part it is, and where it stands among its like: it can then be moved. */
  kind?: string | undefined;
  at?: number | undefined;
  removes?: boolean;
}>();
const emit = defineEmits<{ remove: []; move: [from: number, to: number]; open: [now: boolean] }>();
const shown = ref(false);
const over = ref(false);
const button = ref<HTMLButtonElement | null>(null);
const box = ref<HTMLElement | null>(null);
const DRAGGED = "application/x-lofty-part";

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
onMounted(() => window.addEventListener(OPENED, otherOpened));
/** Set by hand: the popover takes this attribute off what opens it. */
function tell(): void {
  button.value?.setAttribute("aria-expanded", String(shown.value));
}
onMounted(() => void nextTick(tell));
watch(shown, tell, { flush: "post" });
onBeforeUnmount(() => window.removeEventListener(OPENED, otherOpened));

function close(): void {
  shown.value = false;
  void nextTick(() => button.value?.focus());
}

/** Whoever opens it by key goes on by key; who is in it already stays where they are. */
function entered(): void {
  if (box.value?.contains(document.activeElement)) return;
  const first =
    box.value?.querySelector<HTMLElement>(".chosen") ??
    box.value?.querySelector<HTMLElement>("input:not([type=checkbox]), select, button:not(:disabled), input");
  first?.focus({ preventScroll: true });
}

function pressed(event: KeyboardEvent): void {
  if ((event.key === "Delete" || event.key === "Backspace") && props.removes) {
    event.preventDefault();
    emit("remove");
  } else if (event.altKey && props.at !== undefined && /^Arrow(Left|Right)$/.test(event.key)) {
    event.preventDefault();
    emit("move", props.at, props.at + (event.key === "ArrowLeft" ? -1 : 1));
  }
}

function dragged(event: DragEvent): void {
  event.dataTransfer?.setData(DRAGGED, `${props.kind}:${props.at}`);
}

function dropped(event: DragEvent): void {
  over.value = false;
  const [kind, from] = (event.dataTransfer?.getData(DRAGGED) ?? "").split(":");
  if (kind !== props.kind || props.at === undefined || from === undefined) return;
  if (Number(from) !== props.at) emit("move", Number(from), props.at);
}

/** Up and down go through what can be chosen. */
function walk(event: KeyboardEvent): void {
  if (event.key !== "ArrowDown" && event.key !== "ArrowUp") return;
  const target = event.target as HTMLElement;
  if (target.matches("select, input[type=number], input[type=date]")) return;
  const all = [...(box.value?.querySelectorAll<HTMLElement>("button:not(:disabled), input, select") ?? [])];
  const at = all.indexOf(target);
  const next = all[at + (event.key === "ArrowDown" ? 1 : -1)];
  if (!next) return;
  event.preventDefault();
  next.focus();
}
</script>

<template>
  <ElPopover
    v-model:visible="shown"
    trigger="click"
    placement="bottom-start"
    width="auto"
    :show-arrow="false"
    :teleported="true"
    :hide-after="0"
    transition="at-once"
    @after-enter="entered"
    @after-leave="made = shown"
  >
    <template #reference>
      <button
        ref="button"
        type="button"
        class="part"
        :class="[
          adds ? 'adds' : '',
          over ? 'over' : '',
          tone === undefined ? '' : `tone-${Math.min(tone, 4)}`,
        ]"
        :title="about || undefined"
        :draggable="at !== undefined"
        :data-test="`part-${name}`"
        @keydown.esc="close"
        @keydown="pressed"
        @dragstart="dragged"
        @dragover.prevent="over = at !== undefined"
        @dragleave="over = false"
        @drop.prevent="dropped"
      >
        {{ label }}
      </button>
    </template>
    <div
      ref="box"
      class="choices"
      role="group"
      :aria-label="`Change: ${label}`"
      @keydown.esc.stop="close"
      @keydown="walk"
    >
      <slot v-if="made" :close="close" />
    </div>
  </ElPopover>
</template>

<style scoped>
.part {
  border: 0;
  border-bottom: 2px solid #948a72;
  background: #ece6d8;
  padding: 0 4px 1px;
  min-height: 24px;
  cursor: pointer;
  border-radius: 2px 2px 0 0;
}
.part:hover {
  filter: brightness(0.96);
}
.over {
  box-shadow: -3px 0 0 var(--wood);
}
.adds {
  border: 1px dashed #b9af9b;
  background: none;
  color: var(--quiet);
  border-radius: 3px;
}
.tone-0 {
  background: #e1eceb;
  border-color: var(--window-0);
}
.tone-1 {
  background: #f6ead0;
  border-color: var(--window-1);
}
.tone-2 {
  background: #ece4f0;
  border-color: var(--window-2);
}
.tone-3 {
  background: #e2e8f2;
  border-color: var(--window-3);
}
.tone-4 {
  background: #f2e3df;
  border-color: var(--window-4);
}
.choices {
  max-width: 380px;
  max-height: 68vh;
  overflow-y: auto;
}
</style>
