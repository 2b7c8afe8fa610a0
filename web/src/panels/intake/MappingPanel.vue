<script setup lang="ts">
/** What each column of a file stands for, on real rows. */
import Field from "@/parts/Field.vue";
import Option from "@/parts/Option.vue";
import { computed } from "vue";
import type { ColumnUse, Mapping, StagedFile } from "@/contract";
import { ROLE_RULES } from "@/contract/vocabulary";
import MappingAbout from "@/panels/intake/MappingAbout.vue";
import { DATE_FORMATS, DECIMAL_MARKS, POLARITIES, ROLES } from "@/words/intake";
import { bothDates } from "@/model/bothDates";

const props = defineProps<{ file: StagedFile; mapping: Mapping }>();
const emit = defineEmits<{ change: [next: Partial<Mapping>] }>();

type Role = ColumnUse["role"];
/** A column of the file with its place. */
type Used = { use: ColumnUse; at: number };
const rule = (use: ColumnUse) => ROLE_RULES[use.role];
const roles = computed(() =>
  (Object.keys(ROLE_RULES) as Role[]).filter((role) => ROLE_RULES[role].kinds.includes(props.mapping.kind)),
);
/** Whether a column is a figure of the ledger's own. */
const isFigure = ({ role }: ColumnUse): boolean => role === "further_amount" || role === "further_quantity";
function setColumn(at: number, next: Partial<ColumnUse>): void {
  emit("change", {
    columns: props.mapping.columns.map((use, index) => (index === at ? { ...use, ...next } : use)),
  });
}

/** Another role: what it leaves open, its name and how it is written, is proposed from what the column holds. */
function setRole(at: number, role: Role): void {
  setColumn(at, { role, name: "", date_format: null, decimal_mark: null });
}

/** What a column holds in the first rows, each text once. */
function examples(at: number): string {
  const texts = props.file.sample.map((row) => row.fields[at]?.trim() || "(blank)");
  return [...new Set(texts)].slice(0, 4).join("  ·  ");
}

const rows = computed(() => props.mapping.columns.map((use, at) => ({ use, at })));
function hasLook({ row }: { row: { use: ColumnUse } }): string {
  return row.use.role === "not_used" ? "ignored" : "";
}

/** Both readings of an ambiguous date, on the first rows of the file. */
function readings(at: number): string[] {
  return bothDates(props.file.sample.map((row) => row.fields[at] ?? ""));
}
</script>

<template>
  <div>
    <MappingAbout :mapping="mapping" @change="emit('change', $event)" />
    <ElTable
      :data="rows"
      :row-key="(row: Used) => row.use.column"
      size="small"
      :row-class-name="hasLook"
      aria-label="What each column stands for"
    >
      <ElTableColumn v-slot="{ row }" label="Column" min-width="120">
        <strong>{{ row.use.column }}</strong>
      </ElTableColumn>
      <ElTableColumn v-slot="{ row }" label="Holds, for example" min-width="220" show-overflow-tooltip>
        <span class="examples">{{ examples(row.at) }}</span>
      </ElTableColumn>
      <ElTableColumn v-slot="{ row }" label="Stands for" width="190">
        <ElSelect
          :model-value="row.use.role"
          :aria-label="`What ${row.use.column} stands for`"
          :data-test="`role-${row.use.column}`"
          @change="setRole(row.at, $event as Role)"
        >
          <Option v-for="role in roles" :key="role" :value="role" :label="ROLES[role]" />
        </ElSelect>
      </ElTableColumn>
      <ElTableColumn v-slot="{ row }" label="Called, written" width="200">
        <Field
          v-if="rule(row.use).named === 'itself'"
          :value="row.use.name"
          :aria-label="`Name for ${row.use.column}`"
          @change="setColumn(row.at, { name: $event })"
        />
        <Field
          v-if="row.use.role === 'further_quantity'"
          :value="row.use.unit"
          maxlength="20"
          placeholder="unit: h, kg"
          :aria-label="`Unit of ${row.use.column}`"
          :data-test="`unit-${row.use.column}`"
          @change="setColumn(row.at, { unit: $event })"
        />
        <ElSelect
          v-if="isFigure(row.use)"
          :model-value="row.use.polarity"
          :aria-label="`Whether more of ${row.use.column} is good`"
          :data-test="`polarity-${row.use.column}`"
          @change="setColumn(row.at, { polarity: $event as ColumnUse['polarity'] })"
        >
          <Option v-for="(label, key) in POLARITIES" :key="key" :value="key" :label="label" />
        </ElSelect>
        <template v-if="rule(row.use).written === 'date'">
          <ElSelect
            :model-value="row.use.date_format ?? ''"
            :class="{ ask: !row.use.date_format }"
            :aria-label="`How ${row.use.column} is written`"
            :data-test="`format-${row.use.column}`"
            @change="setColumn(row.at, { date_format: $event as 'year_month_day' })"
          >
            <Option v-if="!row.use.date_format" value="" disabled label="which order?" />
            <Option v-for="(label, key) in DATE_FORMATS" :key="key" :value="key" :label="label" />
          </ElSelect>
          <small
            v-for="each in row.use.date_format ? [] : readings(row.at)"
            :key="each"
            class="both"
            data-test="both-readings"
            >{{ each }}</small
          >
        </template>
        <ElSelect
          v-if="rule(row.use).written === 'number'"
          :model-value="row.use.decimal_mark ?? ''"
          :class="{ ask: !row.use.decimal_mark }"
          :aria-label="`How ${row.use.column} is written`"
          :data-test="`format-${row.use.column}`"
          @change="setColumn(row.at, { decimal_mark: $event as 'point' })"
        >
          <Option v-if="!row.use.decimal_mark" value="" disabled label="which mark?" />
          <Option v-for="(label, key) in DECIMAL_MARKS" :key="key" :value="key" :label="label" />
        </ElSelect>
      </ElTableColumn>
      <ElTableColumn v-slot="{ row }" label="What it means" min-width="160">
        <Field
          v-if="rule(row.use).told"
          :value="row.use.description"
          maxlength="400"
          placeholder="told wherever it is named"
          :aria-label="`What ${row.use.column} means`"
          :data-test="`description-${row.use.column}`"
          @change="setColumn(row.at, { description: $event })"
        />
      </ElTableColumn>
    </ElTable>
  </div>
</template>

<style scoped>
.both {
  display: block;
}
.examples {
  color: var(--quiet);
  white-space: nowrap;
}
:deep(.ignored strong) {
  font-weight: 400;
  color: var(--quiet);
}
.ask {
  outline: 2px solid var(--adverse);
}
</style>
