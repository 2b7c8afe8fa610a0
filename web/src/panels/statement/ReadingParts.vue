<script setup lang="ts">
/** How the statement is read: what is not as usual is a part of the sentence; the rest is offered in one place. */
import { computed } from "vue";
import type { LedgerDescription, Statement } from "@/contract";
import Choices from "@/parts/Choices.vue";
import Part from "@/parts/Part.vue";
import { chosenIn, readingsOf, type Reading } from "@/words/readings";

const props = defineProps<{ statement: Statement; ledger: LedgerDescription }>();
const emit = defineEmits<{ change: [statement: Statement] }>();

const all = computed(() => readingsOf(props.statement, props.ledger));
const told = computed(() => all.value.filter((each) => chosenIn(each, props.statement)?.said));
const usual = computed(() => all.value.filter((each) => !told.value.includes(each)));

function take(reading: Reading, key: string): void {
  const choice = reading.choices.find((each) => each.key === key);
  if (choice) emit("change", { ...props.statement, ...choice.change });
}
</script>

<template>
  <template v-for="each in told" :key="each.name"
    >,
    <Part
      :name="`reading-${each.name}`"
      :label="chosenIn(each, statement)?.said ?? ''"
      removes
      @remove="take(each, each.choices[0]?.key ?? '')"
    >
      <template #default="{ close }">
        <Choices
          :title="each.title"
          :choices="each.choices"
          :chosen="chosenIn(each, statement)?.key"
          @take="(key) => (take(each, key), close())"
        />
      </template>
    </Part>
  </template>
  <template v-if="usual.length"
    >&nbsp;<Part name="add-reading" label="+ reading" adds>
      <template #default="{ close }">
        <Choices
          v-for="each in usual"
          :key="each.name"
          :title="each.title"
          :choices="each.choices"
          :chosen="chosenIn(each, statement)?.key"
          @take="(key) => (take(each, key), close())"
        />
      </template>
    </Part>
  </template>
</template>
