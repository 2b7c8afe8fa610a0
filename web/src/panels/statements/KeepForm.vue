<script setup lang="ts">
/** What is on screen, kept under a name: a new one, or in the place of what is kept under it. */
import { computed, ref, watch } from "vue";
import type { SavedStatement } from "@/contract";

const props = defineProps<{
  /** The kept statement that what is on screen came from. */
  opened: SavedStatement | null;
  /** Names that are taken. */
  taken: string[];
  refused: string;
}>();
const emit = defineEmits<{ keep: [kept: { name: string; folder: string; description: string }] }>();
const name = ref("");
const folder = ref("");
const description = ref("");
watch(
  () => props.opened,
  (opened) => {
    if (opened) ({ name: name.value, folder: folder.value, description: description.value } = opened);
  },
  { immediate: true },
);
const replaces = computed(() => props.taken.includes(name.value.trim()));
</script>

<template>
  <form class="keep" @submit.prevent="name.trim() && emit('keep', { name, folder, description })">
    <label>Name <ElInput v-model="name" maxlength="120" data-test="statement-name" /></label>
    <label>Folder <ElInput v-model="folder" placeholder="none" data-test="statement-folder" /></label>
    <label>What it is for <ElInput v-model="description" placeholder="told in the list" /></label>
    <p class="quiet">It opens with the lines of that day: its as-of date moves as the statement says.</p>
    <ElButton native-type="submit" type="primary" :disabled="!name.trim()" data-test="keep-statement">{{
      replaces ? "Keep in its place" : "Keep"
    }}</ElButton>
    <p v-if="refused" role="alert" class="refused" data-test="statement-refused">{{ refused }}</p>
  </form>
</template>

<style scoped>
.keep {
  display: grid;
  gap: 6px;
  width: 300px;
}
p {
  margin: 0;
}
.refused {
  color: var(--adverse);
}
</style>
