<script setup lang="ts">
/** The mappings that files take by themselves: saved as files, taken from files, deleted. */
import type { UploadFile } from "element-plus";
import { useNumbers } from "@/composables/numbers";
import type { KeptMapping, KeptMappings, Mapping } from "@/contract";
import { KINDS } from "@/words/intake";

const { count } = useNumbers();

defineProps<{ mappings: KeptMappings; busy: boolean; forgotten: boolean }>();
const emit = defineEmits<{
  save: [kept: KeptMapping];
  forget: [shape: string];
  back: [];
  take: [exported: unknown];
}>();

type Kind = Mapping["kind"];

async function picked(file: UploadFile): Promise<void> {
  const text = await file.raw?.text();
  if (text === undefined) return;
  try {
    emit("take", JSON.parse(text));
  } catch {
    emit("take", text);
  }
}

function kept(mapping: Mapping): string {
  const parts = [count(mapping.columns.length, "column")];
  if (mapping.corrections.length) parts.push(count(mapping.corrections.length, "correction"));
  if (mapping.merges.length) parts.push(count(mapping.merges.length, "merge"));
  return parts.join(", ");
}
</script>

<template>
  <ElTable v-if="mappings.rows.length" :data="mappings.rows" row-key="shape" size="small">
    <ElTableColumn v-slot="{ row }" label="Feed" min-width="140">
      <span data-test="kept-mapping">{{ row.mapping.name }}</span>
    </ElTableColumn>
    <ElTableColumn v-slot="{ row }" label="Holds" min-width="110">{{
      KINDS[row.mapping.kind as Kind]
    }}</ElTableColumn>
    <ElTableColumn v-slot="{ row }" label="Maps" min-width="160">{{ kept(row.mapping) }}</ElTableColumn>
    <ElTableColumn v-slot="{ row }" label="Change" min-width="260">
      <ElButton link @click="emit('save', row)">Save as a file</ElButton>
      <ElPopconfirm
        title="The next such file will be read from scratch."
        confirm-button-text="Delete"
        cancel-button-text="Keep it"
        width="260"
        @confirm="emit('forget', row.shape)"
      >
        <template #reference>
          <ElButton link :disabled="busy" :data-test="`forget-mapping-${row.mapping.name}`">
            Delete
          </ElButton>
        </template>
        <template #actions="{ confirm, cancel }">
          <ElButton data-test="really-forget-mapping" @click="confirm">Delete</ElButton>
          <ElButton link @click="cancel">Keep it</ElButton>
        </template>
      </ElPopconfirm>
    </ElTableColumn>
  </ElTable>
  <p v-for="each in mappings.unreadable" :key="each.name" data-test="unreadable-mapping">
    A mapping is not understood by this version: {{ each.why }}. Files of its shape are read from scratch.
    <ElButton link :disabled="busy" @click="emit('forget', each.name)">Delete it</ElButton>
  </p>
  <p v-if="forgotten" data-test="mapping-forgotten">
    The mapping is deleted.
    <ElButton link data-test="take-mapping-back" @click="emit('back')"> Take it back </ElButton>
  </p>
  <ElUpload
    accept=".json"
    :auto-upload="false"
    :show-file-list="false"
    data-test="take-mapping"
    :on-change="picked"
  >
    <span class="el-button is-link">Take one from a file</span>
  </ElUpload>
</template>
