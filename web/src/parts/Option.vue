<script setup lang="ts">
/** One of the things that a select offers, by its value and its words. */
defineProps<{ value: string | number; label: string; disabled?: boolean }>();
</script>

<template>
  <ElOption :value="value" :label="label" :disabled="disabled" :data-value="value" />
</template>
