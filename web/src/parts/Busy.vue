<script setup lang="ts">
/** What goes on, how far it is where that is known, and how to stop it. */
defineProps<{ words: string; doing: { doing: string; done: number; total: number } | null }>();
const emit = defineEmits<{ stop: [] }>();
</script>

<template>
  <span role="status">
    {{ doing?.doing ?? words }} …
    <progress v-if="doing?.total" :value="doing.done" :max="doing.total" :aria-label="doing.doing" />
    <ElButton v-if="doing" link data-test="stop" @click="emit('stop')">Stop</ElButton>
  </span>
</template>
