<script setup lang="ts">
/** What can be done with the figures as they stand: ledgers, statements, copies, files, chart, layout. */
import { storeToRefs } from "pinia";
import { ref, watch } from "vue";
import type { SavedStatement } from "@/contract";
import type { Question } from "@/model/statement";
import LayoutChoice from "@/panels/LayoutChoice.vue";
import StatementsMenu from "@/panels/StatementsMenu.vue";
import Part from "@/parts/Part.vue";
import { useFigures } from "@/state/figures";
import { useLedgers } from "@/state/ledgers";
import { useView } from "@/state/view";

defineProps<{ question: Question; hasChart: boolean; charted: boolean; copied: string }>();
const emit = defineEmits<{
  act: [action: string];
  open: [saved: Pick<SavedStatement, "statement" | "opened" | "layout">];
}>();

const view = useView();
const { open: ledger, active, newer } = storeToRefs(useLedgers());
const { layout, canUndo, canRedo } = storeToRefs(view);
const { answer, answered } = storeToRefs(useFigures());
const box = ref<HTMLInputElement | null>(null);
/** Whether a new version is taken as soon as it is posted; remembered in this browser. */
const BY_ITSELF = "lofty-abacus/take-new-versions";
const byItself = ref(localStorage.getItem(BY_ITSELF) === "yes");
watch([byItself, newer], ([on, version]) => {
  localStorage.setItem(BY_ITSELF, on ? "yes" : "no");
  if (on && version) emit("act", "newest");
});
/** What is searched for stands in the address, too; typing it is no step for each letter, and nothing is put in between. */
const search = ref(layout.value.search);
watch(
  () => layout.value.search,
  (text) => {
    if (document.activeElement !== box.value) search.value = text;
  },
);
function find(text: string): void {
  search.value = text;
  view.lay({ ...layout.value, search: text }, true);
}
defineExpose({ focusSearch: () => box.value?.focus() });
</script>

<template>
  <div class="tools">
    <label v-if="active.length > 1" class="hidden" for="ledger-choice">Ledger</label>
    <select
      v-if="active.length > 1"
      id="ledger-choice"
      :value="ledger?.name"
      data-test="ledger-choice"
      @change="view.switchLedger(($event.target as HTMLSelectElement).value)"
    >
      <option v-for="each in active" :key="each.name" :value="each.name">{{ each.name }}</option>
    </select>
    <StatementsMenu :question="question" @open="(saved) => emit('open', saved)" />
    <span>
      <button type="button" class="plain" :disabled="!canUndo" data-test="undo" @click="emit('act', 'undo')">
        Undo
      </button>
      ·
      <button type="button" class="plain" :disabled="!canRedo" data-test="redo" @click="emit('act', 'redo')">
        Redo
      </button>
    </span>
    <Part name="save" :label="copied || 'Copy, save …'" adds>
      <template #default="{ close }">
        <div class="kinds">
          <button type="button" data-test="copy-table" @click="(close(), emit('act', 'copy-table'))">
            Copy the table, or the selected cells
          </button>
          <button type="button" data-test="copy-link" @click="(close(), emit('act', 'copy-link'))">
            Copy a short link to what is shown
          </button>
          <button type="button" data-test="copy-address" @click="(close(), emit('act', 'copy-address'))">
            Copy the whole address, which can be read
          </button>
          <button type="button" data-test="copy-sentence" @click="(close(), emit('act', 'copy-sentence'))">
            Copy the statement as a sentence
          </button>
          <button type="button" data-test="copy-statement" @click="(close(), emit('act', 'copy-statement'))">
            Copy the statement as JSON
          </button>
          <button type="button" data-test="save-csv" @click="(close(), emit('act', 'save-csv'))">
            Save as CSV, exact figures
          </button>
          <button type="button" data-test="save-csv-shown" @click="(close(), emit('act', 'save-csv-shown'))">
            Save as CSV, figures as shown
          </button>
          <button type="button" data-test="save-xlsx" @click="(close(), emit('act', 'save-xlsx'))">
            Save as Workbook with live formulas
          </button>
          <button type="button" data-test="save-json" @click="(close(), emit('act', 'save-json'))">
            Save as JSON
          </button>
          <template v-if="hasChart && charted">
            <button type="button" data-test="save-svg" @click="(close(), emit('act', 'save-svg'))">
              Save the chart as SVG
            </button>
            <button type="button" data-test="save-png" @click="(close(), emit('act', 'save-png'))">
              Save the chart as PNG
            </button>
          </template>
          <button type="button" data-test="print" @click="(close(), emit('act', 'print'))">
            A page to print
          </button>
        </div>
      </template>
    </Part>
    <Part v-if="answer && answered" name="layout" label="Layout" adds>
      <LayoutChoice :answer="answer" :statement="answered" :layout="layout" @lay="(next) => view.lay(next)" />
    </Part>
    <input
      ref="box"
      :value="search"
      type="search"
      size="13"
      placeholder="Search rows"
      aria-label="Search in the rows"
      data-test="search-rows"
      @input="find(($event.target as HTMLInputElement).value)"
      @keydown.esc="find('')"
    />
    <button
      v-if="hasChart"
      type="button"
      class="plain"
      :aria-pressed="charted"
      data-test="toggle-chart"
      @click="emit('act', 'chart')"
    >
      {{ charted ? "Hide the chart" : "Show a chart" }}
    </button>
    <button type="button" class="plain" data-test="check-pasted" @click="emit('act', 'pasted')">
      Check against
    </button>
    <button type="button" class="plain" data-test="open-palette" @click="emit('act', 'palette')">
      Actions <kbd>Ctrl+K</kbd>
    </button>
    <button type="button" class="plain" aria-label="Keys" data-test="open-keys" @click="emit('act', 'keys')">
      <kbd>?</kbd>
    </button>
    <p v-if="newer" class="newer" role="status" data-test="newer">
      Version {{ newer }} is posted; these figures are of version {{ ledger?.version }}.
      <button type="button" data-test="take-newest" @click="emit('act', 'newest')">
        Take it <kbd>n</kbd>
      </button>
      <label><input v-model="byItself" type="checkbox" data-test="take-by-itself" /> always by itself</label>
    </p>
  </div>
</template>

<style scoped>
.tools {
  flex: none;
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  align-content: flex-start;
  gap: 4px 12px;
  width: 330px;
  padding-top: 4px;
}
.tools select {
  max-width: 180px;
}
.kinds {
  display: grid;
  gap: 4px;
  justify-items: start;
}
.kinds button {
  border: 0;
  background: none;
  padding: 3px 8px;
  cursor: pointer;
}
.kinds button:hover {
  background: var(--soft);
}
.newer {
  width: 100%;
  margin: 2px 0 0;
  padding: 4px 8px;
  background: var(--warn);
  border-left: 4px solid var(--window-1);
}
</style>
