<script setup lang="ts">
/** What is to be decided about a name that is taken, keys that stand on no line, ids that are none, or other currencies. */
import { dimensionName } from "@/words/names";
import { computed, ref } from "vue";
import type { Finding, Mapping } from "@/contract";

const props = defineProps<{ finding: Finding; mapping: Mapping }>();
const emit = defineEmits<{ change: [next: Partial<Mapping>] }>();

const rates = ref<Record<string, string>>({});
const currencies = computed(() =>
  props.finding.code === "other_currencies" ? props.finding.members.map((each) => each.key) : [],
);
const complete = computed(() => currencies.value.every((each) => rates.value[each]?.trim()));

/** Call what has the taken name by the name that is free. */
function rename(): void {
  const { about, proposed } = props.finding;
  emit("change", {
    columns: props.mapping.columns.map((use) => (use.name === about ? { ...use, name: proposed } : use)),
  });
}

function useNoLineId(): void {
  emit("change", {
    columns: props.mapping.columns.map((use) =>
      use.role === "line" ? { ...use, role: "not_used", name: "" } : use,
    ),
  });
}

function takeRates(): void {
  const others = props.mapping.rates.filter((each) => !currencies.value.includes(each.currency));
  const said = currencies.value.map((currency) => ({
    currency,
    rate: rates.value[currency]?.trim() ?? "",
    first_day: null,
    last_day: null,
  }));
  emit("change", { rates: [...others, ...said] });
}
</script>

<template>
  <ElButton
    v-if="finding.code === 'name_taken' && finding.proposed"
    size="small"
    data-test="take-name"
    @click="rename"
    >Call it “{{ dimensionName(finding.proposed) }}”</ElButton
  >
  <ElCheckbox
    v-if="finding.code === 'lookup_maps_nothing'"
    size="small"
    :model-value="mapping.unknown_keys === 'keep'"
    data-test="keep-unknown-keys"
    @change="emit('change', { unknown_keys: mapping.unknown_keys === 'keep' ? 'refuse' : 'keep' })"
    >keep it for lines to come</ElCheckbox
  >
  <ElButton
    v-if="finding.code === 'line_ids_useless'"
    size="small"
    data-test="no-line-id"
    @click="useNoLineId"
    >Use it as no line id</ElButton
  >
  <form v-if="currencies.length" class="rates" @submit.prevent="takeRates">
    <ElInput
      v-for="currency in currencies"
      :key="currency"
      v-model="rates[currency]"
      size="small"
      :aria-label="`What one ${currency} is in ${finding.about}`"
      :data-test="`rate-${currency}`"
    >
      <template #prepend>1 {{ currency }} =</template>
      <template #append>{{ finding.about }}</template>
    </ElInput>
    <ElButton size="small" native-type="submit" :disabled="!complete" data-test="take-rates"
      >Take at {{ currencies.length === 1 ? "this rate" : "these rates" }}</ElButton
    >
  </form>
</template>

<style scoped>
.rates {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 4px 0 4px 16px;
}
.rates .el-input {
  width: 240px;
}
</style>
