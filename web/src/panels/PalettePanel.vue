<script setup lang="ts">
/** Actions and parts of the statement, typed and completed from the keyboard; the statement is written part by part. */
import { computed, nextTick, onMounted, ref, watch } from "vue";
import type { Answer, LedgerDescription, SavedStatement, Statement } from "@/contract";
import { keysOf } from "@/model/keys";
import { useLedgers } from "@/state/ledgers";
import { useSheet } from "@/state/sheet/sheet";
import { useStatements } from "@/state/statements";
import { ACTIONS } from "@/words/actions";
import { matching, memberPhrase, phrases, wherePhrases, type Phrase } from "@/words/phrases";
import { piecesOf } from "@/words/told";
import { sortable, sortPhrases, typedPhrases } from "@/words/typed";

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

interface Item {
  words: string;
  action?: string;
  phrase?: Phrase;
  saved?: SavedStatement;
}
const MOST = 60;
const statements = useStatements();
/** Statements that are kept, and the common questions, are opened by their names. */
const kept = computed<Item[]>(() =>
  [...statements.found.saved, ...statements.found.offered].map((saved) => ({
    words: `open ${saved.name}`,
    saved,
  })),
);
const ledgers = useLedgers();
const typed = ref("");
const at = ref(0);
const members = ref<Phrase[]>([]);
const box = ref<HTMLInputElement | null>(null);
const list = ref<HTMLElement | null>(null);

const actions: Item[] = Object.entries(ACTIONS)
  .filter(([action]) => action !== "palette")
  .map(([action, words]) => ({ words, action }));
const sheet = useSheet();
const around = computed(() => ({
  ledger: props.ledger,
  said: piecesOf(props.statement, sheet.told),
  told: sheet.told?.words ?? null,
  asOf: props.asOf,
}));
const parts = computed<Item[]>(() =>
  [...phrases(props.statement, around.value), ...sortPhrases(props.statement, sortable(props.answer))].map(
    itemOf,
  ),
);
const found = computed<Item[]>(() => {
  const text = typed.value;
  const own = [...typedPhrases(props.statement, around.value, text), ...members.value];
  // What is typed, and members, are found by what they are, not by the words; the nearest words come first all the same.
  const found = matching([...own.map(itemOf), ...actions, ...parts.value, ...kept.value], text);
  const rest = own.map(itemOf);
  const all = text.trim() ? [...found, ...rest] : actions;
  const known = new Set<string>();
  return all.filter((each) => !known.has(each.words) && known.add(each.words)).slice(0, MOST);
});

function itemOf(phrase: Phrase): Item {
  return { words: phrase.words, phrase };
}

watch(typed, async (text) => {
  at.value = 0;
  const asked = memberPhrase(text, props.ledger);
  if (!asked) {
    members.value = [];
    return;
  }
  const answer = await ledgers.members(asked.dimension, asked.search);
  if (text === typed.value) members.value = wherePhrases(props.statement, asked.dimension, answer.members);
});
watch(found, () => (at.value = Math.min(at.value, Math.max(found.value.length - 1, 0))));
onMounted(() => {
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

function pressed(event: KeyboardEvent): void {
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
      <input
        ref="box"
        v-model="typed"
        type="text"
        role="combobox"
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
input {
  width: 100%;
  font-size: 16px;
  padding: 6px 8px;
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
  font-size: 12px;
}
</style>
