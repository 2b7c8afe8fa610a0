<script setup lang="ts">
/** What can be done with the figures as they stand: ledgers, statements, copies, files, chart, layout. */
import { Back, DataLine, Grid, List, Right, Search } from "@element-plus/icons-vue";
import type { ElInput } from "element-plus";
import { ref, watch, toRefs } from "vue";
import type { Layout, SavedStatement } from "@/contract";
import type { Question } from "@/model/statement";
import LayoutChoice from "@/panels/layout/LayoutChoice.vue";
import StatementsMenu from "@/panels/statements/StatementsMenu.vue";
import HandOut from "@/panels/HandOut.vue";
import NewerVersion from "@/panels/NewerVersion.vue";
import Part from "@/parts/Part.vue";
import { useSheet } from "@/state/sheet/sheet";

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
  open: [saved: SavedStatement];
  lay: [layout: Layout, dragged: boolean];
}>();

const sheet = useSheet();

const { answer, answered, layout } = toRefs(sheet);
const box = ref<InstanceType<typeof ElInput> | null>(null);
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
      v-if="hasChart && layout.page === 'figures'"
      text
      :icon="DataLine"
      :aria-pressed="charted"
      data-test="toggle-chart"
      @click="emit('act', 'chart')"
    >
      Chart
    </ElButton>
    <Part
      v-if="answer && answered && layout.page === 'figures'"
      name="layout"
      label="Layout"
      :icon="Grid"
      tool
    >
      <LayoutChoice
        :answer="answer"
        :statement="answered"
        :layout="layout"
        @lay="(next) => emit('lay', next, false)"
      />
    </Part>
    <ElButton
      v-if="layout.page === 'figures'"
      text
      :icon="List"
      data-test="check-pasted"
      @click="emit('act', 'pasted')"
    >
      Check against
    </ElButton>
    <HandOut
      :copied="copied"
      :has-chart="hasChart && (charted || layout.page !== 'figures')"
      @act="(action) => emit('act', action)"
    />
    <ElButton text data-test="open-palette" @click="emit('act', 'palette')"
      >Actions <kbd>Ctrl+K</kbd></ElButton
    >
    <ElTooltip content="Help and keys" :show-after="400">
      <ElButton text aria-label="Help and keys" data-test="open-keys" @click="emit('act', 'keys')"
        ><kbd>?</kbd></ElButton
      >
    </ElTooltip>
  </div>
  <NewerVersion @take="emit('act', 'newest')" />
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
</style>
