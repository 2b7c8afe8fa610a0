<script setup lang="ts">
/** What is shown of the rows, and the goals of metrics: neither changes what a comparison reads. */
import { levelName } from "@/words/names";
import { computed } from "vue";
import type { Answer, Statement } from "@/contract";
import { removeGoal, removeLimit, setGoal, setLimit } from "@/model/limits";
import GoalChoice from "@/panels/statement/GoalChoice.vue";
import LimitChoice from "@/panels/statement/LimitChoice.vue";
import Choices from "@/parts/Choices.vue";
import Part from "@/parts/Part.vue";
import { wordsOf, type Pieces } from "@/words/told";

const props = defineProps<{
  statement: Statement;
  answer: Answer | null;
  said: Pieces;
}>();
const emit = defineEmits<{ change: [statement: Statement] }>();

const columns = computed(() =>
  (props.answer?.columns ?? [])
    .filter((each) => !each.across.length)
    .map((each) => ({ key: each.id, label: wordsOf(each, props.answer as Answer).named })),
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
      :label="said.of('limits', at)"
      removes
      @remove="emit('change', removeLimit(statement, at))"
    >
      <template #default="{ close }">
        <LimitChoice
          :statement="statement"
          :said="said"
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
    <Part name="add-limit" label="+ showing" adds>
      <template #default="{ close }">
        <LimitChoice
          :statement="statement"
          :said="said"
          :columns="columns"
          :levels="levels"
          @take="(next) => (emit('change', setLimit(statement, null, next)), close())"
        />
      </template>
    </Part>
  </template>
  <template v-if="statement.sort"
    >,
    <Part name="sort" :label="said.of('sort')" removes @remove="emit('change', { ...statement, sort: null })">
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
      :label="said.of('goals', at)"
      removes
      @remove="emit('change', removeGoal(statement, goal.metric))"
    >
      <template #default="{ close }">
        <GoalChoice
          :statement="statement"
          :said="said"
          :goal="goal"
          @take="(next) => (emit('change', setGoal(statement, next)), close())"
          @remove="(emit('change', removeGoal(statement, goal.metric)), close())"
        />
      </template>
    </Part>
  </template>
  <Part name="add-goal" :label="statement.goals.length ? '+ and goal' : '+ goal'" adds>
    <template #default="{ close }">
      <GoalChoice
        :statement="statement"
        :said="said"
        @take="(next) => (emit('change', setGoal(statement, next)), close())"
      />
    </template>
  </Part>
</template>
