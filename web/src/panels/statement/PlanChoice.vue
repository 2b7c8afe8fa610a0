<script setup lang="ts">
/** Another ledger to compare with, as a plan. */
import Option from "@/parts/Option.vue";
import { computed, ref } from "vue";
import type { Base, LedgerDescription, Statement } from "@/contract";
import { useLedgers } from "@/state/ledgers";

const props = defineProps<{ statement: Statement; ledger: LedgerDescription }>();
const emit = defineEmits<{ take: [base: Base] }>();
const ledgers = useLedgers();
/** Ledgers that can be compared with: of the same currency, with the dimensions that the statement names. */
const plans = computed(() => {
  const { rows, across, filters } = props.statement;
  const named = [...rows, ...across, ...filters.map((each) => each.dimension)].filter(
    (each): each is string => typeof each === "string",
  );
  const needed = named.map((name) => props.ledger.dimensions.find((each) => each.name === name)?.of ?? name);
  return ledgers.active.filter(
    (each) =>
      each.id !== props.ledger.id &&
      each.currency === props.ledger.currency &&
      needed.every((name) => each.dimensions.includes(name)),
  );
});
const plan = ref("");
</script>

<template>
  <form
    v-if="plans.length"
    class="steps"
    @submit.prevent="
      plan && emit('take', { kind: 'ledger', ledger: plan, align: 'same_dates', spread: 'days' })
    "
  >
    <ElSelect v-model="plan" aria-label="Another ledger" data-test="plan-ledger">
      <Option v-for="each in plans" :key="each.name" :value="each.name" :label="each.name" />
    </ElSelect>
    <ElButton native-type="submit" data-test="take-plan">Another ledger, as a plan</ElButton>
  </form>
</template>

<style scoped>
.steps {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  padding: 4px 8px;
}
</style>
