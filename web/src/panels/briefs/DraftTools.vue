<script setup lang="ts">
/** What can be done with a draft: steps back and forth, how it is shown, whose copy, and publishing it. */
import Option from "@/parts/Option.vue";
import { Back, Right } from "@element-plus/icons-vue";
import { storeToRefs } from "pinia";
import type { CopyMember } from "@/contract";
import { useBriefs } from "@/state/briefs";

const props = defineProps<{ members: CopyMember[]; composing: boolean; next: number; ready: boolean }>();
const printed = defineModel<boolean>("printed", { required: true });
const copy = defineModel<CopyMember | null>("copy", { required: true });
const emit = defineEmits<{ publish: [] }>();
const briefs = useBriefs();
const { canUndo, canRedo } = storeToRefs(briefs);

function take(key: string): void {
  copy.value = props.members.find((each) => (each.key ?? "") === key) ?? null;
}
</script>

<template>
  <div class="tools">
    <ElButton
      text
      :icon="Back"
      aria-label="Undo"
      :disabled="!canUndo"
      data-test="undo"
      @click="briefs.step(-1)"
    />
    <ElButton
      text
      :icon="Right"
      aria-label="Redo"
      :disabled="!canRedo"
      data-test="redo"
      @click="briefs.step(1)"
    />
    <ElRadioGroup v-model="printed" size="small" aria-label="How the page is shown">
      <ElRadioButton :value="false" label="Page" />
      <ElRadioButton :value="true" label="As printed" data-test="as-printed" />
    </ElRadioGroup>
    <ElSelect
      v-if="members.length"
      :model-value="copy?.key ?? ''"
      size="small"
      class="copies"
      aria-label="Whose copy"
      data-test="whose-copy"
      @change="take"
    >
      <Option value="" :label="`the whole, and ${members.length} copies`" />
      <Option v-for="each in members" :key="String(each.key)" :value="each.key ?? ''" :label="each.label" />
    </ElSelect>
    <span class="state" role="status">{{ composing ? "Composing …" : "" }}</span>
    <ElButton type="primary" :disabled="!ready" data-test="publish" @click="emit('publish')"
      >Publish issue {{ next }}</ElButton
    >
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  align-items: center;
  gap: 6px;
  min-height: 32px;
}
.tools :deep(.el-button.is-text) {
  padding: 6px;
  margin: 0;
}
.copies {
  width: 190px;
}
.state {
  margin-left: auto;
  color: var(--quiet);
  font-size: var(--size-note);
}
</style>
