<script setup lang="ts">
/** Which lines are counted, in every window: those of some members of a dimension, or all but these. */
import { computed, ref } from "vue";
import type { LedgerDescription, MemberKey, Statement } from "@/contract";
import MemberPicker from "@/panels/statement/MemberPicker.vue";
import { dimensionName } from "@/words/words";

const props = defineProps<{ statement: Statement; ledger: LedgerDescription; dimension: string | null }>();
const emit = defineEmits<{
  change: [members: MemberKey[], exclude: boolean, dimension: string];
  beside: [dimension: string];
}>();

const free = computed(() =>
  props.ledger.dimensions
    .map((each) => each.name)
    .filter((name) => !props.statement.filters.some((each) => each.dimension === name)),
);
const chosen = ref(props.dimension ?? "");
const filter = computed(() => props.statement.filters.find((each) => each.dimension === chosen.value));
const members = computed<MemberKey[]>(() => filter.value?.members ?? []);
const exclude = computed(() => filter.value?.exclude ?? false);
</script>

<template>
  <select v-if="!dimension" v-model="chosen" aria-label="Dimension" data-test="filter-dimension">
    <option value="" disabled>Which dimension?</option>
    <option v-for="name in filter ? [chosen, ...free] : free" :key="name" :value="name">
      {{ dimensionName(name) }}
    </option>
  </select>
  <template v-if="chosen">
    <MemberPicker
      :model-value="members"
      :dimension="chosen"
      @update:model-value="(next) => emit('change', next, exclude, chosen)"
    >
      <label class="but"
        ><input
          type="checkbox"
          :checked="exclude"
          :disabled="!members.length"
          @change="emit('change', members, !exclude, chosen)"
        />
        all but these</label
      >
    </MemberPicker>
    <button
      v-if="members.length"
      type="button"
      class="plain"
      data-test="remove"
      @click="emit('change', [], false, chosen)"
    >
      Remove this filter
    </button>
    <button type="button" class="plain" data-test="filter-beside" @click="emit('beside', chosen)">
      Keep beside the table
    </button>
  </template>
</template>

<style scoped>
.but {
  margin-left: 10px;
}
</style>
