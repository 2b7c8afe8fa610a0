<script setup lang="ts">
/** A part of the statement: its words, which open what it can be changed to. */
import { ElPopover } from "element-plus";
import "element-plus/es/components/popover/style/css";
import { ref } from "vue";

defineProps<{
  label: string;
  tone?: number | undefined;
  name: string;
  adds?: boolean;
  about?: string | undefined;
}>();
const shown = ref(false);

function close(): void {
  shown.value = false;
}
</script>

<template>
  <ElPopover
    v-model:visible="shown"
    trigger="click"
    placement="bottom-start"
    width="auto"
    :show-arrow="false"
    :teleported="true"
  >
    <template #reference>
      <button
        type="button"
        class="part"
        :class="[adds ? 'adds' : '', tone === undefined ? '' : `tone-${Math.min(tone, 4)}`]"
        :aria-expanded="shown"
        :title="about || undefined"
        :data-test="`part-${name}`"
        @keydown.esc="close"
      >
        {{ label }}
      </button>
    </template>
    <div class="choices" role="group" :aria-label="`Change: ${label}`" @keydown.esc="close">
      <slot :close="close" />
    </div>
  </ElPopover>
</template>

<style scoped>
.part {
  border: 0;
  border-bottom: 2px solid #948a72;
  background: #ece6d8;
  padding: 0 4px 1px;
  cursor: pointer;
  border-radius: 2px 2px 0 0;
}
.part:hover {
  filter: brightness(0.96);
}
.adds {
  border: 1px dashed #8d8571;
  background: none;
  color: var(--quiet);
  border-radius: 3px;
}
.tone-0 {
  background: #e1eceb;
  border-color: var(--window-0);
}
.tone-1 {
  background: #f6ead0;
  border-color: var(--window-1);
}
.tone-2 {
  background: #ece4f0;
  border-color: var(--window-2);
}
.tone-3 {
  background: #e2e8f2;
  border-color: var(--window-3);
}
.tone-4 {
  background: #f2e3df;
  border-color: var(--window-4);
}
.choices {
  max-width: 360px;
  max-height: 60vh;
  overflow-y: auto;
}
</style>
