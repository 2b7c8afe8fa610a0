<script setup lang="ts">
/** By which of their days lines are counted, and what must hold of them beyond their members. */
import { computed } from "vue";
import type { LedgerDescription, Statement } from "@/contract";
import { setCondition, setDay, withoutCondition } from "@/model/conditions";
import ConditionChoice from "@/panels/statement/ConditionChoice.vue";
import Choices from "@/parts/Choices.vue";
import Part from "@/parts/Part.vue";
import { useDays } from "@/composables/dates";
import { capital, dimensionName } from "@/words/names";
import type { Pieces } from "@/words/told";

const props = defineProps<{ statement: Statement; ledger: LedgerDescription; said: Pieces }>();
const emit = defineEmits<{ change: [statement: Statement] }>();
const { rangeText } = useDays();
const days = computed(() => [
  { key: "", label: "The day that lines are posted with", note: "Coverage and as-of date go by it." },
  ...props.ledger.days.map(({ name, first, last, description }) => ({
    key: name,
    label: capital(dimensionName(name)),
    note: [first && last ? `covered ${rangeText(first, last)}` : "", description].filter(Boolean).join("; "),
  })),
]);
</script>

<template>
  <template v-if="statement.day"
    >,
    <Part name="day" :label="said.of('day')" removes @remove="emit('change', setDay(statement, ''))">
      <template #default="{ close }">
        <Choices
          title="Lines are counted by"
          :choices="days"
          :chosen="statement.day"
          @take="(key) => (emit('change', setDay(statement, key)), close())"
        />
      </template>
    </Part>
  </template>
  <Part v-else-if="ledger.days.length" name="add-day" label="+ by another day" adds>
    <template #default="{ close }">
      <Choices
        title="Lines are counted by"
        :choices="days"
        chosen=""
        @take="(key) => (emit('change', setDay(statement, key)), close())"
      />
    </template>
  </Part>
  <template v-for="(condition, at) in statement.conditions" :key="JSON.stringify(condition)"
    >{{ at ? " and " : ", counting lines with " }}
    <Part
      :name="`condition-${at}`"
      :label="said.of('conditions', at)"
      removes
      @remove="emit('change', withoutCondition(statement, at))"
    >
      <template #default="{ close }">
        <ConditionChoice
          :statement="statement"
          :ledger="ledger"
          :condition="condition"
          @take="(next) => (emit('change', setCondition(statement, at, next)), close())"
          @remove="(emit('change', withoutCondition(statement, at)), close())"
        />
      </template>
    </Part>
  </template>
  <Part name="add-condition" label="+ lines with" adds>
    <template #default="{ close }">
      <ConditionChoice
        :statement="statement"
        :ledger="ledger"
        :condition="null"
        @take="(next) => (emit('change', setCondition(statement, null, next)), close())"
      />
    </template>
  </Part>
</template>
