<script setup lang="ts">
/** The holidays of a calendar: added one or as a pasted list, and taken back. */
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import { ref } from "vue";

const { dayText } = useDays();

const { count } = useNumbers();
const holidays = defineModel<string[]>({ required: true });
const typed = ref("");

function add(): void {
  const days = typed.value.match(/\d{4}-\d{2}-\d{2}/g) ?? [];
  holidays.value = [...new Set([...holidays.value, ...days])].sort();
  if (days.length) typed.value = "";
}
</script>

<template>
  <fieldset>
    <legend>Holidays, {{ count(holidays.length, "day") }}</legend>
    <p class="holidays">
      <span v-for="each in holidays" :key="each"
        >{{ dayText(each)
        }}<ElButton
          link
          :aria-label="`${dayText(each)} is no holiday`"
          @click="holidays = holidays.filter((other) => other !== each)"
        >
          ✕
        </ElButton></span
      >
    </p>
    <p class="adding">
      <ElInput
        v-model="typed"
        placeholder="2026-05-01, 2026-12-25 …"
        aria-label="Holidays to add, one or a pasted list"
        data-test="calendar-holiday"
        @keydown.enter.prevent="add"
      />
      <ElButton data-test="calendar-add" @click="add">Add</ElButton>
    </p>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 1px solid var(--line);
  padding: 6px 10px;
  margin: 0;
}
.holidays {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  margin: 0 0 4px;
  max-height: 84px;
  overflow: auto;
}
.adding {
  display: flex;
  gap: 6px;
  margin: 0;
}
.adding input {
  flex: 1;
}
</style>
