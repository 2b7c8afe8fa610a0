<script setup lang="ts">
/** The filters that are kept open beside the table, below each other; keys step the one that was used last. */
import { computed, ref } from "vue";
import type { LedgerDescription, Statement } from "@/contract";
import { besideNames } from "@/model/layout";
import FilterBeside from "@/panels/FilterBeside.vue";

const props = defineProps<{ statement: Statement; ledger: LedgerDescription; beside: string }>();
const emit = defineEmits<{ change: [statement: Statement]; lay: [beside: string] }>();
const dimensions = computed(() =>
  besideNames(props.beside).filter((name) => props.ledger.dimensions.some((each) => each.name === name)),
);
const panels = ref<Record<string, InstanceType<typeof FilterBeside> | null>>({});
const used = ref("");

function close(dimension: string): void {
  emit("lay", dimensions.value.filter((each) => each !== dimension).join(","));
}

function step(by: number): void {
  const last = dimensions.value.includes(used.value) ? used.value : dimensions.value.at(-1);
  if (last) panels.value[last]?.step(by);
}
defineExpose({ step });
</script>

<template>
  <div class="filters">
    <FilterBeside
      v-for="dimension in dimensions"
      :key="dimension"
      :ref="(panel) => (panels[dimension] = panel as InstanceType<typeof FilterBeside> | null)"
      :statement="statement"
      :ledger="ledger"
      :dimension="dimension"
      @focusin="used = dimension"
      @change="(next) => emit('change', next)"
      @close="close(dimension)"
    />
  </div>
</template>

<style scoped>
.filters {
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-height: 0;
}
.filters > * {
  flex: 1;
}
</style>
