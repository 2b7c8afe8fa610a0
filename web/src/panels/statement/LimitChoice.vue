<script setup lang="ts">
/** A limit of what is shown: the top or bottom so many, some status, a column between two figures, or named members. */
import Count from "@/parts/Count.vue";
import Option from "@/parts/Option.vue";
import { STATUS } from "@/contract/vocabulary";
import { computed, ref } from "vue";
import type { Limit, MemberKey, Statement } from "@/contract";
import MemberPicker from "@/panels/statement/MemberPicker.vue";
import type { Choice } from "@/parts/Choices.vue";

type Status = Extract<Limit, { kind: "status" }>["status"][number];
import type { Pieces } from "@/words/told";

const props = defineProps<{
  statement: Statement;
  said: Pieces;
  columns: Choice[];
  levels: Choice[];
  limit?: Limit;
}>();
const emit = defineEmits<{ take: [limit: Limit]; remove: [] }>();

const given = props.limit;
const kind = ref<Limit["kind"]>(given?.kind ?? "top");
const count = ref(given?.kind === "top" ? given.count : 10);
const end = ref(given?.kind !== "top" ? "top" : given.size ? "size" : given.bottom ? "bottom" : "top");
const rest = ref(given?.kind === "top" ? given.rest : true);
const column = ref(given && "column" in given ? given.column : (props.columns[0]?.key ?? ""));
const level = ref((given && "level" in given ? given.level : null) ?? "");
const status = ref<Status[]>(given?.kind === "status" ? [...given.status] : ["new"]);
const base = ref(given?.kind === "status" ? given.base : 1);
const low = ref(given?.kind === "value" ? (given.at_least ?? "") : "");
const high = ref(given?.kind === "value" ? (given.at_most ?? "") : "");
const dimension = ref(given?.kind === "members" ? given.dimension : (props.levels.at(-1)?.key ?? ""));
const members = ref<MemberKey[]>(given?.kind === "members" ? [...given.members] : []);

const KINDS: Record<Limit["kind"], string> = {
  top: "top or bottom so many",
  status: "kept, new or lost",
  value: "by a figure",
  members: "named members",
};
const refused = computed(() => {
  if (kind.value === "status" && !props.statement.bases.length) return "Needs something to compare with.";
  if (kind.value === "status" && !status.value.length) return "Choose a status.";
  if (kind.value === "value" && !low.value.trim() && !high.value.trim()) return "Give a figure.";
  if (kind.value === "value" && ![low.value, high.value].every((each) => !each.trim() || plain(each)))
    return "Write figures like 1200 or 0.05.";
  if (kind.value === "members" && !members.value.length) return "Choose members.";
  if (kind.value === "members" && !props.levels.length) return "Needs a dimension in the rows.";
  return "";
});

function plain(text: string): boolean {
  return /^-?\d+(\.\d+)?$/.test(text.trim());
}

function take(): void {
  if (refused.value) return;
  const of = level.value || null;
  if (kind.value === "top")
    emit("take", {
      kind: "top",
      count: count.value,
      column: column.value,
      level: of,
      bottom: end.value === "bottom",
      rest: rest.value,
      size: end.value === "size",
    });
  else if (kind.value === "status")
    emit("take", { kind: "status", status: status.value, level: of, base: Number(base.value) });
  else if (kind.value === "value")
    emit("take", {
      kind: "value",
      column: column.value,
      at_least: low.value.trim() || null,
      at_most: high.value.trim() || null,
      level: of,
    });
  else emit("take", { kind: "members", dimension: dimension.value, members: members.value });
}
</script>

<template>
  <form class="limit" @submit.prevent="take">
    <label
      >Show
      <ElSelect v-model="kind" data-test="limit-kind">
        <Option v-for="(label, key) in KINDS" :key="key" :value="key" :label="label" /> </ElSelect
    ></label>
    <template v-if="kind === 'top'">
      <label
        ><ElSelect v-model="end" aria-label="Which end" data-test="limit-bottom">
          <Option value="top" label="top" />
          <Option value="bottom" label="bottom" />
          <Option value="size" label="largest either way" />
        </ElSelect>
        <Count v-model="count" :min="1" :max="1000" aria-label="How many" data-test="limit-count"
      /></label>
    </template>
    <label v-if="kind === 'top' || kind === 'value'"
      >by
      <ElSelect v-model="column" data-test="limit-column">
        <Option v-for="each in columns" :key="each.key" :value="each.key" :label="each.label" /> </ElSelect
    ></label>
    <template v-if="kind === 'value'">
      <label>from <ElInput v-model="low" style="width: 15ch" data-test="limit-low" /></label>
      <label>up to <ElInput v-model="high" style="width: 15ch" data-test="limit-high" /></label>
      <p class="quiet">Percentages as parts of 1: 0.05 is 5%.</p>
    </template>
    <template v-if="kind === 'status'">
      <ElCheckboxGroup v-model="status">
        <ElCheckbox v-for="(label, key) in STATUS" :key="key" :value="key" :data-test="`limit-${key}`">{{
          label
        }}</ElCheckbox>
      </ElCheckboxGroup>
      <label v-if="statement.bases.length > 1"
        >against
        <ElSelect v-model="base">
          <Option
            v-for="(_, at) in statement.bases"
            :key="at"
            :value="at + 1"
            :label="said.of('bases', at)"
          /> </ElSelect
      ></label>
    </template>
    <template v-if="kind === 'members'">
      <label
        >of
        <ElSelect v-model="dimension" data-test="limit-dimension">
          <Option v-for="each in levels" :key="each.key" :value="each.key" :label="each.label" /> </ElSelect
      ></label>
      <MemberPicker v-model="members" :dimension="dimension" />
    </template>
    <label v-else-if="levels.length > 1"
      >at the level
      <ElSelect v-model="level" data-test="limit-level">
        <Option value="" :label="kind === 'top' ? 'of every level' : 'of the deepest rows'" />
        <Option v-for="each in levels" :key="each.key" :value="each.key" :label="each.label" /> </ElSelect
    ></label>
    <ElCheckbox v-if="kind === 'top'" v-model="rest" data-test="limit-rest"
      ><span>the others as one row</span></ElCheckbox
    >
    <p v-if="refused" class="quiet">{{ refused }}</p>
    <ElButton native-type="submit" :disabled="!!refused" data-test="take-limit">Show these</ElButton>
    <ElButton v-if="limit" link data-test="remove" @click="emit('remove')"> Show all again </ElButton>
  </form>
</template>

<style scoped>
.limit {
  display: grid;
  gap: 6px;
  padding: 4px 8px;
}
label {
  display: flex;
  gap: 8px;
  justify-content: space-between;
  align-items: center;
}
p {
  margin: 0;
}
</style>
