<script setup lang="ts">
/** The strip under the table: agrees with the posted lines or not, what was left out, and why. */
import { capital, measureName } from "@/words/names";
import { useNumbers } from "@/composables/numbers";
import { computed } from "vue";
import type { Answer, TableCheck } from "@/contract";
import { dayText } from "@/model/days";

const { count, grouped } = useNumbers();

const props = defineProps<{
  answer: Answer;
  check: TableCheck | null;
  /** Why it could not be checked. */
  refused?: string;
  /** Whether the figures answer an earlier statement than the one that is asked. */
  outdated?: boolean;
  /** Rows of periods without figures that the layout hides. */
  hiddenPeriods: number;
}>();
const wrong = computed(() => {
  const { totals = [], over_all_days: all } = props.check ?? {};
  return [...totals, ...(all ? [all] : [])].filter((each) => !each.agrees);
});
const said = computed(() => [
  ...props.answer.told.unequal.flatMap((why, at) =>
    why ? [`${capital(props.answer.told.names[at] ?? "")}: ${why}`] : [],
  ),
  ...props.answer.told.notices,
  ...(props.hiddenPeriods ? [`${count(props.hiddenPeriods, "period")} without figures not shown`] : []),
]);

const checked = computed(() => {
  const names = [...new Set((props.check?.totals ?? []).map((each) => measureName(each.measure)))];
  return `${capital(names.join(", "))} ${names.length > 1 ? "agree" : "agrees"}`;
});
const notChecked = computed(() => {
  const names = (props.check?.not_checked ?? []).map(measureName);
  return `${names.join(", ")} ${names.length > 1 ? "read" : "reads"}`;
});
</script>

<template>
  <p class="notice" :class="{ wrong: wrong.length }" data-guide="notices" role="status" data-test="notice">
    <template v-if="outdated">Figures of an earlier statement, checked when they were asked for</template>
    <template v-else-if="refused">Could not be checked: {{ refused }}</template>
    <template v-else-if="!check">Checking against the posted lines …</template>
    <template v-else-if="wrong.length">
      ✗ Does not agree with the posted lines:
      <span v-for="each in wrong" :key="`${each.measure}-${each.window}`"
        >{{ measureName(each.measure) }} is {{ each.table }} here and {{ each.database }} in the database.
      </span>
    </template>
    <template v-else-if="check.not_checked.length"
      ><template v-if="check.totals.length"
        >✓ {{ checked }} to the cent with {{ count(check.lines, "posted line") }}; </template
      >{{ notChecked }} returns on the day of their sale, which the database does not add up<template
        v-if="check.over_all_days"
        >; over all days up to {{ dayText(answer.as_of) }} net sales are
        {{ grouped(check.over_all_days.table) }}, as posted to the cent</template
      ></template
    >
    <template v-else
      >✓ Agrees to the cent with {{ count(check.lines, "posted line") }}, added up by the database
      itself</template
    >
    <template v-for="each in said" :key="each"> · {{ each }}</template>
  </p>
</template>

<style scoped>
.notice {
  margin: 0;
  padding: 7px 12px;
  background: var(--agrees);
  border-top: 1px solid var(--line);
  color: var(--agrees-text);
  font-size: 0.75rem;
  flex: none;
  max-height: 64px;
  overflow-y: auto;
}
.wrong {
  background: var(--wrong);
  color: var(--adverse);
  font-weight: 700;
}
</style>
