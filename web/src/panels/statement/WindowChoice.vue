<script setup lang="ts">
/** What is current: to date, one period, the last few, or two dates; each tells its days before it is taken. */
import Option from "@/parts/Option.vue";
import { GRAINS } from "@/contract/vocabulary";
import { computed, ref, watch } from "vue";
import type { CurrentWindow, Grain, LedgerDescription, Statement, StatementPreview } from "@/contract";
import { COARSE_TO_FINE } from "@/model/going";
import { setWindow } from "@/model/statement";
import { useTelling } from "@/panels/statement/telling";
import Choices from "@/parts/Choices.vue";
import DayCalendar from "@/parts/calendar/DayCalendar.vue";
import TypedWindow from "@/panels/statement/TypedWindow.vue";
import { useSheet } from "@/state/sheet/sheet";

const props = defineProps<{
  window: CurrentWindow;
  asOf: string | null;
  statement: Statement;
  ledger: LedgerDescription;
}>();
const emit = defineEmits<{ take: [window: CurrentWindow] }>();

type ToDate = Extract<CurrentWindow, { kind: "to_date" }>;
const TO_DATE: ToDate["grain"][] = ["week", "month", "quarter", "half_year", "year"];
const sheet = useSheet();
const tell = useTelling();
const previews = ref<StatementPreview[]>([]);
watch(
  () => props.statement,
  async (statement) => {
    const windows = TO_DATE.map((grain) => setWindow(statement, { kind: "to_date", grain }));
    previews.value = await sheet.previews(windows);
  },
  { immediate: true },
);
const choices = computed(() =>
  TO_DATE.map((key, at) => ({
    key,
    label: GRAINS[key],
    note: previews.value[at]?.windows[0]?.words ?? "",
    refused: previews.value[at]?.refused || null,
  })),
);
const chosen = computed(() => (props.window.kind === "to_date" ? props.window.grain : undefined));
/** The grains whose completed periods the window can be made of: those finer than its own. */
const completable = computed(() =>
  chosen.value ? COARSE_TO_FINE.slice(COARSE_TO_FINE.indexOf(chosen.value) + 1) : [],
);
const completed = computed(() => (props.window.kind === "to_date" && props.window.completed) || "");
const day = computed(() => props.asOf ?? props.ledger.today);
function tellPeriod(key: string, end: string | null): Promise<string> {
  const window: CurrentWindow = end
    ? { kind: "dates", first: key, last: end }
    : { kind: "period", period: key };
  return tell(setWindow(props.statement, window), 0);
}

/** The tab in which the window that there is was made. */
const tab = ref(
  { to_date: "to_date", period: "calendar", dates: "calendar", last: "typed", running: "typed" }[
    props.window.kind
  ],
);

function toDate(grain: string): void {
  emit("take", { kind: "to_date", grain: grain as ToDate["grain"] });
}

function complete(grain: string): void {
  if (props.window.kind === "to_date")
    emit("take", { kind: "to_date", grain: props.window.grain, completed: (grain || null) as Grain | null });
}
</script>

<template>
  <ElTabs v-model="tab" class="tabs">
    <ElTabPane label="To date" name="to_date">
      <Choices title="To date in the" :choices="choices" :chosen="chosen" @take="toDate" />
      <label v-if="completable.length" class="line"
        >of these
        <ElSelect :model-value="completed" data-test="completed" @change="complete($event)">
          <Option value="" label="all days" />
          <Option
            v-for="grain in completable"
            :key="grain"
            :value="grain"
            :label="`completed ${GRAINS[grain]}s only`"
          /> </ElSelect
      ></label>
    </ElTabPane>
    <ElTabPane label="Calendar" name="calendar">
      <DayCalendar
        :settings="ledger.calendar"
        :day="day"
        :chosen="window.kind === 'period' ? window.period : undefined"
        :tell="tellPeriod"
        @period="(taken) => emit('take', { kind: 'period', period: taken })"
        @days="(from, to) => emit('take', { kind: 'dates', first: from, last: to })"
      />
    </ElTabPane>
    <ElTabPane label="Typed" name="typed">
      <TypedWindow :window="window" :statement="statement" :day="day" @take="(next) => emit('take', next)" />
    </ElTabPane>
    <ElTabPane v-if="$slots.default" label="As of" name="as_of"><slot /></ElTabPane>
  </ElTabs>
</template>

<style scoped>
.line {
  display: block;
  padding: 2px 8px;
}
</style>
