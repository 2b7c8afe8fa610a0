<script setup lang="ts">
/** A version that others posted meanwhile: it is told, and taken when one wants to. */
import { useLocalStorage } from "@vueuse/core";
import { storeToRefs } from "pinia";
import { watch } from "vue";
import { useLedgers } from "@/state/ledgers";

const emit = defineEmits<{ take: [] }>();
const { open: ledger, newer } = storeToRefs(useLedgers());
/** Whether a new version is taken as soon as it is posted; remembered in this browser. */
const YES_OR_NO = {
  read: (text: string) => text === "yes",
  write: (on: boolean) => (on ? "yes" : "no"),
};
const BY_ITSELF = "lofty-abacus/take-new-versions";
const byItself = useLocalStorage(BY_ITSELF, false, { serializer: YES_OR_NO });
watch([byItself, newer], ([on, version]) => {
  if (on && version) emit("take");
});
</script>

<template>
  <p v-if="newer" class="newer" role="status" data-test="newer">
    Version {{ newer }} is posted; these figures are of version {{ ledger?.version }}.
    <ElButton size="small" data-test="take-newest" @click="emit('take')">Show it <kbd>n</kbd></ElButton>
    <ElCheckbox v-model="byItself" size="small" data-test="take-by-itself">always by itself</ElCheckbox>
  </p>
</template>

<style scoped>
.newer {
  display: flex;
  align-items: center;
  gap: 10px;
  margin: 0;
  padding: 2px 12px;
  background: var(--warn);
  border-left: 4px solid var(--window-1);
}
</style>
