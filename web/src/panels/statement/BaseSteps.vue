<script setup lang="ts">
/** A base so many periods back or ahead; what it comes to is told first. */
import Count from "@/parts/Count.vue";
import Option from "@/parts/Option.vue";
import { GRAINS } from "@/contract/vocabulary";
import { computed, ref } from "vue";
import type { Base, Grain, PeriodBase, Statement } from "@/contract";
import { useToldOf } from "@/panels/statement/telling";

const props = defineProps<{
  /** In what the window before lies: the window's own grain, or in a series each level's. */
  own: PeriodBase["unit"];
  timed: boolean;
  /** The statement with a base in its place, and which window that is. */
  place: (base: Base) => Statement;
  number: number;
}>();
const emit = defineEmits<{ take: [base: Base] }>();
const steps = ref(2);
const unit = ref<Grain | "own">("year");
const direction = ref<"back" | "ahead">("back");

const stepped = computed<Base>(() => {
  const back = direction.value === "back" ? steps.value : -steps.value;
  if (unit.value === "own" || unit.value === props.own)
    return { back, unit: props.own, align: "same_dates", kind: "period" };
  if (unit.value === "year") return { back, unit: "year", align: "same_dates", kind: "period" };
  return { kind: "shifted", back, unit: unit.value, align: "same_dates" };
});
const told = useToldOf(() => ({ statement: props.place(stepped.value), at: props.number }));
</script>

<template>
  <form class="steps" @submit.prevent="emit('take', stepped)">
    <Count v-model="steps" :min="1" :max="400" aria-label="How many" data-test="steps" />
    <ElSelect v-model="unit" aria-label="Unit" data-test="steps-unit">
      <Option v-if="own === 'period'" value="own" label="periods" />
      <template v-for="(label, grain) in GRAINS" :key="grain">
        <Option v-if="grain === 'year' || grain === own || !timed" :value="grain" :label="`${label}s`" />
      </template>
    </ElSelect>
    <ElSelect v-model="direction" aria-label="Direction" data-test="steps-direction">
      <Option value="back" label="back" />
      <Option value="ahead" label="ahead" />
    </ElSelect>
    <ElButton native-type="submit" data-test="take-steps">Compare with it</ElButton>
    <small data-test="told-steps">{{ told }}</small>
  </form>
</template>

<style scoped>
.steps {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  padding: 6px 8px;
}
.el-select {
  width: 100px;
}
small {
  flex-basis: 100%;
  color: var(--quiet);
}
</style>
