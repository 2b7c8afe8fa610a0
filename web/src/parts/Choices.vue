<script setup lang="ts">
/** A list of choices, one of which may be taken; a choice that does not fit says why. */
export interface Choice {
  key: string;
  label: string;
  note?: string | undefined;
  refused?: string | null | undefined;
}
defineProps<{ title?: string; choices: Choice[]; chosen?: string | undefined }>();
const emit = defineEmits<{ take: [key: string] }>();
</script>

<template>
  <div>
    <p v-if="title" class="title">{{ title }}</p>
    <ElButton
      v-for="choice in choices"
      :key="choice.key"
      class="choice"
      :class="{ chosen: choice.key === chosen }"
      :disabled="!!choice.refused"
      :aria-pressed="choice.key === chosen"
      :data-test="`choice-${choice.key}`"
      @click="emit('take', choice.key)"
    >
      <span>{{ choice.label }}</span>
      <small v-if="choice.refused || choice.note">{{ choice.refused ?? choice.note }}</small>
    </ElButton>
  </div>
</template>

<style scoped>
.title {
  margin: 6px 0 2px;
  font-weight: 700;
}
.choice {
  display: block;
  width: 100%;
  text-align: left;
  border: 0;
  background: none;
  padding: 4px 8px;
  border-left: 3px solid transparent;
  cursor: pointer;
}
.choice:hover:not(:disabled) {
  background: var(--soft);
}
.choice.chosen {
  border-color: var(--wood);
  font-weight: 700;
}
.choice:disabled {
  color: var(--quiet);
  cursor: not-allowed;
}
small {
  display: block;
  color: var(--quiet);
  font-weight: 400;
}
</style>
