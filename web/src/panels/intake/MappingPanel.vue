<script setup lang="ts">
/** What each column of a file stands for, on real rows. */
import { computed } from "vue";
import type { ColumnUse, Mapping, StagedFile } from "@/contract";
import { DATE_FORMATS, DECIMAL_MARKS, KINDS, ROLES } from "@/words/intake";
import { bothReadings } from "@/model/readings";

const props = defineProps<{ file: StagedFile; mapping: Mapping }>();
const emit = defineEmits<{ change: [next: Partial<Mapping>] }>();

type Role = ColumnUse["role"];
const LINE_ROLES: Role[] = [
  "date",
  "date_year",
  "date_month",
  "date_day",
  "order",
  "line",
  "rep",
  "region",
  "product",
  "customer",
  "channel",
  "quantity",
  "amount",
  "cost",
  "unit_cost",
  "price",
  "discount",
  "discount_rate",
  "currency",
  "marker",
  "dimension",
  "not_used",
];
const LOOKUP_ROLES: Role[] = ["key", "key_name", "level", "level_name", "valid_from", "not_used"];
const RATE_ROLES: Role[] = ["date", "currency", "rate", "not_used"];
const NUMBERS: Role[] = [
  "quantity",
  "amount",
  "cost",
  "unit_cost",
  "price",
  "discount",
  "discount_rate",
  "rate",
];
const NAMED: Role[] = ["dimension", "key", "level", "level_name"];
const DATES: Role[] = ["date", "valid_from"];
const UNNAMED: Role[] = [
  ...DATES,
  "currency",
  "date_year",
  "date_month",
  "date_day",
  "line",
  "marker",
  "not_used",
];
const DESCRIBED: Role[] = ["rep", "region", "product", "customer", "channel", "dimension", "level"];
const FIGURES: Role[] = ["quantity", "amount", "cost"];
const roles = computed(
  () =>
    ({ lookup: LOOKUP_ROLES, rates: RATE_ROLES, sales: LINE_ROLES, returns: LINE_ROLES })[props.mapping.kind],
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

function setRole(at: number, role: Role): void {
  const use = props.mapping.columns[at];
  if (!use) return;
  const plain = use.column
    .toLowerCase()
    .replace(/[^0-9a-z]+/g, "_")
    .replace(/^_+|_+$/g, "")
    .slice(0, 40);
  const none = [...UNNAMED, ...NUMBERS].includes(role);
  setColumn(at, {
    role,
    name: none ? "" : NAMED.includes(role) ? use.name || plain : role,
    date_format: DATES.includes(role) ? (use.date_format ?? "year_month_day") : null,
    decimal_mark: NUMBERS.includes(role) ? (use.decimal_mark ?? "point") : null,
  });
}

/** Both readings of an ambiguous date, on the first rows of the file. */
function readings(at: number): string[] {
  return bothReadings(props.file.sample.map((row) => row.fields[at] ?? ""));
}

function value(event: Event): string {
  return (event.target as HTMLInputElement | HTMLSelectElement).value;
}
</script>

<template>
  <div>
    <div class="about">
      <label
        >This file holds
        <select
          :value="mapping.kind"
          data-test="kind"
          @change="emit('change', { kind: value($event) as Mapping['kind'] })"
        >
          <option v-for="(label, key) in KINDS" :key="key" :value="key">{{ label }}</option>
        </select></label
      >
      <label
        >as feed
        <input
          :value="mapping.name"
          maxlength="120"
          data-test="feed"
          @change="emit('change', { name: value($event) })"
      /></label>
      <label v-if="asksSign"
        >returns are written as
        <select
          :value="mapping.returns_are ?? ''"
          :class="{ ask: !mapping.returns_are }"
          data-test="returns-are"
          @change="emit('change', { returns_are: value($event) as Mapping['returns_are'] })"
        >
          <option v-if="!mapping.returns_are" value="" disabled>which sign?</option>
          <option value="positive">positive figures</option>
          <option value="negative">negative figures</option>
        </select></label
      >
      <label v-if="isLines && !has('currency')"
        >in
        <input
          :value="mapping.currency ?? ''"
          maxlength="3"
          size="4"
          placeholder="ledger's"
          data-test="currency"
          @change="emit('change', { currency: value($event).trim().toUpperCase() || null })"
      /></label>
      <label v-if="has('discount_rate')"
        >rates of discount are
        <select
          :value="mapping.rates_are"
          data-test="rates-are"
          @change="emit('change', { rates_are: value($event) as Mapping['rates_are'] })"
        >
          <option value="fraction">parts of 1 (0.15)</option>
          <option value="percent">percent (15)</option>
        </select></label
      >
      <label v-if="isLines"
        >complete through
        <input
          type="date"
          :value="mapping.covers_through ?? ''"
          @change="emit('change', { covers_through: value($event) || null })"
      /></label>
      <label v-else-if="mapping.kind === 'lookup' && !has('valid_from')"
        >holds from
        <input
          type="date"
          :value="mapping.valid_from ?? ''"
          data-test="valid-from"
          @change="emit('change', { valid_from: value($event) || null })"
        />
        <small class="quiet">no date: for all days, past ones too</small></label
      >
      <label v-if="has('marker')"
        >marks of a return
        <input
          :value="mapping.return_marks.join(', ')"
          placeholder="return, credit"
          data-test="return-marks"
          @change="
            emit('change', {
              return_marks: value($event)
                .split(',')
                .map((mark) => mark.trim())
                .filter(Boolean),
            })
          "
      /></label>
      <label v-if="isComputed"
        >amount is quantity × price − discount,
        <select
          :value="mapping.round_to ?? ''"
          data-test="round-to"
          @change="emit('change', { round_to: value($event) === '' ? null : Number(value($event)) })"
        >
          <option value="">not rounded</option>
          <option v-for="places in 5" :key="places" :value="places - 1">
            each line rounded to {{ places - 1 }} decimals
          </option>
        </select></label
      >
    </div>
    <div class="rows">
      <table>
        <thead>
          <tr>
            <td class="quiet">Row</td>
            <th v-for="(use, at) in mapping.columns" :key="use.column" scope="col">
              <span>{{ use.column }}</span>
              <select
                :value="use.role"
                :aria-label="`What ${use.column} stands for`"
                :data-test="`role-${use.column}`"
                @change="setRole(at, value($event) as Role)"
              >
                <option v-for="role in roles" :key="role" :value="role">{{ ROLES[role] }}</option>
              </select>
              <input
                v-if="NAMED.includes(use.role)"
                :value="use.name"
                :aria-label="`Name for ${use.column}`"
                @change="setColumn(at, { name: value($event) })"
              />
              <select
                v-if="DATES.includes(use.role)"
                :value="use.date_format ?? ''"
                :class="{ ask: !use.date_format }"
                :aria-label="`How ${use.column} is written`"
                :data-test="`format-${use.column}`"
                @change="setColumn(at, { date_format: value($event) as 'year_month_day' })"
              >
                <option v-if="!use.date_format" value="" disabled>which order?</option>
                <option v-for="(label, key) in DATE_FORMATS" :key="key" :value="key">{{ label }}</option>
              </select>
              <small
                v-for="each in DATES.includes(use.role) && !use.date_format ? readings(at) : []"
                :key="each"
                class="both"
                data-test="both-readings"
                >{{ each }}</small
              >
              <select
                v-if="NUMBERS.includes(use.role)"
                :value="use.decimal_mark ?? ''"
                :class="{ ask: !use.decimal_mark }"
                :aria-label="`How ${use.column} is written`"
                :data-test="`format-${use.column}`"
                @change="setColumn(at, { decimal_mark: value($event) as 'point' })"
              >
                <option v-if="!use.decimal_mark" value="" disabled>which mark?</option>
                <option v-for="(label, key) in DECIMAL_MARKS" :key="key" :value="key">{{ label }}</option>
              </select>
              <input
                v-if="[...DESCRIBED, ...FIGURES].includes(use.role)"
                :value="use.description"
                maxlength="400"
                placeholder="what it means"
                :aria-label="`What ${use.column} means`"
                :data-test="`description-${use.column}`"
                @change="setColumn(at, { description: value($event) })"
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
th select,
th input {
  display: block;
  width: 100%;
  min-width: 92px;
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
