<script setup lang="ts">
/** A goal of a metric: so many percent of a base or plan, or a figure outright; which way by the measure, or by choice. */
import { computed, ref } from "vue";
import type { Goal, LedgerDescription, Statement } from "@/contract";
import { metricId } from "@/model/statement";
import { baseName, metricWords } from "@/words/words";

const props = defineProps<{ statement: Statement; ledger: LedgerDescription; year: number; goal?: Goal }>();
const emit = defineEmits<{ take: [goal: Goal]; remove: [] }>();

const metrics = computed(() =>
  props.statement.measures.map((each) => ({ key: metricId(each), label: metricWords(each) })),
);
const metric = ref(props.goal?.metric ?? metrics.value[0]?.key ?? "");
const of = ref<Goal["of"]>(props.goal?.of ?? (props.statement.bases.length ? "base" : "figure"));
const base = ref(props.goal?.base ?? 1);
const target = ref(props.goal?.target ?? (of.value === "base" ? "100" : ""));
const direction = ref<string>(props.goal?.direction ?? "");
const sound = computed(() => /^-?\d+(\.\d+)?$/.test(target.value.trim()));

function take(): void {
  if (!sound.value) return;
  emit("take", {
    metric: metric.value,
    target: target.value.trim(),
    of: of.value,
    base: Number(base.value),
    direction: (direction.value || null) as Exclude<Goal["direction"], undefined>,
  });
}
</script>

<template>
  <form class="goal" @submit.prevent="take">
    <label
      >Goal of
      <select v-model="metric" :disabled="!!goal" data-test="goal-metric">
        <option v-for="each in metrics" :key="each.key" :value="each.key">{{ each.label }}</option>
      </select></label
    >
    <label
      >is
      <select v-model="direction" data-test="goal-direction">
        <option value="">as the measure goes</option>
        <option value="at_least">at least</option>
        <option value="at_most">at most</option>
      </select></label
    >
    <label
      ><input v-model="target" size="9" aria-label="Target" data-test="goal-target" />
      <select v-model="of" data-test="goal-of">
        <option value="base" :disabled="!statement.bases.length">% of a base</option>
        <option value="figure">as a figure</option>
      </select></label
    >
    <label v-if="of === 'base' && statement.bases.length > 1"
      >which is
      <select v-model="base" data-test="goal-base">
        <option v-for="(each, at) in statement.bases" :key="at" :value="at + 1">
          {{ baseName(each, statement.window, year) }}
        </option>
      </select></label
    >
    <p v-if="!sound" class="quiet">Write the target as a figure: 100 or 95.5.</p>
    <button type="submit" :disabled="!sound" data-test="take-goal">Set this goal</button>
    <button v-if="goal" type="button" class="plain" data-test="remove" @click="emit('remove')">
      Remove this goal
    </button>
  </form>
</template>

<style scoped>
.goal {
  display: grid;
  gap: 6px;
  padding: 4px 8px;
}
label {
  display: flex;
  gap: 8px;
  justify-content: space-between;
  align-items: center;
}
p {
  margin: 0;
}
</style>
