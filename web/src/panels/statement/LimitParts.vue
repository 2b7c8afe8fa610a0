<script setup lang="ts">
/** What is shown of the rows, and the goals of metrics: neither changes what a comparison reads. */
import { computed } from "vue";
import type { Answer, LedgerDescription, Statement } from "@/contract";
import { removeGoal, removeLimit, setGoal, setLimit } from "@/model/limits";
import GoalChoice from "@/panels/statement/GoalChoice.vue";
import LimitChoice from "@/panels/statement/LimitChoice.vue";
import Choices from "@/parts/Choices.vue";
import Part from "@/parts/Part.vue";
import { limitWords, sortWords } from "@/words/sentence";
import { columnWords, goalWords, levelName } from "@/words/words";

const props = defineProps<{
  statement: Statement;
  ledger: LedgerDescription;
  answer: Answer | null;
  year: number;
}>();
const emit = defineEmits<{ change: [statement: Statement] }>();

const columns = computed(() =>
  (props.answer?.columns ?? [])
    .filter((each) => !each.across.length)
    .map((each) => ({ key: each.id, label: columnWords(each, props.answer as Answer, props.statement) })),
);

const ORDERS = [
  { key: "descending", label: "the largest first" },
  { key: "ascending", label: "the smallest first" },
  { key: "name", label: "by name", note: "Another column is chosen by its heading." },
];

function order(key: string): void {
  const { sort } = props.statement;
  emit("change", {
    ...props.statement,
    sort: sort && key !== "name" ? { ...sort, descending: key === "descending" } : null,
  });
}

const levels = computed(() =>
  props.statement.rows
    .filter((each): each is string => typeof each === "string")
    .map((key) => ({ key, label: levelName(key) })),
);
</script>

<template>
  <template v-for="(limit, at) in statement.limits" :key="JSON.stringify(limit)"
    >{{ at ? " and " : ", showing " }}
    <Part
      :name="`limit-${at}`"
      :label="limitWords(limit, answer, statement)"
      removes
      @remove="emit('change', removeLimit(statement, at))"
    >
      <template #default="{ close }">
        <LimitChoice
          :statement="statement"
          :year="year"
          :columns="columns"
          :levels="levels"
          :limit="limit"
          @take="(next) => (emit('change', setLimit(statement, at, next)), close())"
          @remove="(emit('change', removeLimit(statement, at)), close())"
        />
      </template>
    </Part>
  </template>
  <template v-if="statement.rows.length || statement.limits.length">
    &nbsp;<Part name="add-limit" label="+ showing" adds>
      <template #default="{ close }">
        <LimitChoice
          :statement="statement"
          :year="year"
          :columns="columns"
          :levels="levels"
          @take="(next) => (emit('change', setLimit(statement, null, next)), close())"
        />
      </template>
    </Part>
  </template>
  <template v-if="statement.sort"
    >,
    <Part
      name="sort"
      :label="`sorted by ${sortWords(statement.sort, answer, statement)}`"
      removes
      @remove="emit('change', { ...statement, sort: null })"
    >
      <template #default="{ close }">
        <Choices
          title="Rows stand"
          :choices="ORDERS"
          :chosen="statement.sort.descending ? 'descending' : 'ascending'"
          @take="(key) => (order(key), close())"
        />
      </template>
    </Part>
  </template>
  <template v-for="(goal, at) in statement.goals" :key="goal.metric"
    >{{ at ? " and " : ", with the goal " }}
    <Part
      :name="`goal-${at}`"
      :label="goalWords(goal, statement, year)"
      removes
      @remove="emit('change', removeGoal(statement, goal.metric))"
    >
      <template #default="{ close }">
        <GoalChoice
          :statement="statement"
          :ledger="ledger"
          :year="year"
          :goal="goal"
          @take="(next) => (emit('change', setGoal(statement, next)), close())"
          @remove="(emit('change', removeGoal(statement, goal.metric)), close())"
        />
      </template>
    </Part>
  </template>
  &nbsp;<Part name="add-goal" :label="statement.goals.length ? '+ and goal' : '+ goal'" adds>
    <template #default="{ close }">
      <GoalChoice
        :statement="statement"
        :ledger="ledger"
        :year="year"
        @take="(next) => (emit('change', setGoal(statement, next)), close())"
      />
    </template>
  </Part>
</template>
