<script setup lang="ts">
import { computed, ref } from "vue";
import type { PeriodBase, Statement } from "@/contract";
import Choices from "@/parts/Choices.vue";
import { baseName, capital, GRAINS } from "@/words/words";

const props = defineProps<{ statement: Statement; at: number | null; year: number }>();
const emit = defineEmits<{ change: [bases: PeriodBase[]] }>();

const grain = computed(() => props.statement.window.grain);
const steps = ref(2);
const unit = ref<PeriodBase["unit"]>("year");
const direction = ref<"back" | "ahead">("back");
const units = computed(() => (grain.value === "year" ? ["year" as const] : [grain.value, "year" as const]));
const offered = computed(() => [
  ...(grain.value === "year" ? [] : [base(1, grain.value)]),
  base(1, "year"),
  base(2, "year"),
]);
const choices = computed(() =>
  offered.value.map((each) => ({
    key: `${each.back}-${each.unit}`,
    label: capital(baseName(each.back, each.unit, grain.value, props.year)),
    refused: taken(each) ? "It is compared with already." : null,
  })),
);

const chosen = computed(() => {
  const current = props.at === null ? undefined : props.statement.bases[props.at];
  return current && `${current.back}-${current.unit}`;
});

function base(back: number, of: PeriodBase["unit"]): PeriodBase {
  return { back, unit: of, align: "same_dates", kind: "period" };
}

function taken(one: PeriodBase): boolean {
  return props.statement.bases.some(
    (each, at) => at !== props.at && each.back === one.back && each.unit === one.unit,
  );
}

function take(one: PeriodBase | undefined): void {
  if (!one) return;
  const bases = [...props.statement.bases];
  if (props.at === null) bases.push(one);
  else bases[props.at] = one;
  emit("change", bases);
}

function takeKey(key: string): void {
  take(offered.value.find((each) => `${each.back}-${each.unit}` === key));
}

function takeSteps(): void {
  const n = Math.trunc(Number(steps.value));
  if (n >= 1 && n <= 400) take(base(direction.value === "back" ? n : -n, unit.value));
}

function remove(): void {
  emit(
    "change",
    props.statement.bases.filter((_, at) => at !== props.at),
  );
}
</script>

<template>
  <Choices title="Compare with" :choices="choices" :chosen="chosen" @take="takeKey" />
  <form class="steps" @submit.prevent="takeSteps">
    <input v-model="steps" type="number" min="1" max="400" aria-label="How many" />
    <select v-model="unit" aria-label="Unit">
      <option v-for="each in units" :key="each" :value="each">{{ GRAINS[each] }}s</option>
    </select>
    <select v-model="direction" aria-label="Direction">
      <option value="back">back</option>
      <option value="ahead">ahead</option>
    </select>
    <button type="submit" data-test="take-steps">Take</button>
  </form>
  <button v-if="at !== null" type="button" class="plain" data-test="remove" @click="remove">
    Remove this base
  </button>
</template>

<style scoped>
.steps {
  display: flex;
  gap: 4px;
  padding: 6px 8px;
}
.steps input {
  width: 60px;
}
</style>
