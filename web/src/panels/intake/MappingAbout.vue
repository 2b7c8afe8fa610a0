<script setup lang="ts">
/** What a file is as a whole: what it holds, as which feed, and how its returns, rates and coverage are meant. */
import Field from "@/parts/Field.vue";
import Day from "@/parts/Day.vue";
import Option from "@/parts/Option.vue";
import { computed } from "vue";
import type { ColumnUse, Mapping } from "@/contract";
import { KINDS } from "@/words/intake";

const props = defineProps<{ mapping: Mapping }>();
const emit = defineEmits<{ change: [next: Partial<Mapping>] }>();

const isLines = computed(() => props.mapping.kind === "sales" || props.mapping.kind === "returns");
const has = (role: ColumnUse["role"]): boolean => props.mapping.columns.some((use) => use.role === role);
const isComputed = computed(() => !has("amount") && has("price"));
const asksSign = computed(() => props.mapping.kind === "returns" || has("marker"));
</script>

<template>
  <div class="about">
    <label
      >This file holds
      <ElSelect
        :model-value="mapping.kind"
        data-test="kind"
        @change="emit('change', { kind: $event as Mapping['kind'] })"
      >
        <Option v-for="(label, key) in KINDS" :key="key" :value="key" :label="label" /> </ElSelect
    ></label>
    <label
      ><span title="Files of one kind that follow each other, month by month">as feed</span>
      <Field
        :value="mapping.name"
        maxlength="120"
        data-test="feed"
        @change="emit('change', { name: $event })"
    /></label>
    <label v-if="asksSign"
      >returns are written as
      <ElSelect
        :model-value="mapping.returns_are ?? ''"
        :class="{ ask: !mapping.returns_are }"
        data-test="returns-are"
        @change="emit('change', { returns_are: $event as Mapping['returns_are'] })"
      >
        <Option v-if="!mapping.returns_are" value="" disabled label="which sign?" />
        <Option value="positive" label="positive figures" />
        <Option value="negative" label="negative figures" /> </ElSelect
    ></label>
    <label v-if="isLines && !has('currency')"
      >in
      <Field
        style="width: 9ch"
        :value="mapping.currency ?? ''"
        maxlength="3"
        placeholder="ledger's"
        data-test="currency"
        @change="emit('change', { currency: $event.trim().toUpperCase() || null })"
    /></label>
    <label v-if="has('discount_rate')"
      >rates of discount are
      <ElSelect
        :model-value="mapping.rates_are"
        data-test="rates-are"
        @change="emit('change', { rates_are: $event as Mapping['rates_are'] })"
      >
        <Option value="fraction" label="parts of 1 (0.15)" />
        <Option value="percent" label="percent (15)" /> </ElSelect
    ></label>
    <label v-if="isLines"
      ><span title="Days without lines up to then are days without sales; later ones are not posted yet"
        >complete up to</span
      >
      <Day
        :model-value="mapping.covers_through ?? ''"
        @change="emit('change', { covers_through: $event || null })"
    /></label>
    <label v-else-if="mapping.kind === 'lookup' && !has('valid_from')"
      >holds from
      <Day
        :model-value="mapping.valid_from ?? ''"
        data-test="valid-from"
        @change="emit('change', { valid_from: $event || null })"
      />
      <small class="quiet">no date: for all days, past ones too</small></label
    >
    <label v-if="has('marker')"
      >marks of a return
      <Field
        :value="mapping.return_marks.join(', ')"
        placeholder="return, credit"
        data-test="return-marks"
        @change="
          emit('change', {
            return_marks: $event
              .split(',')
              .map((mark) => mark.trim())
              .filter(Boolean),
          })
        "
    /></label>
    <label v-if="isComputed"
      >amount is quantity × price − discount,
      <ElSelect
        :model-value="mapping.round_to ?? ''"
        data-test="round-to"
        @change="emit('change', { round_to: $event === '' ? null : Number($event) })"
      >
        <Option value="" label="not rounded" />
        <Option
          v-for="places in 5"
          :key="places"
          :value="places - 1"
          :label="`each line rounded to ${places - 1} decimals`"
        /> </ElSelect
    ></label>
  </div>
</template>

<style scoped>
.about {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
  margin-bottom: 6px;
}
.about label {
  white-space: nowrap;
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.about .el-select,
.about .el-input {
  min-width: 150px;
}
.ask {
  outline: 2px solid var(--adverse);
}
</style>
