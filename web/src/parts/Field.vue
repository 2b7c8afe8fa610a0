<script setup lang="ts">
/** A field whose text counts once it is left, or taken with Enter. */
import { ref, watch } from "vue";

const props = defineProps<{ value: string | number }>();
const emit = defineEmits<{ change: [text: string] }>();
const text = ref(String(props.value));
watch(
  () => props.value,
  (value) => (text.value = String(value)),
);
</script>

<template>
  <ElInput v-model="text" @change="emit('change', text)" />
</template>
