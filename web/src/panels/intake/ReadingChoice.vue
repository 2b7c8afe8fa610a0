<script setup lang="ts">
/** How a file's bytes became a table: what was found, and what to choose instead. */
import Field from "@/parts/Field.vue";
import Option from "@/parts/Option.vue";
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

function change(next: Partial<Reading>): void {
  emit("change", { ...props.reading, ...next });
}
</script>

<template>
  <p class="reading" data-test="reading">
    <template v-if="isText">
      <label
        >Read as
        <ElSelect :model-value="file.encoding" data-test="encoding" @change="change({ encoding: $event })">
          <Option v-for="(label, key) in ENCODING_NAMES" :key="key" :value="key" :label="label" /> </ElSelect
      ></label>
      <label
        >separated by
        <ElSelect :model-value="file.separator" data-test="separator" @change="change({ separator: $event })">
          <Option v-for="(label, key) in separators" :key="key" :value="key" :label="label" /> </ElSelect
      ></label>
      <label
        >quotes
        <ElSelect :model-value="file.quote" data-test="quote" @change="change({ quote: $event })">
          <Option v-for="(label, key) in quotes" :key="key" :value="key" :label="label" /> </ElSelect
      ></label>
    </template>
    <label v-if="file.sheets.length > 1"
      >Sheet
      <ElSelect
        :model-value="file.sheets[0]"
        data-test="sheet"
        @change="change({ sheet: $event, heading_row: null })"
      >
        <Option v-for="name in file.sheets" :key="name" :value="name" :label="name" /> </ElSelect
    ></label>
    <label v-if="file.encoding !== 'parquet'"
      >heading in row
      <Field
        type="number"
        min="0"
        max="30"
        :value="reading.heading_row ?? ''"
        title="0: the file has no heading"
        placeholder="found"
        data-test="heading-row"
        @change="change({ heading_row: $event === '' ? null : Number($event) })"
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
