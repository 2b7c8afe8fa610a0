<script setup lang="ts">
/** What must hold of a line to be counted: its figures within bounds, its days, its texts, what it has or lacks. */
import Option from "@/parts/Option.vue";
import { computed, ref, useId, watch } from "vue";
import type { Condition, CurrentWindow, LedgerDescription, Statement } from "@/contract";
import WindowChoice from "@/panels/statement/WindowChoice.vue";
import { figureOf, subjectOf, subjects } from "@/model/conditions";
import { dayName } from "@/words/names";
import { LIKE, RELATIONS } from "@/words/conditions";

const props = defineProps<{ statement: Statement; ledger: LedgerDescription; condition: Condition | null }>();
const emit = defineEmits<{ take: [condition: Condition]; remove: [] }>();

const form = useId();
const all = computed(() => subjects(props.ledger));
const name = ref(props.condition ? subjectOf(props.condition, props.ledger).name : "");
const about = computed(() => all.value.find((each) => each.name === name.value)?.about ?? null);
type Way =
  "between" | "has" | "lacks" | "before" | "on" | "after" | "within" | "begins" | "contains" | "equals";
const WAYS = {
  figure: { between: "lies between", has: "is given", lacks: "is blank" },
  day: { ...RELATIONS, within: "lies within", has: "is given", lacks: "is blank" },
  text: { ...LIKE, has: "is given", lacks: "is blank" },
} as const;
const ways = computed(() => (about.value ? (Object.entries(WAYS[about.value]) as [Way, string][]) : []));

const given = props.condition;
const way = ref<Way>(wayOf(given));
const least = ref(given?.kind === "figure" ? (given.at_least ?? "") : "");
const most = ref(given?.kind === "figure" ? (given.at_most ?? "") : "");
const other = ref(given?.kind === "compared" ? given.other : "as_of");
const orBlank = ref(given?.kind === "compared" && given.or_blank);
const text = ref(given?.kind === "text" ? given.text : "");
const exclude = ref(given?.kind === "text" && given.exclude);
const window: CurrentWindow =
  given?.kind === "within" ? given.window : { kind: "to_date", grain: "year", completed: null };
watch(about, () => {
  if (!ways.value.some(([key]) => key === way.value)) way.value = ways.value[0]?.[0] ?? "has";
});

function wayOf(condition: Condition | null): Way {
  if (!condition) return "between";
  if (condition.kind === "given") return condition.given ? "has" : "lacks";
  if (condition.kind === "figure") return "between";
  return condition.kind === "within" ? "within" : condition.relation;
}

const others = computed(() => [
  ["as_of", "the as-of date"],
  ...["day", ...props.ledger.days.map((each) => each.name)]
    .filter((each) => each !== name.value)
    .map((each) => [each, `the ${dayName(each)}`]),
]);

const made = computed<Condition | null>(() => {
  if (!about.value) return null;
  switch (way.value) {
    case "has":
    case "lacks":
      return { kind: "given", of: name.value, given: way.value === "has" };
    case "between": {
      const [low, high] = [figureOf(least.value), figureOf(most.value)];
      if (low === undefined || high === undefined || (low === null && high === null)) return null;
      return { kind: "figure", figure: name.value, at_least: low, at_most: high };
    }
    case "within":
      return { kind: "within", day: name.value, window };
    case "before":
    case "on":
    case "after":
      return {
        kind: "compared",
        day: name.value,
        relation: way.value,
        other: other.value,
        or_blank: orBlank.value,
      };
    default:
      if (!text.value.trim()) return null;
      return {
        kind: "text",
        dimension: name.value,
        relation: way.value,
        text: text.value.trim(),
        exclude: exclude.value,
      };
  }
});
</script>

<template>
  <div class="condition" data-test="condition">
    <form :id="form" @submit.prevent="made && emit('take', made)">
      <ElSelect v-model="name" filterable aria-label="What of the line" data-test="condition-of">
        <Option value="" disabled label="What of the line?" />
        <Option v-for="each in all" :key="each.name" :value="each.name" :label="dayName(each.name)" />
      </ElSelect>
      <template v-if="about">
        <ElSelect v-model="way" aria-label="How it is held" data-test="condition-way">
          <Option v-for="[key, label] in ways" :key="key" :value="key" :label="label" />
        </ElSelect>
        <span v-if="way === 'between'" class="bounds">
          <ElInput v-model="least" placeholder="at least" aria-label="At least" data-test="condition-least" />
          and
          <ElInput v-model="most" placeholder="at most" aria-label="At most" data-test="condition-most" />
        </span>
        <template v-if="way === 'before' || way === 'on' || way === 'after'">
          <ElSelect v-model="other" aria-label="Held against" data-test="condition-other">
            <Option v-for="[key, label] in others" :key="key" :value="key!" :label="label!" />
          </ElSelect>
          <ElCheckbox v-model="orBlank" data-test="condition-or-blank">or blank</ElCheckbox>
        </template>
        <template v-if="way === 'begins' || way === 'contains' || way === 'equals'">
          <ElInput v-model="text" placeholder="text" aria-label="Text" data-test="condition-text" />
          <ElCheckbox v-model="exclude">all but these</ElCheckbox>
        </template>
      </template>
    </form>
    <!-- It has forms of its own; what is chosen there is taken at once. -->
    <WindowChoice
      v-if="about === 'day' && way === 'within'"
      :window="window"
      :as-of="statement.as_of.kind === 'pinned' ? statement.as_of.day : null"
      :statement="statement"
      :ledger="ledger"
      @take="(taken) => emit('take', { kind: 'within', day: name, window: taken })"
    />
    <ElButton
      v-else-if="about"
      type="primary"
      native-type="submit"
      :form="form"
      :disabled="!made"
      data-test="take-condition"
      >Take it</ElButton
    >
    <ElButton v-if="condition" link data-test="remove" @click="emit('remove')"
      >Remove this condition</ElButton
    >
  </div>
</template>

<style scoped>
.condition,
.condition > form {
  display: grid;
  gap: 8px;
  min-width: 300px;
  justify-items: start;
}
.condition > form > :deep(.el-select),
.condition > form > :deep(.el-input) {
  width: 100%;
}
.bounds {
  display: flex;
  gap: 6px;
  align-items: center;
}
</style>
