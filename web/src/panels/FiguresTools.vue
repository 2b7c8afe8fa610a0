<script setup lang="ts">
/** What can be done with the figures as they stand: ledgers, statements, copies, files, chart, layout. */
import { Back, DataLine, Grid, List, Right, Search, Share } from "@element-plus/icons-vue";
import type { ElInput } from "element-plus";
import { storeToRefs } from "pinia";
import { ref, watch, toRefs } from "vue";
import { useLocalStorage } from "@vueuse/core";
import type { Layout, SavedStatement } from "@/contract";
import type { Question } from "@/model/statement";
import LayoutChoice from "@/panels/layout/LayoutChoice.vue";
import StatementsMenu from "@/panels/statements/StatementsMenu.vue";
import Part from "@/parts/Part.vue";
import { useSheet } from "@/state/sheet/sheet";
import { useLedgers } from "@/state/ledgers";

defineProps<{
  question: Question;
  hasChart: boolean;
  charted: boolean;
  copied: string;
  canUndo: boolean;
  canRedo: boolean;
}>();
const emit = defineEmits<{
  act: [action: string];
  open: [saved: Pick<SavedStatement, "statement" | "opened" | "layout">];
  lay: [layout: Layout, dragged: boolean];
}>();

const sheet = useSheet();
const { open: ledger, newer } = storeToRefs(useLedgers());

const { answer, answered, layout } = toRefs(sheet);
const box = ref<InstanceType<typeof ElInput> | null>(null);
/** Whether a new version is taken as soon as it is posted; remembered in this browser. */
const YES_OR_NO = {
  read: (text: string) => text === "yes",
  write: (on: boolean) => (on ? "yes" : "no"),
};
const BY_ITSELF = "lofty-abacus/take-new-versions";
const byItself = useLocalStorage(BY_ITSELF, false, { serializer: YES_OR_NO });
watch([byItself, newer], ([on, version]) => {
  if (on && version) emit("act", "newest");
});
/** What is searched for stands in the address, too; typing it is no step for each letter, and nothing is put in between. */
const search = ref(layout.value.search);
watch(
  () => layout.value.search,
  (text) => {
    if (document.activeElement !== box.value?.input) search.value = text;
  },
);
function find(text: string): void {
  search.value = text;
  emit("lay", { ...layout.value, search: text }, true);
}
/** What can be handed out, in groups: [what is done, how it is called]. */
const HANDED_OUT = [
  ["copy-table", "Copy the table, or the selected cells"],
  ["copy-link", "Copy a short link to what is shown"],
  ["copy-address", "Copy the whole address, which can be read"],
  ["copy-sentence", "Copy the statement as a sentence"],
  ["copy-statement", "Copy the statement as JSON"],
  ["save-csv", "Save as CSV, exact figures"],
  ["save-csv-shown", "Save as CSV, figures as shown"],
  ["save-xlsx", "Save as Workbook with live formulas"],
  ["save-json", "Save as JSON"],
] as const;
const CHART_HANDED_OUT = [
  ["save-svg", "Save the chart as SVG"],
  ["save-png", "Save the chart as PNG"],
] as const;
defineExpose({ focusSearch: () => box.value?.focus() });
</script>

<template>
  <div class="tools">
    <StatementsMenu :question="question" @open="(saved) => emit('open', saved)" />
    <span class="steps">
      <ElTooltip content="One step back" :show-after="400">
        <ElButton
          text
          :icon="Back"
          aria-label="Undo"
          :disabled="!canUndo"
          data-test="undo"
          @click="emit('act', 'undo')"
        />
      </ElTooltip>
      <ElTooltip content="One step forth" :show-after="400">
        <ElButton
          text
          :icon="Right"
          aria-label="Redo"
          :disabled="!canRedo"
          data-test="redo"
          @click="emit('act', 'redo')"
        />
      </ElTooltip>
    </span>
    <ElInput
      ref="box"
      class="find"
      :model-value="search"
      :prefix-icon="Search"
      clearable
      placeholder="Find a row"
      aria-label="Search in the rows"
      data-test="search-rows"
      @input="find"
      @clear="find('')"
      @keydown.esc="find('')"
    />
    <ElButton
      v-if="hasChart"
      text
      :icon="DataLine"
      :aria-pressed="charted"
      data-test="toggle-chart"
      @click="emit('act', 'chart')"
    >
      Chart
    </ElButton>
    <Part v-if="answer && answered" name="layout" label="Layout" :icon="Grid" tool>
      <LayoutChoice
        :answer="answer"
        :statement="answered"
        :layout="layout"
        @lay="(next) => emit('lay', next, false)"
      />
    </Part>
    <ElButton text :icon="List" data-test="check-pasted" @click="emit('act', 'pasted')">
      Check against
    </ElButton>
    <Part name="save" :label="copied || 'Hand out'" :icon="Share" tool framed>
      <template #default="{ close }">
        <div class="kinds">
          <ElButton
            v-for="[act, words] in HANDED_OUT"
            :key="act"
            text
            :data-test="act"
            @click="(close(), emit('act', act))"
            >{{ words }}</ElButton
          >
          <template v-if="hasChart && charted">
            <ElButton
              v-for="[act, words] in CHART_HANDED_OUT"
              :key="act"
              text
              :data-test="act"
              @click="(close(), emit('act', act))"
              >{{ words }}</ElButton
            >
          </template>
          <ElButton text data-test="print" @click="(close(), emit('act', 'print'))">A page to print</ElButton>
        </div>
      </template>
    </Part>
    <ElButton text data-test="open-palette" @click="emit('act', 'palette')"
      >Actions <kbd>Ctrl+K</kbd></ElButton
    >
    <ElTooltip content="Keys" :show-after="400">
      <ElButton text aria-label="Keys" data-test="open-keys" @click="emit('act', 'keys')"
        ><kbd>?</kbd></ElButton
      >
    </ElTooltip>
  </div>
  <p v-if="newer" class="newer" role="status" data-test="newer">
    Version {{ newer }} is posted; these figures are of version {{ ledger?.version }}.
    <ElButton size="small" data-test="take-newest" @click="emit('act', 'newest')"
      >Take it <kbd>n</kbd></ElButton
    >
    <ElCheckbox v-model="byItself" size="small" data-test="take-by-itself">always by itself</ElCheckbox>
  </p>
</template>

<style scoped>
.tools {
  flex: none;
  display: flex;
  align-items: center;
  gap: 4px;
  min-height: 42px;
}
.steps {
  display: flex;
  margin-right: auto;
}
.steps :deep(.el-button) {
  padding: 8px;
}
.find {
  width: 170px;
  min-width: 110px;
  flex: 0 1 auto;
}
.tools :deep(.el-button.is-text) {
  padding: 8px 10px;
}
.kinds {
  display: grid;
  justify-items: start;
}
.newer {
  display: flex;
  align-items: center;
  gap: 10px;
  margin: 0;
  padding: 2px 12px;
  background: var(--warn);
  border-left: 4px solid var(--window-1);
}
</style>
