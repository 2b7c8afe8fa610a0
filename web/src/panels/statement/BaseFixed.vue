<script setup lang="ts">
/** A base that stays: the same part of one period whatever the window, or another ledger as a plan. */
import { computed, ref } from "vue";
import type { Base, LedgerDescription, Statement } from "@/contract";
import PlanChoice from "@/panels/statement/PlanChoice.vue";
import { useToldOf } from "@/panels/statement/telling";

const props = defineProps<{
  statement: Statement;
  ledger: LedgerDescription;
  current: Base | undefined;
  /** The year before which it is, where nothing is typed. */
  year: number;
  /** The statement with a base in its place, and which window that is. */
  place: (base: Base) => Statement;
  number: number;
}>();
const emit = defineEmits<{ take: [base: Base] }>();
const fixed = ref(props.current?.kind === "fixed" ? props.current.period : "");
const position = computed<Base>(() => ({
  kind: "fixed",
  period: fixed.value.trim() || String(props.year - 1),
  align: "same_dates",
}));
const told = useToldOf(() => ({ statement: props.place(position.value), at: props.number }));
</script>

<template>
  <p class="title">The same part of one period, whatever the window</p>
  <form class="fixed" @submit.prevent="emit('take', position)">
    <ElInput
      v-model="fixed"
      style="width: 15ch"
      :placeholder="String(year - 1)"
      aria-label="Fixed period"
      data-test="fixed-period"
    />
    <ElButton native-type="submit" data-test="take-fixed">The same part of it</ElButton>
    <small>{{ told }}</small>
  </form>
  <PlanChoice :statement="statement" :ledger="ledger" @take="(base) => emit('take', base)" />
</template>

<style scoped>
.title {
  margin: 6px 0 2px;
  font-weight: 700;
}
.fixed {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  padding: 4px 8px;
}
small {
  flex-basis: 100%;
  color: var(--quiet);
}
</style>
