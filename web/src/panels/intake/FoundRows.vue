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
  <p class="quiet">{{ caption }}</p>
  <ElTable :data="page.rows" row-key="row" size="small" :aria-label="caption" data-test="found-rows">
    <ElTableColumn prop="row" label="Row" width="70" align="right" />
    <ElTableColumn
      v-for="(header, at) in page.headers"
      :key="header"
      v-slot="{ row }"
      :label="header"
      min-width="110"
      show-overflow-tooltip
      >{{ row.fields[at] }}</ElTableColumn
    >
  </ElTable>
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

<style scoped>
p {
  margin: 4px 0;
}
</style>
