<script setup lang="ts">
import { computed } from "vue";
import type { LedgerDescription, Statement } from "@/contract";
import Choices from "@/parts/Choices.vue";
import { count, dimensionName } from "@/words/words";

const props = defineProps<{ statement: Statement; ledger: LedgerDescription; at: number | null }>();
const emit = defineEmits<{ change: [rows: string[]] }>();

const current = computed(() => (props.at === null ? undefined : props.statement.rows[props.at]));
const choices = computed(() =>
  props.ledger.dimensions.map((each) => ({
    key: each.name,
    label: dimensionName(each.name),
    note: [
      ...(each.description ? [each.description] : []),
      ...(each.of ? [`by lookup from ${dimensionName(each.of)}`] : []),
      count(each.members, "member"),
    ].join(", "),
    refused:
      each.name !== current.value && props.statement.rows.includes(each.name) ? "It is a row already." : null,
  })),
);

function take(name: string): void {
  const rows = [...props.statement.rows];
  if (props.at === null) rows.push(name);
  else rows[props.at] = name;
  emit("change", rows);
}

function move(by: number): void {
  if (props.at === null) return;
  const rows = [...props.statement.rows];
  const [one] = rows.splice(props.at, 1);
  if (one) rows.splice(props.at + by, 0, one);
  emit("change", rows);
}

function remove(): void {
  emit(
    "change",
    props.statement.rows.filter((_, at) => at !== props.at),
  );
}
</script>

<template>
  <Choices :choices="choices" :chosen="current" @take="take" />
  <template v-if="at !== null">
    <button v-if="at > 0" type="button" class="plain" data-test="outward" @click="move(-1)">
      Move outward
    </button>
    <button
      v-if="at < statement.rows.length - 1"
      type="button"
      class="plain"
      data-test="inward"
      @click="move(1)"
    >
      Move inward
    </button>
    <button type="button" class="plain" data-test="remove" @click="remove">Remove</button>
  </template>
</template>
