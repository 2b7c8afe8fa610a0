<script setup lang="ts">
/** What a card rests on: its day, its periods with their days, how far it is posted, and who kept its goals. */
import { useDays } from "@/composables/dates";
import { computed } from "vue";
import type { Card, LedgerDescription } from "@/contract";
import { useStatements } from "@/state/statements";

const props = defineProps<{ card: Card; ledger: LedgerDescription }>();
const statements = useStatements();
const { dayText, rangeText } = useDays();

/** What the card rests on: day, periods with their days, how far it is posted, who kept it. */
const caption = computed(() => {
  const { card } = props;
  const windows = card.answer.windows.map((each, at) => {
    const days = each.asked ? rangeText(each.asked.first, each.asked.last) : "no such period";
    return `${card.answer.told.windows[at]}: ${days}`;
  });
  const ends = props.ledger.feeds.flatMap((each) => each.last ?? []).sort();
  const posted = ends.length ? `posted to ${dayText(ends.at(-1) ?? "")}, ` : "";
  const kept = statements.opened;
  const same = kept && JSON.stringify(kept.statement.goals) === JSON.stringify(card.statement.goals);
  const by =
    same && kept.saved_at ? `goals kept ${dayText(kept.saved_at.slice(0, 10))} ${kept.saved_by}`.trim() : "";
  return [`As of ${dayText(card.answer.as_of)}`, ...windows, `${posted}version ${card.answer.version}`, by]
    .filter(Boolean)
    .join(" · ");
});
defineExpose({ caption });
</script>

<template>
  <p v-if="card.statement.goals.length" class="key">
    <i class="flag" /> not all goals met · <i class="all" /> all met · <i class="some" /> some met ·
    <i class="none" /> none met · a full bead right of the dashed goal is met (left of it, where less is asked
    for), a hollow one missed
  </p>
  <p class="caption" data-test="card-caption">{{ caption }}</p>
</template>

<style scoped>
.key {
  grid-column: 1 / -1;
  margin: 0;
  padding: 6px 14px;
  color: var(--quiet);
  font-size: 0.78rem;
}
i {
  display: inline-block;
  width: 0.7rem;
  height: 0.7rem;
  border: 2px solid var(--favourable);
  border-radius: 50%;
  vertical-align: -0.05rem;
}
.flag {
  width: 0;
  height: 0;
  border: 6px solid transparent;
  border-top: 0;
  border-bottom: 10px solid var(--adverse);
  border-radius: 0;
}
.all {
  background: var(--favourable);
}
.some {
  background: linear-gradient(90deg, var(--favourable) 50%, transparent 50%);
}
.none {
  border-color: var(--adverse);
}
.caption {
  grid-column: 1 / -1;
  margin: 0;
  padding: 6px 14px;
  background: var(--agrees);
  color: var(--agrees-text);
  font-size: 0.78rem;
}
</style>
