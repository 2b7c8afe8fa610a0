<script setup lang="ts">
/** A day, typed or chosen in a calendar: as YYYY-MM-DD, null or "" for none, written the same way on every page. */
import { useDayFormat } from "@/composables/dates";

defineOptions({ inheritAttrs: false });
defineProps<{ modelValue: string | null | undefined; ariaLabel?: string; required?: boolean }>();
const emit = defineEmits<{ "update:modelValue": [day: string]; change: [day: string] }>();
const format = useDayFormat();

function take(day: string | null): void {
  emit("update:modelValue", day ?? "");
  emit("change", day ?? "");
}
</script>

<template>
  <span class="day" v-bind="$attrs">
    <ElDatePicker
      :model-value="modelValue ?? ''"
      type="date"
      :format="format"
      value-format="YYYY-MM-DD"
      placeholder="no day"
      :aria-label="ariaLabel"
      :clearable="!required"
      @update:model-value="take"
    />
  </span>
</template>
