<script setup lang="ts">
/** What is current: to date, one period, the last few, or two dates. */
import { computed, ref, watch } from "vue";
import type { CurrentWindow, Grain, Statement, StatementPreview } from "@/contract";
import { grainOf, setWindow } from "@/model/statement";
import Choices from "@/parts/Choices.vue";
import PeriodPicker from "@/parts/PeriodPicker.vue";
import { useFigures } from "@/state/figures";
import { GRAINS, previewWords } from "@/words/words";

const props = defineProps<{ window: CurrentWindow; asOf: string | null; statement: Statement }>();
const emit = defineEmits<{ take: [window: CurrentWindow] }>();

type ToDate = Extract<CurrentWindow, { kind: "to_date" }>;
const TO_DATE: ToDate["grain"][] = ["week", "month", "quarter", "half_year", "year"];
const figures = useFigures();
const previews = ref<StatementPreview[]>([]);
/** What days each choice would come to is told before it is chosen. */
watch(
  () => props.statement,
  async (statement) => {
    const windows = TO_DATE.map((grain) => setWindow(statement, { kind: "to_date", grain }));
    previews.value = await figures.previews(windows);
  },
  { immediate: true },
);
const choices = computed(() =>
  TO_DATE.map((key, at) => ({
    key,
    label: GRAINS[key],
    note: previewWords(previews.value[at], 0),
    refused: previews.value[at]?.refused || null,
  })),
);
const chosen = computed(() => (props.window.kind === "to_date" ? props.window.grain : undefined));
const completed = computed(() => props.window.kind === "to_date" && !!props.window.completed);
const period = ref(props.window.kind === "period" ? props.window.period : (props.asOf ?? "2026").slice(0, 4));
const count = ref(props.window.kind === "last" ? props.window.count : 12);
const unit = ref<Grain>(props.window.kind === "last" ? props.window.grain : "month");
const ending = ref<"as_of" | "completed">(props.window.kind === "last" ? props.window.ending : "completed");
const first = ref(props.window.kind === "dates" ? props.window.first : "");
const last = ref(props.window.kind === "dates" ? (props.window.last ?? "") : "");

function toDate(grain: string): void {
  emit("take", { kind: "to_date", grain: grain as ToDate["grain"] });
}

function turnCompleted(on: boolean): void {
  if (props.window.kind === "to_date")
    emit("take", { kind: "to_date", grain: props.window.grain, completed: on ? "month" : null });
}

function before(): void {
  const grain = grainOf(props.window) ?? "month";
  emit("take", { kind: "running", grain, back: 1 });
}

function dates(): void {
  if (first.value) emit("take", { kind: "dates", first: first.value, last: last.value || null });
}
</script>

<template>
  <Choices title="To date in the" :choices="choices" :chosen="chosen" @take="toDate" />
  <label v-if="chosen && chosen !== 'week' && chosen !== 'month'">
    <input
      type="checkbox"
      :checked="completed"
      data-test="completed"
      @change="turnCompleted(($event.target as HTMLInputElement).checked)"
    />
    completed months only
  </label>
  <p class="title">Another window</p>
  <button type="button" class="plain" data-test="window-before" @click="before">
    The {{ GRAINS[grainOf(window) ?? "month"] }} before the running one
  </button>
  <PeriodPicker
    :year="Number((asOf ?? '2026').slice(0, 4))"
    :chosen="window.kind === 'period' ? window.period : undefined"
    @take="(taken) => emit('take', { kind: 'period', period: taken })"
  />
  <form @submit.prevent="emit('take', { kind: 'period', period: period.trim() })">
    <input
      v-model="period"
      size="10"
      aria-label="Period by name"
      placeholder="2026-Q3"
      data-test="window-period"
    />
    <button type="submit" data-test="take-period">One period</button>
  </form>
  <form @submit.prevent="emit('take', { kind: 'last', count: Number(count), grain: unit, ending })">
    <input v-model="count" type="number" min="1" max="400" aria-label="How many" data-test="last-count" />
    <select v-model="unit" aria-label="Of what" data-test="last-unit">
      <option v-for="(label, key) in GRAINS" :key="key" :value="key">{{ label }}s</option>
    </select>
    <select v-model="ending" aria-label="Ending" data-test="last-ending">
      <option value="completed">completed</option>
      <option value="as_of">to the as-of date</option>
    </select>
    <button type="submit" data-test="take-last">The last</button>
  </form>
  <form @submit.prevent="dates">
    <input v-model="first" type="date" aria-label="First day" data-test="dates-first" />
    <input v-model="last" type="date" aria-label="Last day, or none" data-test="dates-last" />
    <button type="submit" data-test="take-dates">From, to</button>
  </form>
</template>

<style scoped>
form {
  display: flex;
  gap: 4px;
  padding: 3px 8px;
}
form input[type="number"] {
  width: 60px;
}
label {
  display: block;
  padding: 2px 8px;
}
.title {
  margin: 8px 0 2px;
  font-weight: 700;
}
</style>
