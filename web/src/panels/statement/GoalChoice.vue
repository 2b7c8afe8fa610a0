<script setup lang="ts">
/** A goal of a metric: so many percent of a base or plan, or a figure outright; which way by the measure, or by choice. */
import Option from "@/parts/Option.vue";
import { computed, ref } from "vue";
import type { Goal, Statement } from "@/contract";
import { metricId } from "@/model/statement";
import type { Pieces } from "@/words/told";

const props = defineProps<{ statement: Statement; said: Pieces; goal?: Goal }>();
const emit = defineEmits<{ take: [goal: Goal]; remove: [] }>();

const metrics = computed(() =>
  props.statement.measures.map((each, at) => ({ key: metricId(each), label: props.said.of("measures", at) })),
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
    own: props.goal?.own ?? [],
  });
}
</script>

<template>
  <form class="goal" @submit.prevent="take">
    <label
      >Goal of
      <ElSelect v-model="metric" :disabled="!!goal" data-test="goal-metric">
        <Option v-for="each in metrics" :key="each.key" :value="each.key" :label="each.label" /> </ElSelect
    ></label>
    <label
      >is
      <ElSelect v-model="direction" data-test="goal-direction">
        <Option value="" label="as the measure goes" />
        <Option value="at_least" label="at least" />
        <Option value="at_most" label="at most" /> </ElSelect
    ></label>
    <label
      ><ElInput v-model="target" style="width: 14ch" aria-label="Target" data-test="goal-target" />
      <ElSelect v-model="of" data-test="goal-of">
        <Option value="base" :disabled="!statement.bases.length" label="% of a base" />
        <Option value="figure" label="as a figure" /> </ElSelect
    ></label>
    <label v-if="of === 'base' && statement.bases.length > 1"
      >which is
      <ElSelect v-model="base" data-test="goal-base">
        <Option
          v-for="(_, at) in statement.bases"
          :key="at"
          :value="at + 1"
          :label="said.of('bases', at)"
        /> </ElSelect
    ></label>
    <p v-if="!sound" class="quiet">Write the target as a figure: 100 or 95.5.</p>
    <ElButton native-type="submit" :disabled="!sound" data-test="take-goal">Set this goal</ElButton>
    <ElButton v-if="goal" link data-test="remove" @click="emit('remove')"> Remove this goal </ElButton>
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
