<script setup lang="ts">
/** What can be added to the sentence, in one place: grouped, found by typing, opened where it will stand. */
import { computed, nextTick, ref } from "vue";
import { useParts } from "@/composables/parts";
import Part from "@/parts/Part.vue";

const parts = useParts();
const text = ref("");

/** By the part that is opened: what it adds, and an everyday word or two for it. */
const GROUPS = [
  {
    title: "What is shown",
    adds: [
      ["measure", "a measure", "net sales, orders, one of your own"],
      ["row", "a level of rows", "by region, then by rep, by month"],
      ["across", "a level across", "months or regions side by side"],
    ],
  },
  {
    title: "What it is held against",
    adds: [
      ["base", "a comparison", "last year, the month before, a plan"],
      ["goal", "a goal", "at least 105% of last year"],
    ],
  },
  {
    title: "What counts",
    adds: [
      ["filter", "a filter", "where region is, where product is not"],
      ["condition", "a condition on the lines", "amounts above, a day before, text that begins with, blank"],
      ["day", "another day that counts", "by delivery, by invoice date"],
      ["limit", "which rows are shown", "the top ten, only new ones, above a value"],
      ["reading", "how it is counted", "returns, levels that changed, rounding"],
    ],
  },
] as const;

const found = computed(() => {
  const wanted = text.value.trim().toLocaleLowerCase();
  return GROUPS.map(({ title, adds }) => ({
    title,
    adds: adds.filter(
      ([part, ...words]) =>
        parts?.has(`add-${part}`) && words.some((each) => each.toLocaleLowerCase().includes(wanted)),
    ),
  })).filter(({ adds }) => adds.length);
});

async function take(part: string | undefined, close: () => void): Promise<void> {
  if (!part) return;
  close();
  text.value = "";
  await nextTick();
  parts?.open(`add-${part}`);
}
</script>

<template>
  <Part v-slot="{ close }" name="add" label="+ add to it" offers>
    <div class="adds">
      <ElInput
        v-model="text"
        size="small"
        placeholder="Find what to add"
        aria-label="Find what to add"
        data-test="find-add"
        @keydown.enter.prevent="take(found[0]?.adds[0]?.[0], close)"
      />
      <section v-for="{ title, adds } in found" :key="title" :aria-label="title">
        <h2>{{ title }}</h2>
        <ElButton
          v-for="[part, name, about] in adds"
          :key="part"
          text
          :data-test="`adds-${part}`"
          @click="take(part, close)"
          >{{ name }} <small>{{ about }}</small></ElButton
        >
      </section>
      <p v-if="!found.length" class="quiet">Nothing of that kind can be added.</p>
    </div>
  </Part>
</template>

<style scoped>
.adds {
  display: grid;
  gap: 6px;
  width: 370px;
}
section {
  display: grid;
}
h2 {
  margin: 2px 8px;
  font-size: var(--size-note);
  color: var(--quiet);
}
section :deep(.el-button) {
  justify-content: start;
  height: 28px;
  padding: 0 8px;
}
small {
  margin-left: 6px;
  color: var(--quiet);
}
</style>
