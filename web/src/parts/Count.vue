<script setup lang="ts">
/** A whole number within its limits; one that is out of them is brought to the nearest when the field is left. */
defineProps<{ modelValue: number; min: number; max: number; ariaLabel?: string }>();
const emit = defineEmits<{ "update:modelValue": [value: number] }>();

function take(value: number | undefined): void {
  if (value !== undefined) emit("update:modelValue", value);
}
</script>

<template>
  <ElInputNumber
    class="count"
    :model-value="modelValue"
    :min="min"
    :max="max"
    :precision="0"
    :aria-label="ariaLabel"
    controls-position="right"
    @update:model-value="take"
  />
</template>

<style scoped>
.count.count {
  width: 92px;
}
</style>
