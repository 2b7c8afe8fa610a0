<script setup lang="ts">
/** The strip under the table: agrees with the posted lines or not, what was left out, and why. */
import { capital } from "@/words/names";
import { useNumbers } from "@/composables/numbers";
import { computed } from "vue";
import type { Answer, TableCheck } from "@/contract";

const { count, words } = useNumbers();

const props = defineProps<{
  answer: Answer;
  check: TableCheck | null;
  /** Why it could not be checked. */
  refused?: string;
  /** Whether the figures answer an earlier statement than the one that is asked. */
  outdated?: boolean;
  /** Rows of periods without figures that the layout hides. */
  hiddenPeriods: number;
}>();
const wrong = computed(() => props.check?.agrees === false);
const said = computed(() => [
  ...props.answer.told.unequal.flatMap((why, at) =>
    why ? [`${capital(props.answer.told.names[at] ?? "")}: ${why}`] : [],
  ),
  ...props.answer.told.notices.map(words),
  ...(props.hiddenPeriods ? [`${count(props.hiddenPeriods, "period")} without figures not shown`] : []),
]);
</script>

<template>
  <p class="notice" :class="{ wrong }" data-guide="notices" role="status" data-test="notice">
    <template v-if="outdated">Figures of an earlier statement, checked when they were asked for</template>
    <template v-else-if="refused">Could not be checked: {{ refused }}</template>
    <template v-else-if="!check">Checking against the posted lines …</template>
    <template v-else>{{ wrong ? "✗" : "✓" }} {{ words(check.words) }}</template>
    <template v-for="each in said" :key="each"> · {{ each }}</template>
  </p>
</template>

<style scoped>
.notice {
  margin: 0;
  padding: 7px 12px;
  background: var(--agrees);
  border-top: 1px solid var(--line);
  color: var(--agrees-text);
  font-size: 0.75rem;
  flex: none;
  max-height: 64px;
  overflow-y: auto;
}
.wrong {
  background: var(--wrong);
  color: var(--adverse);
  font-weight: 700;
}
</style>
