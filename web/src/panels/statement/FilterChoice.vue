<script setup lang="ts">
/** Which lines are counted, in every window: those of some members of a dimension, or all but these. */
import Option from "@/parts/Option.vue";
import { dimensionName } from "@/words/names";
import { computed, ref } from "vue";
import type { LedgerDescription, MemberKey, Statement } from "@/contract";
import { dimensionsFor } from "@/model/periodLevel";
import MemberPicker from "@/panels/statement/MemberPicker.vue";

const props = defineProps<{ statement: Statement; ledger: LedgerDescription; dimension: string | null }>();
const emit = defineEmits<{
  change: [members: MemberKey[], exclude: boolean, dimension: string];
  beside: [dimension: string];
}>();

const free = computed(() =>
  dimensionsFor(props.ledger, props.statement)
    .map((each) => each.name)
    .filter((name) => !props.statement.filters.some((each) => each.dimension === name)),
);
const chosen = ref(props.dimension ?? "");
const filter = computed(() => props.statement.filters.find((each) => each.dimension === chosen.value));
const members = computed<MemberKey[]>(() => filter.value?.members ?? []);
const exclude = computed(() => filter.value?.exclude ?? false);
</script>

<template>
  <ElSelect v-if="!dimension" v-model="chosen" aria-label="Dimension" data-test="filter-dimension">
    <Option value="" disabled label="Which dimension?" />
    <Option
      v-for="name in filter ? [chosen, ...free] : free"
      :key="name"
      :value="name"
      :label="dimensionName(name)"
    />
  </ElSelect>
  <template v-if="chosen">
    <MemberPicker
      :model-value="members"
      :dimension="chosen"
      @update:model-value="(next) => emit('change', next, exclude, chosen)"
    >
      <ElCheckbox
        class="but"
        :model-value="exclude"
        :disabled="!members.length"
        @change="emit('change', members, !exclude, chosen)"
        >all but these</ElCheckbox
      >
    </MemberPicker>
    <ElButton v-if="members.length" link data-test="remove" @click="emit('change', [], false, chosen)">
      Remove this filter
    </ElButton>
    <ElButton link data-test="filter-beside" @click="emit('beside', chosen)">
      Keep beside the table
    </ElButton>
  </template>
</template>

<style scoped>
.but {
  margin-left: 10px;
}
</style>
