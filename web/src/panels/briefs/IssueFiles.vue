<script setup lang="ts">
/** A copy of an issue as files. */
import { Download } from "@element-plus/icons-vue";
import { fileOf } from "@/state/briefs";
import { saveAddress } from "@/model/saving";

defineProps<{ issue: number; place: number }>();
const KINDS = [
  ["pdf", "PDF"],
  ["html", "One HTML file"],
  ["xlsx", "Workbook, a sheet per block"],
  ["zip", "CSV per block, described"],
  ["json", "JSON, all figures"],
] as const;
</script>

<template>
  <ElButtonGroup>
    <ElButton data-test="issue-pdf" @click="saveAddress(fileOf(issue, 'pdf', place))">PDF</ElButton>
    <ElDropdown trigger="click" @command="(kind: string) => saveAddress(fileOf(issue, kind, place))">
      <ElButton :icon="Download" aria-label="Other files" data-test="issue-files" />
      <template #dropdown>
        <ElDropdownMenu>
          <ElDropdownItem
            v-for="[kind, words] in KINDS"
            :key="kind"
            :command="kind"
            :data-test="`file-${kind}`"
            >{{ words }}</ElDropdownItem
          >
        </ElDropdownMenu>
      </template>
    </ElDropdown>
  </ElButtonGroup>
</template>
