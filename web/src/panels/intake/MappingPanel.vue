<script setup lang="ts">
/** What each column of a file stands for, on real rows. */
import Field from "@/parts/Field.vue";
import Day from "@/parts/Day.vue";
import Option from "@/parts/Option.vue";
import { computed } from "vue";
import type { ColumnUse, Mapping, StagedFile } from "@/contract";
import { ROLE_RULES } from "@/contract/vocabulary";
import { DATE_FORMATS, DECIMAL_MARKS, KINDS, ROLES } from "@/words/intake";
import { bothDates } from "@/model/bothDates";

const props = defineProps<{ file: StagedFile; mapping: Mapping }>();
const emit = defineEmits<{ change: [next: Partial<Mapping>] }>();

type Role = ColumnUse["role"];
const roles = computed(() =>
  (Object.keys(ROLE_RULES) as Role[]).filter((role) => ROLE_RULES[role].kinds.includes(props.mapping.kind)),
);
const isLines = computed(() => props.mapping.kind === "sales" || props.mapping.kind === "returns");
const has = (role: Role): boolean => props.mapping.columns.some((use) => use.role === role);
const isComputed = computed(() => !has("amount") && has("price"));
const asksSign = computed(() => props.mapping.kind === "returns" || has("marker"));

function setColumn(at: number, next: Partial<ColumnUse>): void {
  emit("change", {
    columns: props.mapping.columns.map((use, index) => (index === at ? { ...use, ...next } : use)),
  });
}

/** Another role: what it leaves open, its name and how it is written, is proposed from what the column holds. */
function setRole(at: number, role: Role): void {
  setColumn(at, { role, name: "", date_format: null, decimal_mark: null });
}

/** Both readings of an ambiguous date, on the first rows of the file. */
function readings(at: number): string[] {
  return bothDates(props.file.sample.map((row) => row.fields[at] ?? ""));
}
</script>

<template>
  <div>
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
        >as feed
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
        >complete through
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
    <div class="rows">
      <table>
        <thead>
          <tr>
            <td class="quiet">Row</td>
            <th v-for="(use, at) in mapping.columns" :key="use.column" scope="col">
              <span>{{ use.column }}</span>
              <ElSelect
                :model-value="use.role"
                :aria-label="`What ${use.column} stands for`"
                :data-test="`role-${use.column}`"
                @change="setRole(at, $event as Role)"
              >
                <Option v-for="role in roles" :key="role" :value="role" :label="ROLES[role]" />
              </ElSelect>
              <Field
                v-if="ROLE_RULES[use.role].named === 'itself'"
                :value="use.name"
                :aria-label="`Name for ${use.column}`"
                @change="setColumn(at, { name: $event })"
              />
              <ElSelect
                v-if="ROLE_RULES[use.role].written === 'date'"
                :model-value="use.date_format ?? ''"
                :class="{ ask: !use.date_format }"
                :aria-label="`How ${use.column} is written`"
                :data-test="`format-${use.column}`"
                @change="setColumn(at, { date_format: $event as 'year_month_day' })"
              >
                <Option v-if="!use.date_format" value="" disabled label="which order?" />
                <Option v-for="(label, key) in DATE_FORMATS" :key="key" :value="key" :label="label" />
              </ElSelect>
              <small
                v-for="each in ROLE_RULES[use.role].written === 'date' && !use.date_format
                  ? readings(at)
                  : []"
                :key="each"
                class="both"
                data-test="both-readings"
                >{{ each }}</small
              >
              <ElSelect
                v-if="ROLE_RULES[use.role].written === 'number'"
                :model-value="use.decimal_mark ?? ''"
                :class="{ ask: !use.decimal_mark }"
                :aria-label="`How ${use.column} is written`"
                :data-test="`format-${use.column}`"
                @change="setColumn(at, { decimal_mark: $event as 'point' })"
              >
                <Option v-if="!use.decimal_mark" value="" disabled label="which mark?" />
                <Option v-for="(label, key) in DECIMAL_MARKS" :key="key" :value="key" :label="label" />
              </ElSelect>
              <Field
                v-if="ROLE_RULES[use.role].told"
                :value="use.description"
                maxlength="400"
                placeholder="what it means"
                :aria-label="`What ${use.column} means`"
                :data-test="`description-${use.column}`"
                @change="setColumn(at, { description: $event })"
              />
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in file.sample" :key="row.row">
            <td class="quiet">{{ row.row }}</td>
            <td v-for="(field, at) in row.fields" :key="at">{{ field }}</td>
          </tr>
        </tbody>
      </table>
    </div>
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
.rows {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
}
th,
td {
  border: 1px solid var(--line);
  padding: 3px 6px;
  text-align: left;
  white-space: nowrap;
  max-width: 220px;
  overflow: hidden;
  text-overflow: ellipsis;
}
th {
  background: var(--soft);
  vertical-align: top;
}
th span {
  display: block;
}
th .el-select.el-select {
  display: block;
}
th .el-select.el-select,
th .el-input.el-input {
  width: 190px;
  margin-top: 3px;
}
.both {
  display: block;
  font-weight: 400;
}
.ask {
  outline: 2px solid var(--adverse);
}
</style>
