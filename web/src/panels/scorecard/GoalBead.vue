<script setup lang="ts">
/** A bead on a rod with its goal marked: full where it is met, hollow where it is missed; and what was reached, in words. */
import { useNumbers } from "@/composables/numbers";
import { computed } from "vue";
import type { AnsweredColumn, Cell } from "@/contract";
import { REASONS } from "@/contract/vocabulary";
import { placeOf } from "@/model/card";

const props = defineProps<{ cell: Cell; column: AnsweredColumn; goalOf: "base" | "figure" }>();
const { cell: cellText } = useNumbers();
const place = computed(() => placeOf(props.cell, props.goalOf));
const verdict = computed(() => (props.cell.met == null ? "" : props.cell.met ? "met" : "missed"));
</script>

<template>
  <span class="goal" :class="verdict">
    <span class="track" aria-hidden="true">
      <i v-if="cell.target" class="mark" />
      <b v-if="place !== null" :style="{ left: `${place * 100}%` }" />
    </span>
    <span v-if="cell.value !== null && cell.target" class="said"
      >{{ cellText(cell, column, column.decimals) }} {{ verdict }}</span
    >
    <span v-else class="said none" :title="REASONS[cell.reason ?? ''] ?? ''">{{
      !cell.target ? "no goal" : verdict || "cannot be told"
    }}</span>
  </span>
</template>

<style scoped>
.goal {
  display: grid;
  grid-template-columns: minmax(54px, 1fr) auto;
  gap: 14px;
  align-items: center;
  width: 100%;
}
.track {
  position: relative;
  height: 1.1rem;
}
.track::before {
  content: "";
  position: absolute;
  inset: 50% 0 auto;
  border-top: 1px solid var(--rod);
}
.mark {
  position: absolute;
  inset: 0 auto 0 50%;
  border-left: 2px dashed var(--wood);
}
b {
  position: absolute;
  top: 50%;
  width: 22px;
  height: 13px;
  border-radius: 7px;
  transform: translate(-50%, -50%);
  border: 2px solid var(--quiet);
  background: var(--sheet);
}
.met b {
  background: var(--favourable);
  border-color: var(--favourable);
}
.missed b {
  border-color: var(--adverse);
}
.said {
  text-align: right;
  font-variant-numeric: tabular-nums lining-nums;
}
.met .said {
  color: var(--favourable);
}
.missed .said {
  color: var(--adverse);
}
.none {
  color: var(--quiet);
}
</style>
