<script setup lang="ts">
/** A window that is typed: a period by its name, so many before the running one, the last few, or two days; its days are told first. */
import Count from "@/parts/Count.vue";
import Day from "@/parts/Day.vue";
import Option from "@/parts/Option.vue";
import { GRAINS } from "@/contract/vocabulary";
import { computed, ref } from "vue";
import type { CurrentWindow, Grain, Statement } from "@/contract";
import { grainOf, setWindow } from "@/model/statement";
import { useToldOf } from "@/panels/statement/telling";

const props = defineProps<{ window: CurrentWindow; statement: Statement; day: string }>();
const emit = defineEmits<{ take: [window: CurrentWindow] }>();

const period = ref(props.window.kind === "period" ? props.window.period : props.day.slice(0, 4));
const count = ref(props.window.kind === "last" ? props.window.count : 12);
const unit = ref<Grain>(props.window.kind === "last" ? props.window.grain : "month");
const ending = ref<"as_of" | "completed">(props.window.kind === "last" ? props.window.ending : "completed");
const back = ref(props.window.kind === "running" ? props.window.back : 1);
const backUnit = ref<Grain>(grainOf(props.window) ?? "month");
/** Whether the last day lies before the first: no such window can be made. */
const reversed = computed(() => !!first.value && !!last.value && last.value < first.value);
const first = ref(props.window.kind === "dates" ? props.window.first : "");
const last = ref(props.window.kind === "dates" ? (props.window.last ?? "") : "");

function whole(number: number, least: number, most: number): number | null {
  const found = Math.trunc(Number(number));
  return found >= least && found <= most ? found : null;
}

const named = computed<CurrentWindow | null>(() =>
  period.value.trim() ? { kind: "period", period: period.value.trim() } : null,
);
const lastFew = computed<CurrentWindow | null>(() => {
  const n = whole(count.value, 1, 400);
  return n ? { kind: "last", count: n, grain: unit.value, ending: ending.value } : null;
});
const before = computed<CurrentWindow | null>(() => {
  const n = whole(back.value, 0, 400);
  return n === null ? null : { kind: "running", grain: backUnit.value, back: n };
});
const dates = computed<CurrentWindow | null>(() =>
  first.value && !reversed.value ? { kind: "dates", first: first.value, last: last.value || null } : null,
);

function told(choice: () => CurrentWindow | null): ReturnType<typeof useToldOf> {
  return useToldOf(() => {
    const window = choice();
    return window && { statement: setWindow(props.statement, window), at: 0 };
  });
}
const toldNamed = told(() => named.value);
const toldLast = told(() => lastFew.value);
const toldBefore = told(() => before.value);
const toldDates = told(() => dates.value);

function take(window: CurrentWindow | null): void {
  if (window) emit("take", window);
}
</script>

<template>
  <form @submit.prevent="take(named)">
    <ElInput
      v-model="period"
      style="width: 15ch"
      aria-label="Period by name"
      placeholder="2026-Q3"
      data-test="window-period"
    />
    <ElButton native-type="submit" data-test="take-period">One period</ElButton>
    <small data-test="told-period">{{ toldNamed }}</small>
  </form>
  <form @submit.prevent="take(before)">
    <Count v-model="back" :min="0" :max="400" aria-label="How far back" data-test="back-count" />
    <ElSelect v-model="backUnit" aria-label="Of what, back" data-test="back-unit">
      <Option v-for="(label, key) in GRAINS" :key="key" :value="key" :label="`${label}s`" />
    </ElSelect>
    <ElButton native-type="submit" data-test="take-before">That long before now</ElButton>
    <small>{{ toldBefore }}</small>
  </form>
  <form @submit.prevent="take(lastFew)">
    <Count v-model="count" :min="1" :max="400" aria-label="How many" data-test="last-count" />
    <ElSelect v-model="unit" aria-label="Of what" data-test="last-unit">
      <Option v-for="(label, key) in GRAINS" :key="key" :value="key" :label="`${label}s`" />
    </ElSelect>
    <ElSelect v-model="ending" aria-label="Ending" data-test="last-ending">
      <Option value="completed" label="completed" />
      <Option value="as_of" label="to the as-of date" />
    </ElSelect>
    <ElButton native-type="submit" data-test="take-last">The last</ElButton>
    <small data-test="told-last">{{ toldLast }}</small>
  </form>
  <form @submit.prevent="take(dates)">
    <Day v-model="first" aria-label="First day" data-test="dates-first" />
    <Day v-model="last" aria-label="Last day, or none" data-test="dates-last" />
    <ElButton native-type="submit" :disabled="reversed" data-test="take-dates">From, to</ElButton>
    <small>{{ reversed ? "The last day lies before the first." : toldDates }}</small>
  </form>
</template>

<style scoped>
form {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  padding: 5px 0;
}
form .el-select {
  width: 118px;
}
small {
  flex-basis: 100%;
  color: var(--quiet);
}
</style>
