<script setup lang="ts">
/** What each column of a file stands for, on real rows. */
import { computed } from "vue";
import type { ColumnUse, Mapping, StagedFile } from "@/contract";
import { DATE_FORMATS, DECIMAL_MARKS, KINDS, ROLES } from "@/words/words";

const props = defineProps<{ file: StagedFile; mapping: Mapping }>();
const emit = defineEmits<{ change: [mapping: Mapping]; sheet: [name: string] }>();

type Role = ColumnUse["role"];
const LINE_ROLES: Role[] = [
  "date",
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
  "price",
  "discount",
  "marker",
  "dimension",
  "not_used",
];
const LOOKUP_ROLES: Role[] = ["key", "key_name", "level", "level_name", "not_used"];
const NUMBERS: Role[] = ["quantity", "amount", "cost", "price", "discount"];
const NAMED: Role[] = ["dimension", "key", "level", "level_name"];
const reading = computed(() => {
  const { encoding, separator, kept, notes } = props.file;
  const how = separator ? `${encoding}, separated by ${separator === "\t" ? "tabs" : separator}` : encoding;
  return [how, ...(kept ? ["mapping kept from before"] : []), ...notes].join("; ");
});
const isComputed = computed(
  () =>
    !props.mapping.columns.some((use) => use.role === "amount") &&
    props.mapping.columns.some((use) => use.role === "price"),
);
const roles = computed(() => (props.mapping.kind === "lookup" ? LOOKUP_ROLES : LINE_ROLES));

function setColumn(at: number, next: Partial<ColumnUse>): void {
  const columns = props.mapping.columns.map((use, index) => (index === at ? { ...use, ...next } : use));
  emit("change", { ...props.mapping, columns });
}

function setRole(at: number, role: Role): void {
  const use = props.mapping.columns[at];
  if (!use) return;
  const plain = use.column
    .toLowerCase()
    .replace(/[^0-9a-z]+/g, "_")
    .replace(/^_+|_+$/g, "")
    .slice(0, 40);
  const name = ["date", "line", "marker", "not_used", ...NUMBERS].includes(role)
    ? ""
    : NAMED.includes(role)
      ? use.name || plain
      : role;
  setColumn(at, {
    role,
    name,
    date_format: role === "date" ? (use.date_format ?? "year_month_day") : null,
    decimal_mark: NUMBERS.includes(role) ? (use.decimal_mark ?? "point") : null,
  });
}

function setKind(kind: Mapping["kind"]): void {
  emit("change", { ...props.mapping, kind });
}

function value(event: Event): string {
  return (event.target as HTMLInputElement | HTMLSelectElement).value;
}
</script>

<template>
  <div>
    <div class="about">
      <label v-if="file.sheets.length > 1"
        >Sheet
        <select :value="file.sheets[0]" data-test="sheet" @change="emit('sheet', value($event))">
          <option v-for="name in file.sheets" :key="name" :value="name">{{ name }}</option>
        </select></label
      >
      <label
        >This file holds
        <select :value="mapping.kind" data-test="kind" @change="setKind(value($event) as Mapping['kind'])">
          <option v-for="(label, key) in KINDS" :key="key" :value="key">{{ label }}</option>
        </select></label
      >
      <label
        >as feed
        <input
          :value="mapping.name"
          maxlength="120"
          data-test="feed"
          @change="emit('change', { ...mapping, name: value($event) })"
      /></label>
      <label v-if="mapping.kind === 'returns' || mapping.columns.some((use) => use.role === 'marker')"
        >returns are written as
        <select
          :value="mapping.returns_are"
          @change="emit('change', { ...mapping, returns_are: value($event) as Mapping['returns_are'] })"
        >
          <option value="positive">positive figures</option>
          <option value="negative">negative figures</option>
        </select></label
      >
      <label v-if="mapping.kind !== 'lookup'"
        >complete through
        <input
          type="date"
          :value="mapping.covers_through ?? ''"
          @change="emit('change', { ...mapping, covers_through: value($event) || null })"
      /></label>
      <label v-if="mapping.columns.some((use) => use.role === 'marker')"
        >marks of a return
        <input
          :value="mapping.return_marks.join(', ')"
          placeholder="return, credit"
          data-test="return-marks"
          @change="
            emit('change', {
              ...mapping,
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
          @change="
            emit('change', { ...mapping, round_to: value($event) === '' ? null : Number(value($event)) })
          "
        >
          <option value="">not rounded</option>
          <option v-for="places in 5" :key="places" :value="places - 1">
            each line rounded to {{ places - 1 }} decimals
          </option>
        </select></label
      >
      <span class="quiet">{{ reading }}</span>
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
                v-if="use.role === 'date'"
                :value="use.date_format ?? ''"
                :class="{ ask: !use.date_format }"
                :aria-label="`How ${use.column} is written`"
                :data-test="`format-${use.column}`"
                @change="setColumn(at, { date_format: value($event) as 'year_month_day' })"
              >
                <option v-if="!use.date_format" value="" disabled>which order?</option>
                <option v-for="(label, key) in DATE_FORMATS" :key="key" :value="key">{{ label }}</option>
              </select>
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
  margin-bottom: 8px;
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
.ask {
  outline: 2px solid var(--adverse);
}
</style>
