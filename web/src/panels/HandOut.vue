<script setup lang="ts">
/** What can be handed out: copies, files, pictures of the chart, a page to print. */
import { Share } from "@element-plus/icons-vue";
import Part from "@/parts/Part.vue";

defineProps<{ copied: string; hasChart: boolean }>();
const emit = defineEmits<{ act: [action: string] }>();

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
</script>

<template>
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
        <template v-if="hasChart">
          <ElButton
            v-for="[act, words] in CHART_HANDED_OUT"
            :key="act"
            text
            :data-test="act"
            @click="(close(), emit('act', act))"
            >{{ words }}</ElButton
          >
        </template>
        <ElButton text data-test="to-brief" @click="(close(), emit('act', 'to-brief'))"
          >Put it on a brief</ElButton
        >
        <ElButton text data-test="to-alert" @click="(close(), emit('act', 'to-alert'))"
          >Alert: tell me when a figure is below or above</ElButton
        >
        <ElButton text data-test="print" @click="(close(), emit('act', 'print'))">A page to print</ElButton>
      </div>
    </template>
  </Part>
</template>

<style scoped>
.kinds {
  display: grid;
  justify-items: start;
}
</style>
