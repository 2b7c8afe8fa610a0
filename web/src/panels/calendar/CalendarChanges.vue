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
      <table v-if="year.changes.length">
        <thead>
          <tr>
            <th scope="col">Statement</th>
            <th scope="col">Windows now</th>
            <th scope="col">Windows then</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in year.changes" :key="each.name" data-test="calendar-change">
            <th scope="row">{{ each.name }}</th>
            <td>{{ each.before.join("; ") }}</td>
            <td>
              {{
                each.refused ||
                (each.after.join("; ") === each.before.join("; ")
                  ? "the same range in other periods"
                  : each.after.join("; "))
              }}
            </td>
          </tr>
        </tbody>
      </table>
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
  font-size: 14px;
  margin: 0 0 6px;
}
.changes {
  margin-top: 12px;
}
table {
  border-collapse: collapse;
  font-size: 12px;
}
th,
td {
  text-align: left;
  padding: 3px 14px 3px 0;
  border-bottom: 1px solid var(--line);
  vertical-align: top;
}
</style>
