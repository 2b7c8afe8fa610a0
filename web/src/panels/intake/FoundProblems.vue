<script setup lang="ts">
/** Texts that are no value of their column, or say otherwise than another row; each can be read as another text. */
import { ref } from "vue";
import type { Correction, Finding, Mapping } from "@/contract";

defineProps<{ finding: Finding; mapping: Mapping; correctable: boolean }>();
const emit = defineEmits<{ correct: [correction: Correction] }>();
const texts = ref<Record<string, string>>({});
const everywhere = ref(true);

/** Where a text stands: what is typed there outlives the next check. */
function place(problem: Finding["problems"][number]): string {
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
  <table v-if="finding.problems.length">
    <thead>
      <tr>
        <th class="number">Row</th>
        <th>Column</th>
        <th>Text</th>
        <th>Why</th>
        <th v-if="correctable">Read it as</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="problem in finding.problems" :key="place(problem)" data-test="problem">
        <td class="number">{{ problem.row || "" }}</td>
        <td>{{ problem.column || "whole row" }}</td>
        <td>{{ problem.text || "(blank)" }}</td>
        <td>{{ problem.reason }}</td>
        <td v-if="correctable">
          <form
            v-if="mapping.columns.some((use) => use.column === problem.column)"
            @submit.prevent="correct(problem.column, problem.text, problem.row, place(problem))"
          >
            <ElInput
              v-model="texts[place(problem)]"
              :aria-label="`Read ${problem.text} in row ${problem.row} as`"
              :placeholder="problem.text"
              :data-test="`correct-${problem.row}`"
            />
            <ElButton native-type="submit" :data-test="`take-${problem.row}`">Take</ElButton>
          </form>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped src="./found.css" />

<style scoped>
form {
  display: flex;
  gap: 4px;
}
form input {
  width: 130px;
}
label {
  margin-left: 10px;
}
</style>
