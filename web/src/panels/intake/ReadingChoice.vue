<script setup lang="ts">
/** How a file's bytes became a table: what was found, and what to choose instead. */
import { computed } from "vue";
import type { Reading, StagedFile } from "@/contract";
import { ENCODING_NAMES, QUOTE_NAMES, SEPARATOR_NAMES } from "@/words/intake";

const props = defineProps<{ file: StagedFile; reading: Reading }>();
const emit = defineEmits<{ change: [reading: Reading] }>();

const isText = computed(() => !["workbook", "parquet", ""].includes(props.file.encoding));
const separators = computed(() => withFound(SEPARATOR_NAMES, props.file.separator));
const quotes = computed(() => withFound(QUOTE_NAMES, props.file.quote));

function withFound(names: Record<string, string>, found: string): Record<string, string> {
  return found in names ? names : { ...names, [found]: found };
}

function value(event: Event): string {
  return (event.target as HTMLInputElement | HTMLSelectElement).value;
}

function change(next: Partial<Reading>): void {
  emit("change", { ...props.reading, ...next });
}
</script>

<template>
  <p class="reading" data-test="reading">
    <template v-if="isText">
      <label
        >Read as
        <select :value="file.encoding" data-test="encoding" @change="change({ encoding: value($event) })">
          <option v-for="(label, key) in ENCODING_NAMES" :key="key" :value="key">{{ label }}</option>
        </select></label
      >
      <label
        >separated by
        <select :value="file.separator" data-test="separator" @change="change({ separator: value($event) })">
          <option v-for="(label, key) in separators" :key="key" :value="key">{{ label }}</option>
        </select></label
      >
      <label
        >quotes
        <select :value="file.quote" data-test="quote" @change="change({ quote: value($event) })">
          <option v-for="(label, key) in quotes" :key="key" :value="key">{{ label }}</option>
        </select></label
      >
    </template>
    <label v-if="file.sheets.length > 1"
      >Sheet
      <select
        :value="file.sheets[0]"
        data-test="sheet"
        @change="change({ sheet: value($event), heading_row: null })"
      >
        <option v-for="name in file.sheets" :key="name" :value="name">{{ name }}</option>
      </select></label
    >
    <label v-if="file.encoding !== 'parquet'"
      >heading in row
      <input
        type="number"
        min="0"
        max="30"
        :value="reading.heading_row ?? ''"
        title="0: the file has no heading"
        placeholder="found"
        data-test="heading-row"
        @change="change({ heading_row: value($event) === '' ? null : Number(value($event)) })"
    /></label>
    <span class="quiet">{{
      [...(file.kept ? ["mapping kept from before"] : []), ...file.notes].join("; ")
    }}</span>
  </p>
</template>

<style scoped>
.reading {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  margin: 0 0 6px;
}
input {
  width: 66px;
}
</style>
