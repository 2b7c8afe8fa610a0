<script setup lang="ts">
/** How a card is shown: the order of its rows, how many earlier periods; and goals for what has none. */
import Option from "@/parts/Option.vue";
import type { CardAsked, ScoredMetric } from "@/contract";

defineProps<{
  asked: CardAsked;
  /** Metrics without a goal. */
  without: ScoredMetric[];
  /** What the first base is called. */
  base: string;
}>();
const emit = defineEmits<{ ask: [next: Partial<CardAsked>]; goals: [] }>();
const ORDERS = { misses: "those that miss first", name: "by name", met: "those that meet first" };
</script>

<template>
  <div class="how" role="group" aria-label="How the card is shown">
    <label
      >rows
      <ElSelect
        :model-value="asked.order"
        style="width: 13rem"
        data-test="card-order"
        @change="emit('ask', { order: $event as CardAsked['order'] })"
      >
        <Option v-for="(words, order) in ORDERS" :key="order" :value="order" :label="words" /> </ElSelect
    ></label>
    <label
      >periods before
      <ElInputNumber
        :model-value="asked.history"
        :min="0"
        :max="24"
        data-test="card-history"
        @change="emit('ask', { history: $event ?? 0 })"
    /></label>
    <ElButton v-if="without.length" data-test="set-goals" @click="emit('goals')"
      >Set a goal of 100 % of {{ base }} for {{ without.map((each) => each.name).join(", ") }}</ElButton
    >
  </div>
</template>

<style scoped>
.how {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  font-size: 0.8125rem;
}
</style>
