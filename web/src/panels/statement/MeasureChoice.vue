<script setup lang="ts">
import { DEFINITIONS } from "@/contract/vocabulary";
import { capital, measureName } from "@/words/names";
import { computed } from "vue";
import type { LedgerDescription, ShownMeasure } from "@/contract";
import Choices from "@/parts/Choices.vue";

type Offered = LedgerDescription["measures"][number];
const props = defineProps<{ measures: Offered[]; shown: ShownMeasure[]; current?: string }>();
const emit = defineEmits<{ take: [name: string, derived: boolean]; remove: [] }>();

const choices = computed(() =>
  props.measures.map((each) => ({
    key: each.name,
    label: measureName(each.name),
    note: [DEFINITIONS[each.name], ...(each.description ? [each.description] : [])].join(" "),
    refused: refusal(each),
  })),
);

function refusal(each: Offered): string | null {
  if (each.unavailable) return `${capital(each.unavailable)}.`;
  const shown = each.name !== props.current && props.shown.some((one) => one.measure === each.name);
  return shown ? "It is shown already." : null;
}

function take(name: string): void {
  emit("take", name, props.measures.find((each) => each.name === name)?.kind === "derived");
}
</script>

<template>
  <Choices :choices="choices" :chosen="current" @take="take" />
  <ElButton v-if="shown.length > 1" link data-test="remove" @click="emit('remove')">
    Remove this measure
  </ElButton>
</template>
