<script setup lang="ts">
/** Told once, to somebody who was never here: this is a ledger to try things on, and the two ways on from it. */
import { useLocalStorage } from "@vueuse/core";
import { computed } from "vue";
import { useLedgers } from "@/state/ledgers";

const ledgers = useLedgers();
const known = useLocalStorage("lofty-welcomed", false);
/** Who has a ledger beside the one that was there from the start needs no welcome. */
const shown = computed(() => !known.value && ledgers.list.length === 1 && !!ledgers.open?.lines);
</script>

<template>
  <ElAlert v-if="shown" type="info" data-test="welcome" :closable="true" @close="known = true">
    <template #title
      >{{ ledgers.open?.name }} is made up, to try things on: click any underlined word, or any figure.
      <RouterLink to="/guide/first-hour">The first hour</RouterLink> ·
      <RouterLink :to="{ path: '/intake', query: { ledger: String(ledgers.open?.id) } }"
        >Bring a file of your own</RouterLink
      ></template
    >
  </ElAlert>
</template>

<style scoped>
.el-alert {
  --el-alert-bg-color: var(--soft);
  flex: none;
  padding: 2px 12px;
}
.el-alert :deep(.el-alert__title) {
  color: var(--ink);
}
.el-alert :deep(.el-alert__close-btn) {
  top: 50%;
  transform: translateY(-50%);
}
a {
  color: var(--window-text-0);
}
</style>
