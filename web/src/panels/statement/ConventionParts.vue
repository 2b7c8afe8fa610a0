<script setup lang="ts">
/** How the statement is read: what is not as usual is a part of the sentence; the rest is offered in one place. */
import { computed } from "vue";
import type { Convention, Statement } from "@/contract";
import Choices from "@/parts/Choices.vue";
import Part from "@/parts/Part.vue";

const props = defineProps<{ statement: Statement; conventions: Convention[] }>();
const emit = defineEmits<{ change: [statement: Statement] }>();

function said({ choices, chosen }: Convention): string {
  return choices.find((each) => each.key === chosen)?.said ?? "";
}
const unusual = computed(() => props.conventions.filter(said));
const usual = computed(() => props.conventions.filter((each) => !said(each)));

function take({ choices }: Convention, key: string | undefined): void {
  const choice = choices.find((each) => each.key === key);
  if (choice) emit("change", { ...props.statement, ...(choice.change as Partial<Statement>) });
}
</script>

<template>
  <template v-for="each in unusual" :key="each.name"
    >,
    <Part
      :name="`reading-${each.name}`"
      :label="said(each)"
      removes
      @remove="take(each, each.choices[0]?.key)"
    >
      <template #default="{ close }">
        <Choices
          :title="each.title"
          :choices="each.choices"
          :chosen="each.chosen"
          @take="(key) => (take(each, key), close())"
        />
      </template>
    </Part>
  </template>
  <template v-if="usual.length"
    ><Part name="add-reading" label="+ how it is counted" adds>
      <template #default="{ close }">
        <Choices
          v-for="each in usual"
          :key="each.name"
          :title="each.title"
          :choices="each.choices"
          :chosen="each.chosen"
          @take="(key) => (take(each, key), close())"
        />
      </template>
    </Part>
  </template>
</template>
