<script setup lang="ts">
/** What went wrong, in the server's own sentence, until it is mended. */
defineProps<{ message: string }>();
</script>

<template>
  <ElAlert type="error" :closable="false" show-icon class="trouble" data-test="trouble">
    <template #title>{{ message }}</template>
    <div v-if="$slots.default"><slot /></div>
  </ElAlert>
</template>

<style scoped>
.trouble {
  --el-alert-bg-color: var(--wrong);
  --el-color-error: var(--adverse);
  flex: none;
}
.trouble :deep(.el-alert__title),
.trouble :deep(.el-alert__description) {
  color: var(--ink);
  font-size: var(--size-control);
}
.trouble :deep(.el-alert__title) {
  font-weight: 600;
}
</style>
