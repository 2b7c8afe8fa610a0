<script setup lang="ts">
/** Files that wait to be posted: left for later, arrived in the inbox, or fetched. */
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import type { Staging } from "@/contract";
import { ARRIVALS } from "@/words/intake";

const { dayText } = useDays();

const { count } = useNumbers();

defineProps<{ waiting: Staging[] }>();
const emit = defineEmits<{ open: [staging: Staging]; discard: [id: string] }>();

function names(staging: Staging): string {
  const all = staging.files.map((file) => file.name);
  return all.length > 3 ? `${all.slice(0, 2).join(", ")} and ${all.length - 2} more` : all.join(", ");
}
</script>

<template>
  <ul class="waiting" aria-label="Files that wait">
    <li v-for="each in waiting" :key="each.id" data-test="waiting">
      <strong>{{ names(each) }}</strong> {{ count(each.files.length, "file") }}, {{ ARRIVALS[each.arrival] }}
      {{ dayText(each.made_at.slice(0, 10)) }}, waiting to be posted
      <ElButton data-test="open-waiting" @click="emit('open', each)">Check and post</ElButton>
      <ElButton link @click="emit('discard', each.id)">Throw away</ElButton>
    </li>
  </ul>
</template>

<style scoped>
.waiting {
  margin: 0;
  padding: 6px 12px;
  background: var(--warn);
  list-style: none;
}
li {
  padding: 2px 0;
}
</style>
