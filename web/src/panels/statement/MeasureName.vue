<script setup lang="ts">
/** The heading of a measure: one of its own in place of its name. */
import { ref } from "vue";

const props = defineProps<{ name: string; plain: string }>();
const emit = defineEmits<{ take: [name: string] }>();
const text = ref(props.name);
</script>

<template>
  <form class="naming" @submit.prevent="emit('take', text)">
    <ElInput
      v-model="text"
      maxlength="60"
      aria-label="Heading"
      :placeholder="plain"
      data-test="heading-name"
    />
    <ElButton native-type="submit" data-test="take-heading">Call it so</ElButton>
  </form>
</template>

<style scoped>
.naming {
  display: flex;
  gap: 6px;
  padding: 6px 0;
}
</style>
