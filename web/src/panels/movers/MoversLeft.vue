<script setup lang="ts">
/** Who is on neither side: the small ones as one, those that did not change, those whose change cannot be told. */
import { useNumbers } from "@/composables/numbers";
import { computed } from "vue";
import type { Movers } from "@/contract";
import { columnOf } from "@/model/movers";

const props = defineProps<{ movers: Movers }>();
const { cell: cellText, whole } = useNumbers();
const small = computed(() => {
  const { small: found, decimals } = props.movers;
  const change = found?.shown.difference;
  return change ? cellText(change, columnOf(props.movers, "difference"), decimals) : "";
});
</script>

<template>
  <p v-if="movers.small || movers.still || movers.unknown" class="quiet" data-test="small">
    <template v-if="movers.small"
      >{{ whole(movers.small.count) }} small {{ movers.small.count === 1 ? "one" : "ones" }} together
      {{ small }}.
    </template>
    <template v-if="movers.still">{{ whole(movers.still) }} did not change. </template>
    <template v-if="movers.unknown">{{ whole(movers.unknown) }} have no change to show.</template>
  </p>
</template>

<style scoped>
p {
  grid-column: 1 / -1;
  margin: 4px 0 0;
  font-size: 0.78rem;
}
</style>
