<script setup lang="ts">
/** The columns of the table: which are shown, in what order, under what headings. */
import Field from "@/parts/Field.vue";
import { computed } from "vue";
import type { Answer, Layout } from "@/contract";
import { alikeAcross, laidOut, moveAlike, setHeading, turnColumn } from "@/model/layout";
import { wordsOf } from "@/words/told";

const props = defineProps<{ answer: Answer; layout: Layout; part: "order" | "headings" }>();
const emit = defineEmits<{ lay: [layout: Layout] }>();

const MOST_LISTED = 60;
const all = computed(() => {
  const shown = laidOut(props.answer, { ...props.layout, hidden: [], totals_across: "before" }).columns;
  // What stands under every member or period across is one line here.
  return alikeAcross(shown)
    .slice(0, MOST_LISTED)
    .map((columns) => ({
      ids: columns.map((each) => each.id),
      id: columns[0]?.id ?? "",
      words: columns[0] ? wordsOf(columns[0], props.answer).named : "",
      hidden: columns.every((each) => props.layout.hidden.includes(each.id)),
    }));
});
function move(id: string, by: number): void {
  const shown = laidOut(props.answer, { ...props.layout, hidden: [], totals_across: "before" }).columns;
  emit("lay", moveAlike(props.layout, shown, id, by));
}
</script>

<template>
  <template v-if="part === 'order'">
    <p v-for="(each, at) in all" :key="each.id" class="column">
      <ElCheckbox
        :model-value="!each.hidden"
        :data-test="`column-${each.id}`"
        @change="emit('lay', turnColumn(layout, ...each.ids))"
        >{{ each.words }}</ElCheckbox
      >
      <span>
        <ElButton
          link
          :disabled="at === 0"
          :aria-label="`${each.words} to the left`"
          :data-test="`left-${each.id}`"
          @click="move(each.id, -1)"
        >
          ←
        </ElButton>
        <ElButton
          link
          :disabled="at === all.length - 1"
          :aria-label="`${each.words} to the right`"
          @click="move(each.id, 1)"
        >
          →
        </ElButton>
      </span>
    </p>
  </template>
  <template v-else>
    <label v-for="each in all" :key="each.id" class="line"
      >{{ each.words }}
      <Field
        style="width: 19ch"
        maxlength="60"
        :value="layout.headings[each.id] ?? ''"
        placeholder="as it is"
        :data-test="`heading-${each.id}`"
        @change="emit('lay', setHeading(layout, each.ids, $event))"
    /></label>
  </template>
</template>

<style scoped>
.column,
.line {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: center;
  margin: 0;
}
.column > span {
  flex: none;
  white-space: nowrap;
}
.line {
  padding: 2px 0;
}
</style>
