<script setup lang="ts">
/** The strip under the table: agrees with the posted lines or not, what was left out, and why. */
import { computed } from "vue";
import type { Answer, Notice, Statement, TableCheck } from "@/contract";
import { dayText } from "@/model/days";
import { grouped, whole } from "@/model/numbers";
import { capital, count, measureName } from "@/words/words";

const props = defineProps<{
  answer: Answer;
  check: TableCheck | null;
  /** Why it could not be checked. */
  refused?: string;
  /** Whether the figures answer an earlier statement than the one that is asked. */
  outdated?: boolean;
  statement: Statement | null;
  /** Rows of periods without figures that the layout hides. */
  hiddenPeriods: number;
}>();
const onSaleDay = computed(() => props.statement?.returns === "sale_day");

const wrong = computed(() => {
  const { totals = [], over_all_days: all } = props.check ?? {};
  return [...totals, ...(all ? [all] : [])].filter((each) => !each.agrees);
});
const said = computed(() => [
  ...props.answer.notices.map(words),
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

function words(notice: Notice): string {
  const lines = count(notice.lines, "line");
  const amount = notice.amount === null ? "" : grouped(notice.amount ?? "0");
  switch (notice.code) {
    case "returns_netted":
      return `${count(notice.lines, "return")} netted on ${onSaleDay.value ? "the day of their sale" : "their own date"} (${amount})`;
    case "after_as_of":
      return `${lines} after the as-of date left out (${amount})`;
    case "after_today":
      return `${whole(notice.lines)} of them dated after today`;
    case "filtered_out":
      return `${lines} left out by the filters (${amount})`;
    case "blank_ids":
      return `${lines} without ${notice.about} id`;
    case "lacking":
      return `${lines} without the column that ${measureName(notice.about)} needs are not in it`;
    case "feeds_end_apart":
      return `feeds end on different days: ${notice.about}`;
    case "partly_covered":
      return `${notice.window ? `base ${notice.window}` : "the current window"} is only partly covered by posted days`;
    case "returns_unplaced":
      return `${count(notice.lines, "return")} without a sale that fits stay on their own day (${amount})`;
    case "returns_open":
      return `returns still open: those of base ${notice.window} had longer to come back`;
    case "returns_same_time":
      return `base ${notice.window} counts returns that came back by ${dayText(notice.about)}, the time that the current window had`;
    case "status_left_out":
      return `${lines} (${amount}) of rows with another status left out: ${notice.about}`;
    case "without_holidays":
      return `base ${notice.window}: no holidays are kept, so working days are weekdays`;
    case "only_in_plan":
      return `base ${notice.window} has ${lines} (${amount}) of members that this ledger does not know: ${notice.about}`;
    case "levels_as_now":
      return `levels as they are on ${dayText(notice.about)}, for all days`;
    default:
      return `shares of ${measureName(notice.about)} may add to more than all: parts overlap`;
  }
}
</script>

<template>
  <p class="notice" :class="{ wrong: wrong.length }" role="status" data-test="notice">
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
  background: #ecf2ec;
  border-top: 1px solid var(--line);
  color: #2d4d34;
  font-size: 12px;
  flex: none;
  max-height: 64px;
  overflow-y: auto;
}
.wrong {
  background: #fbe4de;
  color: var(--adverse);
  font-weight: 700;
}
</style>
