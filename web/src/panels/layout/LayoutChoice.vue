<script setup lang="ts">
/** How the table is laid out: its columns, how figures are written, and the figures of single measures. */
import { PLAIN } from "@/contract/vocabulary";
import type { Answer, Layout, Statement } from "@/contract";
import LayoutColumns from "@/panels/layout/LayoutColumns.vue";
import LayoutFigures from "@/panels/layout/LayoutFigures.vue";
import LayoutMeasures from "@/panels/layout/LayoutMeasures.vue";

defineProps<{ answer: Answer; statement: Statement; layout: Layout }>();
const emit = defineEmits<{ lay: [layout: Layout] }>();
</script>

<template>
  <div class="layout" data-test="layout-choice">
    <ElTabs model-value="order">
      <ElTabPane label="Columns" name="order">
        <LayoutColumns part="order" :answer="answer" :layout="layout" @lay="(next) => emit('lay', next)" />
      </ElTabPane>
      <ElTabPane label="Headings" name="headings">
        <LayoutColumns part="headings" :answer="answer" :layout="layout" @lay="(next) => emit('lay', next)" />
      </ElTabPane>
      <ElTabPane label="Figures" name="figures">
        <LayoutFigures
          :answer="answer"
          :statement="statement"
          :layout="layout"
          @lay="(next) => emit('lay', next)"
        />
      </ElTabPane>
      <ElTabPane label="One measure" name="measures">
        <LayoutMeasures :answer="answer" :layout="layout" @lay="(next) => emit('lay', next)" />
      </ElTabPane>
    </ElTabs>
    <ElButton link data-test="layout-plain" @click="emit('lay', PLAIN)"> All as it was </ElButton>
  </div>
</template>

<style scoped>
.layout {
  min-width: 340px;
}
</style>
