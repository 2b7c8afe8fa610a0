<script setup lang="ts">
/** A year with its halves, quarters, months and weeks, one of which is taken; two days are taken from its months. */
import { computed, ref } from "vue";
import { monthName } from "@/model/days";

const props = defineProps<{ year: number; chosen?: string | undefined }>();
const emit = defineEmits<{ take: [period: string] }>();

const year = ref(Number(props.chosen?.slice(0, 4)) || props.year);
const week = ref(1);
const months = computed(() =>
  Array.from({ length: 12 }, (_, at) => {
    const key = `${year.value}-${String(at + 1).padStart(2, "0")}`;
    return { key, label: monthName(`${key}-01`) };
  }),
);
const others = computed(() => [
  { key: String(year.value), label: `the year ${year.value}` },
  ...[1, 2].map((at) => ({ key: `${year.value}-H${at}`, label: `H${at}` })),
  ...[1, 2, 3, 4].map((at) => ({ key: `${year.value}-Q${at}`, label: `Q${at}` })),
]);
</script>

<template>
  <div class="picker" role="group" aria-label="A period">
    <p>
      <button type="button" aria-label="The year before" data-test="picker-before" @click="year -= 1">
        ‹
      </button>
      <strong>{{ year }}</strong>
      <button type="button" aria-label="The year after" data-test="picker-after" @click="year += 1">›</button>
    </p>
    <div class="row">
      <button
        v-for="each in others"
        :key="each.key"
        type="button"
        :class="{ on: each.key === chosen }"
        :data-test="`period-${each.key}`"
        @click="emit('take', each.key)"
      >
        {{ each.label }}
      </button>
    </div>
    <div class="months">
      <button
        v-for="each in months"
        :key="each.key"
        type="button"
        :class="{ on: each.key === chosen }"
        :data-test="`period-${each.key}`"
        @click="emit('take', each.key)"
      >
        {{ each.label }}
      </button>
    </div>
    <p>
      <label>Week <input v-model.number="week" type="number" min="1" max="53" /></label>
      <button type="button" @click="emit('take', `${year}-W${String(week).padStart(2, '0')}`)">Take</button>
    </p>
  </div>
</template>

<style scoped>
.picker {
  padding: 2px 8px;
}
p {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 2px 0;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.months {
  display: grid;
  grid-template-columns: repeat(6, 1fr);
  gap: 4px;
  margin: 4px 0;
}
button {
  border: 1px solid var(--line);
  background: none;
  border-radius: 3px;
  cursor: pointer;
  padding: 1px 6px;
}
button:hover {
  background: var(--soft);
}
.on {
  background: #e1eceb;
  font-weight: 700;
}
input {
  width: 52px;
}
</style>
