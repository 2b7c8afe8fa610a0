<script setup lang="ts">
/** Actions and parts of the statement, typed and completed from the keyboard; the statement is written part by part. */
import type { InputInstance } from "element-plus";
import { nextTick, onMounted, ref, watch } from "vue";
import type { Answer, LedgerDescription, SavedStatement, Statement } from "@/contract";
import { keysOf } from "@/model/keys";
import { usePaletteItems, type Item } from "@/panels/paletteItems";
import { useStatements } from "@/state/statements";

const props = defineProps<{
  statement: Statement;
  ledger: LedgerDescription;
  asOf: string;
  answer: Answer | null;
}>();
const emit = defineEmits<{
  act: [action: string];
  open: [saved: SavedStatement];
  change: [statement: Statement];
  close: [];
}>();

const typed = ref("");
const statements = useStatements();
const at = ref(0);
const box = ref<InputInstance | null>(null);
const list = ref<HTMLElement | null>(null);

const found = usePaletteItems(props, typed);
watch(typed, () => (at.value = 0));
watch(found, () => (at.value = Math.min(at.value, Math.max(found.value.length - 1, 0))));
onMounted(() => {
  // The component keeps the role of a field for itself.
  box.value?.input?.setAttribute("role", "combobox");
  box.value?.focus();
  void statements.refresh(props.ledger.name);
});

function take(item: Item | undefined): void {
  if (!item) return;
  if (item.action) {
    emit("close");
    emit("act", item.action);
  } else if (item.saved) {
    emit("close");
    emit("open", item.saved);
  } else if (item.phrase?.statement) {
    // The sentence goes on: the next part can be typed at once.
    emit("change", item.phrase.statement);
    typed.value = "";
    box.value?.focus();
  } else {
    typed.value = item.words.replace("…", "");
    box.value?.focus();
  }
}

async function step(by: number): Promise<void> {
  at.value = Math.min(Math.max(at.value + by, 0), found.value.length - 1);
  await nextTick();
  list.value?.querySelector(".on")?.scrollIntoView({ block: "nearest" });
}

function pressed(event: Event | KeyboardEvent): void {
  if (!(event instanceof KeyboardEvent)) return;
  if (event.key === "ArrowDown") void step(1);
  else if (event.key === "ArrowUp") void step(-1);
  else if (event.key === "Enter") take(found.value[at.value]);
  else if (event.key === "Tab" && found.value[at.value]) typed.value = found.value[at.value]?.words ?? "";
  else if (event.key === "Escape") emit("close");
  else return;
  event.preventDefault();
  event.stopPropagation();
}
</script>

<template>
  <div class="veil" @click.self="emit('close')">
    <section
      class="palette"
      role="dialog"
      aria-modal="true"
      aria-label="Actions and statement"
      data-test="palette"
    >
      <ElInput
        ref="box"
        v-model="typed"
        size="large"
        aria-expanded="true"
        aria-controls="palette-list"
        :aria-activedescendant="found.length ? `palette-${at}` : undefined"
        aria-label="An action, or a part of the statement"
        placeholder="by product · against 3 years back · where region is … · open Year to date"
        spellcheck="false"
        data-test="palette-text"
        @keydown="pressed"
      />
      <ul id="palette-list" ref="list" role="listbox" aria-label="What fits">
        <li
          v-for="(item, place) in found"
          :id="`palette-${place}`"
          :key="`${item.action ?? ''} ${item.words}`"
          role="option"
          :aria-selected="place === at"
          :class="{ on: place === at }"
          data-test="palette-item"
          @click="take(item)"
          @mousemove="at = place"
        >
          <span>{{ item.words }}</span>
          <small v-if="item.action"
            ><kbd v-for="each in keysOf(item.action)" :key="each">{{ each }}</kbd></small
          >
          <small v-else>{{ item.saved ? item.saved.folder || "kept" : "statement" }}</small>
        </li>
      </ul>
      <p v-if="!found.length" class="quiet">Nothing is called that. Try “by”, “against”, “for” or “where”.</p>
      <p class="quiet hint">
        Enter takes it, Tab completes the words, Esc closes. The statement is changed part by part.
      </p>
    </section>
  </div>
</template>

<style scoped>
.veil {
  align-items: start;
  padding-top: 9vh;
}
.palette {
  width: min(640px, 94vw);
  background: var(--sheet);
  border: 1px solid var(--line);
  border-top: 4px solid var(--wood);
  padding: 10px;
}
ul {
  list-style: none;
  margin: 8px 0 4px;
  padding: 0;
  max-height: 50vh;
  overflow-y: auto;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 4px 8px;
  border-left: 3px solid transparent;
  cursor: pointer;
}
.on {
  background: var(--soft);
  border-color: var(--wood);
}
small {
  color: var(--quiet);
}
kbd {
  margin-left: 6px;
}
p {
  margin: 4px 8px;
}
.hint {
  font-size: 0.75rem;
}
</style>
