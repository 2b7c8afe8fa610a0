<script setup lang="ts">
/** Who works here, and how they want to see the pages. */
import { storeToRefs } from "pinia";
import { computed, defineAsyncComponent, ref } from "vue";
import { usePerson } from "@/state/person";

const { name } = storeToRefs(usePerson());
const ReaderSettings = defineAsyncComponent(() => import("@/panels/bar/ReaderSettings.vue"));
const shown = ref(false);
/** The first letters of the first and the last name. */
const initials = computed(() => {
  const words = name.value.trim().split(/\s+/).filter(Boolean);
  const taken = words.length > 1 ? [words[0], words.at(-1)] : words;
  return taken.map((word) => [...(word ?? "")][0]?.toLocaleUpperCase()).join("") || "?";
});
</script>

<template>
  <ElPopover
    v-model:visible="shown"
    trigger="click"
    placement="bottom-end"
    :width="300"
    :show-arrow="false"
    :persistent="false"
  >
    <template #reference>
      <ElButton
        class="person"
        :aria-label="name ? `${name}: name and settings` : 'Name and settings'"
        :aria-expanded="shown"
        data-test="reader"
      >
        {{ initials }}
      </ElButton>
    </template>
    <ReaderSettings @keydown.esc.stop="shown = false" />
  </ElPopover>
</template>

<style scoped>
.person {
  display: grid;
  place-items: center;
  min-width: 36px;
  height: 24px;
  padding: 0 8px;
  border: 0;
  border-radius: 12px;
  background: var(--bead);
  color: #2a1f0c;
  font-weight: 700;
  font-size: var(--size-note);
  cursor: pointer;
}
</style>
