<script setup lang="ts">
/** Who works here, and how they want to see the pages. */
import { storeToRefs } from "pinia";
import { computed, ref } from "vue";
import { usePerson } from "@/state/person";
import { useReader } from "@/state/reader";

const { name } = storeToRefs(usePerson());
const { theme } = storeToRefs(useReader());
const shown = ref(false);
/** The first letters of the first and the last name. */
const initials = computed(() => {
  const words = name.value.trim().split(/\s+/).filter(Boolean);
  const taken = words.length > 1 ? [words[0], words.at(-1)] : words;
  return taken.map((word) => [...(word ?? "")][0]?.toLocaleUpperCase()).join("") || "?";
});
const THEMES = [
  { value: "auto", label: "As the system" },
  { value: "light", label: "Light" },
  { value: "dark", label: "Dark" },
];
</script>

<template>
  <ElPopover v-model:visible="shown" trigger="click" placement="bottom-end" :width="300" :show-arrow="false">
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
    <ElForm label-position="top" @keydown.esc.stop="shown = false">
      <ElFormItem label="Your name, beside what you post and keep">
        <ElInput v-model="name" maxlength="80" placeholder="Nobody has said so yet" data-test="reader-name" />
      </ElFormItem>
      <ElFormItem label="Colours">
        <ElSegmented v-model="theme" :options="THEMES" aria-label="Colours" data-test="theme" />
      </ElFormItem>
    </ElForm>
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
