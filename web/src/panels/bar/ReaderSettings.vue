<script setup lang="ts">
/** A reader's name, and how they want to see the pages. */
import { storeToRefs } from "pinia";
import { localMarks, numbersWith } from "@/model/numbers";
import Option from "@/parts/Option.vue";
import { usePerson } from "@/state/person";
import { useReader } from "@/state/reader";

const { name } = storeToRefs(usePerson());
const { theme, size, language, weekStart, firstPage } = storeToRefs(useReader());
const THEMES = [
  { value: "auto", label: "As the system" },
  { value: "light", label: "Light" },
  { value: "dark", label: "Dark" },
];
const SIZES = [
  { value: "usual", label: "Usual" },
  { value: "larger", label: "Larger" },
  { value: "largest", label: "Largest" },
];
const WEEK_STARTS = { ledger: "As in the ledger", 0: "Monday", 5: "Saturday", 6: "Sunday" };
const FIRST_PAGES = {
  "/figures": "Figures",
  "/movers": "Movers",
  "/scorecard": "Scorecard",
  "/intake": "Intake",
  "/calendar": "Calendar",
};
/** Languages by whose habits numbers and dates can be written, each by its own name, with a sample. */
const LANGUAGES = ["", "en-GB", "en-US", "de", "de-CH", "fr", "es", "it", "nl", "pl", "pt", "sv"];
function languageWords(code: string): string {
  const sample = numbersWith(() => localMarks(code || undefined)).grouped("1234.50");
  const name = code ? new Intl.DisplayNames([code], { type: "language" }).of(code) : "As the browser";
  return `${name} · ${sample}`;
}
</script>

<template>
  <ElForm label-position="top">
    <ElFormItem label="Your name, beside what you post and keep">
      <ElInput v-model="name" maxlength="80" placeholder="Nobody has said so yet" data-test="reader-name" />
    </ElFormItem>
    <ElFormItem label="Colours">
      <ElSegmented v-model="theme" :options="THEMES" aria-label="Colours" data-test="theme" />
    </ElFormItem>
    <ElFormItem label="Size of everything">
      <ElSegmented v-model="size" :options="SIZES" aria-label="Size of everything" data-test="size" />
    </ElFormItem>
    <ElFormItem label="Numbers, and dates in fields">
      <ElSelect v-model="language" aria-label="Numbers, and dates in fields" data-test="language">
        <Option v-for="code in LANGUAGES" :key="code" :value="code" :label="languageWords(code)" />
      </ElSelect>
    </ElFormItem>
    <ElFormItem label="Weeks of pickers start on">
      <ElSelect v-model="weekStart" aria-label="Weeks of pickers start on" data-test="week-start">
        <Option v-for="(label, key) in WEEK_STARTS" :key="key" :value="String(key)" :label="label" />
      </ElSelect>
    </ElFormItem>
    <ElFormItem label="Opens first">
      <ElSelect v-model="firstPage" aria-label="Opens first" data-test="first-page">
        <Option v-for="(label, path) in FIRST_PAGES" :key="path" :value="path" :label="label" />
      </ElSelect>
    </ElFormItem>
  </ElForm>
</template>
