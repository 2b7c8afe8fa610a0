<script setup lang="ts">
/** Whole rows of a file, or posted lines, some at a time. */
import { useNumbers } from "@/composables/numbers";
import type { RowsPage } from "@/contract";

const { count } = useNumbers();
/** Rows that are shown at a time. */
const STEP = 20;
defineProps<{ page: RowsPage; caption: string }>();
const emit = defineEmits<{ turn: [offset: number] }>();
</script>

<template>
  <table data-test="found-rows">
    <caption class="quiet">
      {{
        caption
      }}
    </caption>
    <thead>
      <tr>
        <th class="number">Row</th>
        <th v-for="header in page.headers" :key="header">{{ header }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in page.rows" :key="row.row" data-test="found-row">
        <td class="number">{{ row.row }}</td>
        <td v-for="(field, at) in row.fields" :key="at">{{ field }}</td>
      </tr>
    </tbody>
  </table>
  <p class="quiet">
    {{ page.rows.length ? page.offset + 1 : 0 }}–{{ page.offset + page.rows.length }} of
    {{ count(page.total, "row") }}
    <ElButton link :disabled="!page.offset" @click="emit('turn', Math.max(page.offset - STEP, 0))">
      earlier
    </ElButton>
    <ElButton
      link
      :disabled="page.offset + page.rows.length >= page.total"
      @click="emit('turn', page.offset + STEP)"
    >
      next
    </ElButton>
  </p>
</template>

<style scoped src="./found.css" />
