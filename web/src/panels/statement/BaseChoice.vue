<script setup lang="ts">
/** What the current window is compared with, and how the days of the two are matched; each choice tells its days first. */
import { ALIGNMENTS_OF } from "@/contract/vocabulary";
import { capital } from "@/words/names";
import { computed, ref, watch } from "vue";
import type { Base, LedgerDescription, PeriodBase, Statement, StatementPreview } from "@/contract";
import { grainOf, grains, sameBase, setBases } from "@/model/statement";
import BaseDays from "@/panels/statement/BaseDays.vue";
import BaseFixed from "@/panels/statement/BaseFixed.vue";
import BaseMatch from "@/panels/statement/BaseMatch.vue";
import BaseSteps from "@/panels/statement/BaseSteps.vue";
import Choices from "@/parts/Choices.vue";
import { useSheet } from "@/state/sheet/sheet";

const props = defineProps<{
  statement: Statement;
  at: number | null;
  year: number;
  /** Around which a calendar opens. */
  day: string;
  ledger: LedgerDescription;
}>();
const emit = defineEmits<{ change: [bases: Base[]]; swap: [] }>();

const sheet = useSheet();
const timed = computed(() => grains(props.statement).length > 0);
/** In what the window before lies: the window's own grain, or in a series each level's. */
const own = computed<PeriodBase["unit"]>(() => {
  const grain = grainOf(props.statement.window);
  return timed.value || !grain ? "period" : grain;
});
const atDays = computed(() => grains(props.statement).includes("day"));
const current = computed(() => (props.at === null ? undefined : props.statement.bases[props.at]));
/** Where the base stands, or will stand, among the windows. */
const number = computed(() => (props.at ?? props.statement.bases.length) + 1);

const offered = computed(() => [
  // At days the first base is the same weekday a week earlier, the day before the second.
  ...(atDays.value ? [{ ...step(1, "period"), day_back: 7 }] : []),
  ...(own.value === "year"
    ? []
    : [atDays.value ? { ...step(1, "period"), day_back: 1 } : step(1, own.value)]),
  step(1, "year"),
  step(2, "year"),
]);
const previews = ref<StatementPreview[]>([]);
/** Each choice in its place: what days it would come to is told before it is chosen. */
watch(
  offered,
  async (bases) => {
    previews.value = await sheet.previews(bases.map(place));
  },
  { immediate: true },
);
const choices = computed(() =>
  offered.value.map((each, at) => ({
    key: keyOf(each),
    label: capital(nameIn(previews.value[at])),
    note: previews.value[at]?.windows[number.value]?.words ?? "",
    refused: taken(each) ? "It is compared with already." : previews.value[at]?.refused || null,
  })),
);
const chosen = computed(() => (current.value?.kind === "period" ? keyOf(current.value) : undefined));
/** The tab in which the base that there is was made. */
const tab = ref(
  { given: "days", fixed: "fixed", ledger: "fixed", period: "usual", shifted: "usual" }[
    current.value?.kind ?? "period"
  ],
);

/** What the base is called that stands, or would stand, here. */
function nameIn(preview: StatementPreview | undefined): string {
  const pieces = preview?.parts.find((each) => each.part === "bases")?.pieces;
  return pieces?.[number.value - 1]?.words ?? "";
}

function keyOf(base: PeriodBase): string {
  return `${base.back}-${base.unit}${base.day_back ? `-${base.day_back}` : ""}`;
}

function step(back: number, of: PeriodBase["unit"]): PeriodBase {
  return { back, unit: of, align: "same_dates", kind: "period" };
}

function taken(one: Base): boolean {
  return props.statement.bases.some((each, at) => at !== props.at && sameBase(each, one));
}

function placed(one: Base): Base[] {
  const bases = [...props.statement.bases];
  if (props.at === null) bases.push(one);
  else bases[props.at] = one;
  return bases;
}

function place(one: Base): Statement {
  return setBases(props.statement, placed(one));
}

function take(one: Base | undefined): void {
  if (one) emit("change", placed(one));
}

function remove(): void {
  emit(
    "change",
    props.statement.bases.filter((_, at) => at !== props.at),
  );
}
</script>

<template>
  <ElTabs v-model="tab">
    <ElTabPane label="Usual" name="usual">
      <Choices
        title="Compare with"
        :choices="choices"
        :chosen="chosen"
        @take="(key) => take(offered.find((each) => keyOf(each) === key))"
      />
      <BaseSteps :own="own" :timed="timed" :place="place" :number="number" @take="take" />
    </ElTabPane>
    <ElTabPane label="Days" name="days">
      <BaseDays
        :settings="ledger.calendar"
        :day="day"
        :current="current"
        :place="place"
        :number="number"
        @take="take"
      />
    </ElTabPane>
    <ElTabPane label="Fixed, plan" name="fixed">
      <BaseFixed
        :statement="statement"
        :ledger="ledger"
        :current="current"
        :year="year"
        :place="place"
        :number="number"
        @take="take"
      />
    </ElTabPane>
    <ElTabPane
      v-if="current && (ALIGNMENTS_OF[current.kind].length || current.kind === 'ledger')"
      label="Matching"
      name="match"
    >
      <BaseMatch :base="current" :place="place" :number="number" @take="take" />
    </ElTabPane>
  </ElTabs>
  <p v-if="at !== null && !timed" class="direction">
    Changes are the window less this base.
    <ElButton link data-test="swap" @click="emit('swap')">The other way round</ElButton>
  </p>
  <ElButton v-if="at !== null" link data-test="remove" @click="remove"> Remove this base </ElButton>
</template>

<style scoped>
.direction {
  margin: 6px 0 0;
  color: var(--quiet);
}
</style>
