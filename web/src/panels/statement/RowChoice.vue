<script setup lang="ts">
/** A level down the rows or across: a dimension, or each period of a grain. */
import { GRAINS } from "@/contract/vocabulary";
import { dimensionName } from "@/words/names";
import { useNumbers } from "@/composables/numbers";
import { computed } from "vue";
import type { Grain, LedgerDescription, RowLevel, Statement } from "@/contract";
import { dimensionsFor, periodLevel } from "@/model/periodLevel";
import { levelKey, levelOf } from "@/model/statement";
import Choices from "@/parts/Choices.vue";

const { count } = useNumbers();

const props = defineProps<{
  statement: Statement;
  ledger: LedgerDescription;
  way: "rows" | "across";
  at: number | null;
}>();
const emit = defineEmits<{ change: [levels: RowLevel[]] }>();

const levels = computed(() => props.statement[props.way]);
const current = computed(() => {
  const level = props.at === null ? undefined : levels.value[props.at];
  return level === undefined ? undefined : levelKey(level);
});
const taken = computed(() => [...props.statement.rows, ...props.statement.across].map(levelKey));
const offered = computed(() => dimensionsFor(props.ledger, props.statement));
const choices = computed(() =>
  offered.value
    .filter((each) => !periodLevel(each.name))
    .map((each) => ({
      key: each.name,
      label: dimensionName(each.name),
      note: [
        ...(each.description ? [each.description] : []),
        ...(each.of ? [`by lookup from ${dimensionName(each.of)}`] : []),
        count(each.members, "member"),
      ].join(", "),
      refused: refusal(each.name),
    })),
);
const periods = computed(() => [
  ...(Object.keys(GRAINS) as Grain[]).reverse().map((grain) => ({
    key: `time:${grain}`,
    label: `each ${GRAINS[grain]}`,
    refused: refusal(`time:${grain}`),
  })),
  ...offered.value
    .filter((each) => periodLevel(each.name))
    .map(({ name }) => ({ key: name, label: dimensionName(name), refused: refusal(name) })),
]);

function refusal(key: string): string | null {
  return key !== current.value && taken.value.includes(key) ? "It stands there already." : null;
}

function take(key: string): void {
  const next = [...levels.value];
  if (props.at === null) next.push(levelOf(key));
  else next[props.at] = levelOf(key);
  emit("change", next);
}

function move(by: number): void {
  if (props.at === null) return;
  const next = [...levels.value];
  const [one] = next.splice(props.at, 1);
  if (one) next.splice(props.at + by, 0, one);
  emit("change", next);
}

function remove(): void {
  emit(
    "change",
    levels.value.filter((_, at) => at !== props.at),
  );
}
</script>

<template>
  <Choices :choices="choices" :chosen="current" @take="take" />
  <Choices title="Time" :choices="periods" :chosen="current" @take="take" />
  <template v-if="at !== null">
    <ElButton v-if="at > 0" link data-test="outward" @click="move(-1)"> Move outward </ElButton>
    <ElButton v-if="at < levels.length - 1" link data-test="inward" @click="move(1)"> Move inward </ElButton>
    <ElButton link data-test="remove" @click="remove">Remove</ElButton>
  </template>
</template>
