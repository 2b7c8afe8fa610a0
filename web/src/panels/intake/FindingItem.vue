<script setup lang="ts">
/** One finding of a check: what it is, and when opened its rows, members or days, with what can be done about them. */
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import Option from "@/parts/Option.vue";
import { computed, ref, watch } from "vue";
import type { Correction, Finding, Mapping, RowsPage } from "@/contract";
import FindingDecision from "@/panels/intake/FindingDecision.vue";
import FoundMembers from "@/panels/intake/FoundMembers.vue";
import FoundProblems from "@/panels/intake/FoundProblems.vue";
import FoundRows from "@/panels/intake/FoundRows.vue";

const { dayText, rangeText } = useDays();
const numbers = useNumbers();

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

const caption = computed(() => {
  if (member.value === null) return "As they stand in the file";
  const posted = props.finding.code === "lookup_leaves_out";
  return posted ? `Posted lines of ${member.value}` : `Rows of ${member.value}`;
});
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
</script>

<template>
  <li :class="finding.weight" :data-test="`finding-${finding.code}`">
    <ElButton link class="head" :aria-expanded="opened" @click="toggle">
      {{ opened ? "▾" : "▸" }} {{ numbers.words(finding.words) }}
    </ElButton>
    <ElCheckbox
      v-if="finding.code === 'line_ids_repeated'"
      :model-value="mapping.repeated === 'leave_out'"
      data-test="leave-repeated"
      @change="emit('change', { repeated: mapping.repeated === 'leave_out' ? 'refuse' : 'leave_out' })"
      >leave the repeats out</ElCheckbox
    >
    <ElCheckbox
      v-if="finding.code === 'rows_identical'"
      :model-value="mapping.identical === 'leave_out'"
      data-test="leave-identical"
      @change="emit('change', { identical: mapping.identical === 'leave_out' ? 'keep' : 'leave_out' })"
      >leave the repeats out</ElCheckbox
    >
    <template v-if="finding.code === 'unreadable' && mapping.kind !== 'lookup'">
      <ElCheckbox
        :model-value="mapping.unreadable === 'leave_out'"
        data-test="leave-unreadable"
        @change="emit('change', { unreadable: mapping.unreadable === 'leave_out' ? 'refuse' : 'leave_out' })"
        >leave their lines out</ElCheckbox
      >
      <ElButton link data-test="save-unreadable" @click="emit('save')"> Save them as a file </ElButton>
    </template>
    <FindingDecision :finding="finding" :mapping="mapping" @change="emit('change', $event)" />
    <label v-if="finding.code === 'lookup_conflicts' || mapping.conflicts !== 'refuse'"
      >the row that counts
      <ElSelect
        :model-value="mapping.conflicts"
        data-test="conflicts"
        @change="
          emit('change', {
            conflicts: $event as Mapping['conflicts'],
          })
        "
      >
        <Option value="refuse" label="which?" />
        <Option value="first" label="the first of each key" />
        <Option value="last" label="the last of each key" /> </ElSelect
    ></label>
    <div v-if="opened" class="open">
      <p v-if="finding.note" class="quiet">{{ finding.note }}</p>
      <FoundProblems
        v-if="finding.problems.length || correctable"
        :finding="finding"
        :mapping="mapping"
        :correctable="correctable"
        @correct="(correction) => emit('correct', correction)"
      />
      <FoundMembers
        v-if="finding.members.length"
        :finding="finding"
        :mapping="mapping"
        @rows="(key) => more(0, member === key ? null : key)"
        @change="(next) => emit('change', next)"
      />
      <p v-if="finding.days.length">
        <span v-for="(each, at) in finding.days" :key="each.first"
          ><template v-if="at">; </template
          >{{ each.first === each.last ? dayText(each.first) : rangeText(each.first, each.last) }}</span
        >
      </p>
      <ElButton
        v-if="hasRows && !page && finding.problems.length"
        link
        data-test="show-rows"
        @click="more(0)"
      >
        Show the whole rows
      </ElButton>
      <FoundRows v-if="page" :page="page" :caption="caption" @turn="(offset) => more(offset, member)" />
    </div>
  </li>
</template>

<style scoped>
li {
  border-left: 4px solid var(--free);
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
</style>
