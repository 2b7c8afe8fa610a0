<script setup lang="ts">
/** The blocks of a brief in their order: chosen, moved by drag and keys, taken away. */
import { Bottom, Delete, Top } from "@element-plus/icons-vue";
import { nextTick, ref } from "vue";
import type { Block } from "@/contract";
import { figureNumber } from "@/model/brief";
import { blockName } from "@/words/briefs";

const props = defineProps<{
  blocks: Block[];
  chosen: number | null;
  /** What blocks of figures are called where they have no title, in their order. */
  captions: string[];
}>();
/** What a block is called: by its title, else by what it shows. */
function nameOf(at: number): string {
  const block = props.blocks[at];
  if (!block) return "";
  const number = figureNumber(props.blocks, at);
  return blockName(block, props.captions[number]);
}
const emit = defineEmits<{ choose: [at: number]; move: [from: number, to: number]; remove: [at: number] }>();
const DRAGGED = "application/x-lofty-block";
const over = ref<number | null>(null);
const list = ref<HTMLElement | null>(null);

function dropped(event: DragEvent, at: number): void {
  over.value = null;
  const from = event.dataTransfer?.getData(DRAGGED);
  if (from) emit("move", Number(from), at);
}

function pressed(event: KeyboardEvent, at: number): void {
  if (event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
    event.preventDefault();
    const to = at + (event.key === "ArrowUp" ? -1 : 1);
    if (to < 0 || to >= props.blocks.length) return;
    emit("move", at, to);
    // Before the next key is looked at: whoever holds the keys moves one block, not its neighbours.
    void nextTick(() => list.value?.querySelectorAll<HTMLElement>(".name")[to]?.focus());
  } else if (event.key === "Delete") {
    event.preventDefault();
    emit("remove", at);
  }
}
</script>

<template>
  <ol ref="list" class="blocks" aria-label="Blocks" data-test="blocks">
    <li
      v-for="(_, at) in blocks"
      :key="at"
      draggable="true"
      :class="{ on: at === chosen, over: at === over }"
      data-test="block"
      @dragstart="(event) => event.dataTransfer?.setData(DRAGGED, String(at))"
      @dragover.prevent="over = at"
      @dragleave="over = null"
      @drop.prevent="(event) => dropped(event, at)"
    >
      <ElButton
        text
        class="name"
        :aria-pressed="at === chosen"
        :title="`${nameOf(at)} (Alt with the arrows moves it, Delete takes it away)`"
        @click="emit('choose', at)"
        @keydown="(event: KeyboardEvent) => pressed(event, at)"
      >
        {{ nameOf(at) }}
      </ElButton>
      <span class="does">
        <ElButton text :icon="Top" :disabled="!at" aria-label="Move up" @click="emit('move', at, at - 1)" />
        <ElButton
          text
          :icon="Bottom"
          :disabled="at === blocks.length - 1"
          aria-label="Move down"
          @click="emit('move', at, at + 1)"
        />
        <ElButton
          text
          :icon="Delete"
          aria-label="Take away"
          data-test="remove-block"
          @click="emit('remove', at)"
        />
      </span>
    </li>
  </ol>
</template>

<style scoped>
.blocks {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  align-items: center;
  border-left: 3px solid transparent;
  border-bottom: 1px solid var(--line);
}
li.on {
  border-left-color: var(--bead);
  background: var(--soft);
}
li.over {
  border-top: 2px solid var(--window-0);
}
.name {
  flex: 1;
  min-width: 0;
  justify-content: flex-start;
  padding: 6px 8px;
  cursor: grab;
}
.name :deep(span) {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  display: block;
}
.does {
  display: flex;
  opacity: 0;
}
li:hover .does,
li:focus-within .does,
li.on .does {
  opacity: 1;
}
.does :deep(.el-button) {
  margin: 0;
  padding: 4px;
  min-width: 26px;
  min-height: 26px;
}
</style>
