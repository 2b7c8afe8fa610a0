<script setup lang="ts">
/** Correct or void one posted line, with a reason: a batch of its own, which can be withdrawn again. */
import Day from "@/parts/Day.vue";
import { dimensionName } from "@/words/names";
import { computed, ref } from "vue";
import type { LineChange, ReadLine } from "@/contract";

const props = defineProps<{
  line: ReadLine;
  correct: (line: number, change: LineChange | null, reason: string) => Promise<string>;
}>();
const emit = defineEmits<{ close: [] }>();

const day = ref(props.line.day);
const amount = ref(props.line.amount);
const quantity = ref(props.line.quantity ?? "");
const cost = ref(props.line.cost ?? "");
const members = ref<Record<string, string>>({});
const reason = ref("");
const trouble = ref("");
const busy = ref(false);
const own = computed(() => Object.keys(props.line.keys));

/** What differs from the line as it is; nothing of it is sent otherwise. */
function changed(): LineChange {
  const renamed = Object.entries(members.value).filter(([, key]) => key.trim() !== "");
  return {
    day: day.value === props.line.day ? null : day.value,
    side: null,
    amount: amount.value === props.line.amount ? null : amount.value,
    quantity: quantity.value === (props.line.quantity ?? "") ? null : quantity.value,
    cost: cost.value === (props.line.cost ?? "") ? null : cost.value,
    members: Object.fromEntries(renamed),
  };
}

async function send(change: LineChange | null): Promise<void> {
  busy.value = true;
  trouble.value = await props.correct(props.line.id, change, reason.value);
  busy.value = false;
  if (!trouble.value) emit("close");
}
</script>

<template>
  <form class="correction" data-test="correction" @submit.prevent="send(changed())">
    <label>Day <Day v-model="day" required data-test="line-day" /></label>
    <label>Amount <ElInput v-model="amount" required data-test="line-amount" /></label>
    <label>Quantity <ElInput v-model="quantity" data-test="line-quantity" /></label>
    <label>Cost <ElInput v-model="cost" data-test="line-cost" /></label>
    <label v-for="name in own" :key="name"
      >{{ dimensionName(name) }}
      <ElInput
        v-model="members[name]"
        :placeholder="line.keys[name]"
        :title="line.members[name]"
        :data-test="`line-${name}`"
    /></label>
    <label class="wide"
      >Why <ElInput v-model="reason" required maxlength="300" data-test="line-reason"
    /></label>
    <p v-if="trouble" class="adverse" role="alert" data-test="line-trouble">{{ trouble }}</p>
    <p>
      <ElButton native-type="submit" :disabled="busy" data-test="correct-line">Correct</ElButton>
      <ElButton :disabled="busy || !reason.trim()" data-test="void-line" @click="send(null)">
        Void it
      </ElButton>
      <ElButton link @click="emit('close')">Leave it</ElButton>
    </p>
  </form>
</template>

<style scoped>
.correction {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px 8px;
  padding: 6px;
  background: var(--soft);
  font-size: 0.75rem;
  white-space: normal;
}
label {
  display: flex;
  flex-direction: column;
}
input {
  width: 100%;
}
.wide,
p {
  grid-column: 1 / -1;
  margin: 0;
}
</style>
