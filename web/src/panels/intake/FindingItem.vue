<script setup lang="ts">
/** One finding of a check: what it is, and when opened its rows, members or days, with what can be done about them. */
import { computed, ref, watch } from "vue";
import type { Correction, Finding, Mapping, RowsPage } from "@/contract";
import { dayText, rangeText } from "@/model/days";
import { grouped, whole } from "@/model/numbers";
import FindingDecision from "./FindingDecision.vue";
import { FINDING_NOTES, findingWords, signWords } from "@/words/intake";
import { count, dimensionName } from "@/words/words";

const props = defineProps<{
  finding: Finding;
  mapping: Mapping;
  readRows: (finding: Finding, member: string | null, offset: number) => Promise<RowsPage>;
}>();
const emit = defineEmits<{
  change: [next: Partial<Mapping>];
  correct: [correction: Correction];
  save: [];
}>();

const BY_ROWS: Finding["code"][] = [
  "unreadable",
  "line_ids_repeated",
  "rows_identical",
  "set_aside",
  "after_today",
  "outside_coverage",
  "outlying_amounts",
  "outlying_quantities",
  "returns_unmatched",
  "returns_early",
  "returns_large",
  "line_ids_posted",
  "line_ids_useless",
  "lookup_conflicts",
  "lookup_changes",
];
const opened = ref(props.finding.weight === "stop");
const page = ref<RowsPage | null>(null);
const member = ref<string | null>(null);
const texts = ref<Record<string, string>>({});
const everywhere = ref(true);

const note = computed(() => FINDING_NOTES[props.finding.code] ?? "");
const hasRows = computed(() => BY_ROWS.includes(props.finding.code));
const correctable = computed(() => ["unreadable", "lookup_conflicts"].includes(props.finding.code));

watch(
  () => props.finding,
  () => {
    page.value = null;
    if (props.finding.weight === "stop") opened.value = true;
    else if (opened.value) void first();
  },
);

async function toggle(): Promise<void> {
  opened.value = !opened.value;
  if (opened.value) await first();
}

/** Where the problems are listed one by one, whole rows are shown when they are asked for. */
async function first(): Promise<void> {
  if (!props.finding.problems.length) await more(0);
}

async function more(offset: number, of: string | null = null): Promise<void> {
  member.value = of;
  if (!hasRows.value && of === null) return;
  page.value = await props.readRows(props.finding, of, offset);
}

function correct(column: string, text: string, row: number, key: string): void {
  const to = texts.value[key];
  if (to === undefined || to === text) return;
  emit("correct", { column, text, to, row: everywhere.value && text ? null : row });
}

/** Where a text stands: what is typed there outlives the next check. */
function place(problem: Finding["problems"][number]): string {
  return `${problem.row} ${problem.column}`;
}

function merge(from: string, into: string): void {
  const others = props.mapping.merges.filter(
    (each) => each.dimension !== props.finding.about || each.member !== from,
  );
  emit("change", { merges: [...others, { dimension: props.finding.about, member: from, into }] });
}
</script>

<template>
  <li :class="finding.weight" :data-test="`finding-${finding.code}`">
    <button type="button" class="plain head" :aria-expanded="opened" @click="toggle">
      {{ opened ? "▾" : "▸" }} {{ findingWords(finding)
      }}<template v-if="finding.amount"> · {{ grouped(finding.amount) }}</template>
      <template v-if="finding.code === 'returns_sign'"> · {{ signWords(mapping) }}</template>
      <template v-if="finding.code.startsWith('outlying')"> · beyond {{ grouped(finding.about) }}</template>
    </button>
    <label v-if="finding.code === 'line_ids_repeated'"
      ><input
        type="checkbox"
        :checked="mapping.repeated === 'leave_out'"
        data-test="leave-repeated"
        @change="emit('change', { repeated: mapping.repeated === 'leave_out' ? 'refuse' : 'leave_out' })"
      />
      leave the repeats out</label
    >
    <label v-if="finding.code === 'rows_identical'"
      ><input
        type="checkbox"
        :checked="mapping.identical === 'leave_out'"
        data-test="leave-identical"
        @change="emit('change', { identical: mapping.identical === 'leave_out' ? 'keep' : 'leave_out' })"
      />
      leave the repeats out</label
    >
    <template v-if="finding.code === 'unreadable' && mapping.kind !== 'lookup'">
      <label
        ><input
          type="checkbox"
          :checked="mapping.unreadable === 'leave_out'"
          data-test="leave-unreadable"
          @change="
            emit('change', { unreadable: mapping.unreadable === 'leave_out' ? 'refuse' : 'leave_out' })
          "
        />
        leave their lines out</label
      >
      <button type="button" class="plain" data-test="save-unreadable" @click="emit('save')">
        Save them as a file
      </button>
    </template>
    <FindingDecision :finding="finding" :mapping="mapping" @change="emit('change', $event)" />
    <label v-if="finding.code === 'lookup_conflicts' || mapping.conflicts !== 'refuse'"
      >the row that counts
      <select
        :value="mapping.conflicts"
        data-test="conflicts"
        @change="
          emit('change', {
            conflicts: ($event.target as HTMLSelectElement).value as Mapping['conflicts'],
          })
        "
      >
        <option value="refuse">which?</option>
        <option value="first">the first of each key</option>
        <option value="last">the last of each key</option>
      </select></label
    >
    <div v-if="opened" class="open">
      <p v-if="note" class="quiet">{{ note }}</p>
      <label v-if="correctable"
        ><input v-model="everywhere" type="checkbox" /> a correction holds wherever the text stands, and is
        remembered</label
      >
      <table v-if="finding.problems.length">
        <thead>
          <tr>
            <th class="number">Row</th>
            <th>Column</th>
            <th>Text</th>
            <th>Why</th>
            <th v-if="correctable">Read it as</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="problem in finding.problems" :key="place(problem)" data-test="problem">
            <td class="number">{{ problem.row || "" }}</td>
            <td>{{ problem.column || "whole row" }}</td>
            <td>{{ problem.text || "(blank)" }}</td>
            <td>{{ problem.reason }}</td>
            <td v-if="correctable">
              <form
                v-if="mapping.columns.some((use) => use.column === problem.column)"
                @submit.prevent="correct(problem.column, problem.text, problem.row, place(problem))"
              >
                <input
                  v-model="texts[place(problem)]"
                  :aria-label="`Read ${problem.text} in row ${problem.row} as`"
                  :placeholder="problem.text"
                  :data-test="`correct-${problem.row}`"
                />
                <button type="submit" :data-test="`take-${problem.row}`">Take</button>
              </form>
            </td>
          </tr>
        </tbody>
      </table>
      <table v-if="finding.members.length">
        <thead>
          <tr>
            <th>{{ finding.code === "other_currencies" ? "Currency" : dimensionName(finding.about) }}</th>
            <th class="number">Lines</th>
            <th class="number">Net total</th>
            <th v-if="finding.code === 'near_members'">Nearly like</th>
            <th v-if="finding.code !== 'other_currencies'">Do</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in finding.members" :key="each.key" data-test="member-found">
            <td>{{ each.key }}</td>
            <td class="number">{{ whole(each.lines) }}</td>
            <td class="number">{{ grouped(each.amount) }}</td>
            <td v-if="finding.code === 'near_members'">{{ each.near }}</td>
            <td>
              <button
                v-if="each.near"
                type="button"
                :data-test="`merge-${each.key}`"
                @click="merge(each.key, each.near)"
              >
                Post as {{ each.near }}
              </button>
              <button
                v-if="
                  finding.code !== 'other_currencies' &&
                  (mapping.kind !== 'lookup' || finding.code === 'lookup_leaves_out')
                "
                type="button"
                :data-test="`rows-${each.key}`"
                class="plain"
                @click="more(0, member === each.key ? null : each.key)"
              >
                rows
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="finding.days.length">
        <span v-for="(each, at) in finding.days" :key="each.first"
          ><template v-if="at">; </template
          >{{ each.first === each.last ? dayText(each.first) : rangeText(each.first, each.last) }}</span
        >
      </p>
      <button
        v-if="hasRows && !page && finding.problems.length"
        type="button"
        class="plain"
        data-test="show-rows"
        @click="more(0)"
      >
        Show the whole rows
      </button>
      <template v-if="page">
        <table data-test="found-rows">
          <caption class="quiet">
            {{
              member === null
                ? "As they stand in the file"
                : finding.code === "lookup_leaves_out"
                  ? `Posted lines of ${member}`
                  : `Rows of ${member}`
            }}
          </caption>
          <thead>
            <tr>
              <th class="number">Row</th>
              <th v-for="header in page.headers" :key="header">{{ header }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in page.rows" :key="row.row" data-test="found-row">
              <td class="number">{{ row.row }}</td>
              <td v-for="(field, at) in row.fields" :key="at">{{ field }}</td>
            </tr>
          </tbody>
        </table>
        <p class="quiet">
          {{ page.rows.length ? page.offset + 1 : 0 }}–{{ page.offset + page.rows.length }} of
          {{ count(page.total, "row") }}
          <button
            type="button"
            class="plain"
            :disabled="!page.offset"
            @click="more(Math.max(page.offset - 20, 0), member)"
          >
            earlier
          </button>
          <button
            type="button"
            class="plain"
            :disabled="page.offset + page.rows.length >= page.total"
            @click="more(page.offset + 20, member)"
          >
            next
          </button>
        </p>
      </template>
    </div>
  </li>
</template>

<style scoped>
li {
  border-left: 4px solid #b9ae97;
  padding: 2px 0 2px 8px;
  margin: 2px 0;
  list-style: none;
}
.stop {
  border-color: var(--adverse);
}
.stop .head {
  font-weight: 700;
}
label {
  margin-left: 10px;
}
.open {
  padding: 2px 0 6px 16px;
  max-height: 260px;
  overflow: auto;
}
.open p {
  margin: 2px 0;
}
table {
  border-collapse: collapse;
  margin: 4px 0;
}
caption {
  text-align: left;
}
th,
td {
  text-align: left;
  padding: 1px 12px 1px 0;
  border-bottom: 1px solid var(--line);
  white-space: nowrap;
}
td.number,
th.number {
  text-align: right;
}
form {
  display: flex;
  gap: 4px;
}
form input {
  width: 130px;
}
</style>
