<script setup lang="ts">
import { computed } from "vue";
import type { LedgerDescription, Show, ShownMeasure, Statement } from "@/contract";
import { isShare } from "@/model/statement";
import { SHOWS } from "@/words/words";

const props = defineProps<{ shown: ShownMeasure; ledger: LedgerDescription; statement: Statement }>();
const emit = defineEmits<{ change: [show: Show[]] }>();

const choices = computed(() =>
  (Object.keys(SHOWS) as Show[]).map((show) => ({ show, label: SHOWS[show], refused: refusal(show) })),
);

function refusal(show: Show): string | null {
  const measure = props.ledger.measures.find((each) => each.name === props.shown.measure);
  if (!isShare(show)) return props.statement.bases.length ? null : "Needs something to compare with.";
  if (measure?.kind === "derived") return "A share of a ratio means nothing.";
  return show === "share_of_parent" && !props.statement.rows.length ? "Needs rows." : null;
}

function toggle(show: Show, on: boolean): void {
  const order = Object.keys(SHOWS) as Show[];
  const next = on ? [...props.shown.show, show] : props.shown.show.filter((each) => each !== show);
  emit(
    "change",
    order.filter((each) => next.includes(each)),
  );
}
</script>

<template>
  <label v-for="choice in choices" :key="choice.show" :class="{ refused: choice.refused }">
    <input
      type="checkbox"
      :checked="shown.show.includes(choice.show)"
      :disabled="!!choice.refused"
      :data-test="`show-${choice.show}`"
      @change="toggle(choice.show, ($event.target as HTMLInputElement).checked)"
    />
    {{ choice.label }} <small v-if="choice.refused">{{ choice.refused }}</small>
  </label>
</template>

<style scoped>
label {
  display: block;
  padding: 3px 4px;
  white-space: nowrap;
}
.refused {
  color: var(--quiet);
}
</style>
