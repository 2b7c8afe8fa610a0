<script setup lang="ts">
/** The holidays of a calendar: added one, as a pasted list or from a calendar file, and taken back. */
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import { useLedgers } from "@/state/ledgers";
import type { UploadFile } from "element-plus";
import { ref } from "vue";

const { dayText } = useDays();

const { count } = useNumbers();
const holidays = defineModel<string[]>({ required: true });
const typed = ref("");

const ledgers = useLedgers();
/** What is said of the file that was read last. */
const said = ref("");

async function read({ name, raw }: UploadFile): Promise<void> {
  if (!raw) return;
  const found = await ledgers.readHolidays(name, await raw.text());
  holidays.value = [...new Set([...holidays.value, ...found.days])].sort();
  said.value = found.words;
}

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
      <ElUpload
        accept=".ics,text/calendar"
        :auto-upload="false"
        :show-file-list="false"
        data-test="calendar-file"
        :on-change="read"
      >
        <span class="el-button">From a calendar file (.ics)</span>
      </ElUpload>
    </p>
    <p v-if="said" class="said" role="status" data-test="calendar-file-said">{{ said }}</p>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 1px solid var(--line);
  padding: 6px 10px;
  margin: 0;
  /* A fieldset is else as wide as what it holds in one line. */
  min-width: 0;
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
  flex-wrap: wrap;
  gap: 6px;
  margin: 0;
}
.adding .el-input {
  flex: 1 1 8rem;
}
.said {
  margin: 4px 0 0;
  color: var(--quiet);
  font-size: 0.85rem;
}
</style>
