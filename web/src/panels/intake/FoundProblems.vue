<script setup lang="ts">
/** Texts that are no value of their column, or say otherwise than another row; each can be read as another text. */
import { ref } from "vue";
import type { Correction, Finding, Mapping } from "@/contract";

defineProps<{ finding: Finding; mapping: Mapping; correctable: boolean }>();
const emit = defineEmits<{ correct: [correction: Correction] }>();
const texts = ref<Record<string, string>>({});
const everywhere = ref(true);

/** Where a text stands: what is typed there outlives the next check. */
function place(problem: { row?: number; column?: string }): string {
  return `${problem.row} ${problem.column}`;
}

function correct(column: string, text: string, row: number, key: string): void {
  const to = texts.value[key];
  if (to === undefined || to === text) return;
  emit("correct", { column, text, to, row: everywhere.value && text ? null : row });
}
</script>

<template>
  <ElCheckbox v-if="correctable" v-model="everywhere"
    >a correction holds wherever the text stands, and is remembered</ElCheckbox
  >
  <ElTable v-if="finding.problems.length" :data="finding.problems" :row-key="place" size="small">
    <ElTableColumn v-slot="{ row }" label="Row" width="70" align="right">
      <span data-test="problem">{{ row.row || "" }}</span>
    </ElTableColumn>
    <ElTableColumn v-slot="{ row }" label="Column" min-width="110">
      {{ row.column || "whole row" }}
    </ElTableColumn>
    <ElTableColumn v-slot="{ row }" label="Text" min-width="110">{{ row.text || "(blank)" }}</ElTableColumn>
    <ElTableColumn prop="reason" label="Why" min-width="200" />
    <ElTableColumn v-if="correctable" v-slot="{ row }" label="Read it as" width="230">
      <form
        v-if="mapping.columns.some((use) => use.column === row.column)"
        @submit.prevent="correct(row.column, row.text, row.row, place(row))"
      >
        <ElInput
          v-model="texts[place(row)]"
          :aria-label="`Read ${row.text} in row ${row.row} as`"
          :placeholder="row.text"
          :data-test="`correct-${row.row}`"
        />
        <ElButton native-type="submit" :data-test="`take-${row.row}`">Read so</ElButton>
      </form>
    </ElTableColumn>
  </ElTable>
</template>

<style scoped>
form {
  display: flex;
  gap: 4px;
}
</style>
