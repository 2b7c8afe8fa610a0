<script setup lang="ts">
/** What a changed calendar does to the statements, told before it is kept. */
import { useNumbers } from "@/composables/numbers";
import type { CalendarPreview } from "@/contract";

const { count } = useNumbers();
defineProps<{ year: CalendarPreview; changed: boolean; done: string }>();
const emit = defineEmits<{ confirm: []; back: [] }>();
</script>

<template>
  <section class="changes" data-test="calendar-changes">
    <template v-if="changed">
      <h2>
        {{
          year.changes.length
            ? `This changes ${count(year.changes.length, "statement")}; ${year.unchanged} stay as they are`
            : `No statement changes: all ${year.unchanged} stay as they are`
        }}
      </h2>
      <ElTable v-if="year.changes.length" :data="year.changes" row-key="name" size="small">
        <ElTableColumn v-slot="{ row }" label="Statement" min-width="160">
          <span data-test="calendar-change">{{ row.name }}</span>
        </ElTableColumn>
        <ElTableColumn v-slot="{ row }" label="Windows now" min-width="220">{{
          row.before.join("; ")
        }}</ElTableColumn>
        <ElTableColumn v-slot="{ row }" label="Windows then" min-width="220">
          {{
            row.refused ||
            (row.after.join("; ") === row.before.join("; ")
              ? "the same range in other periods"
              : row.after.join("; "))
          }}
        </ElTableColumn>
      </ElTable>
      <p>
        <ElButton class="main" data-test="calendar-keep" @click="emit('confirm')">
          Keep this calendar
        </ElButton>
        <ElButton link @click="emit('back')">As it was</ElButton>
      </p>
    </template>
    <p v-else class="quiet" role="status">
      {{ done || "Change something, and what it does to the statements is told here before it is kept." }}
    </p>
  </section>
</template>

<style scoped>
h2 {
  font-size: 0.875rem;
  margin: 0 0 6px;
}
.changes {
  margin-top: 12px;
}
</style>
