<script setup lang="ts">
/** The picture of time: a rod per window, a bead per period, and the as-of marker that can be moved. */
import { useDays } from "@/composables/dates";
import { FAIRNESS, SHORT_REASONS } from "@/contract/vocabulary";
import { capital, measureName } from "@/words/names";
import { useNumbers } from "@/composables/numbers";
import { computed, ref } from "vue";
import type { Answer, AnsweredWindow, Bead, Statement } from "@/contract";
import { positionAfter, slots } from "@/model/frame";
import { favour, tableDecimals } from "@/model/numbers";
import { ROD, TOP, WIDTH, type Rod, type Total } from "@/model/rods";
import RodNames from "@/panels/frame/RodNames.vue";
import RodTotals from "@/panels/frame/RodTotals.vue";
import TimeMarkers from "@/panels/frame/TimeMarkers.vue";
import RodsPicture from "@/panels/frame/RodsPicture.vue";
import { postedWords } from "@/words/marks";

const { monthName, rangeText } = useDays();

const numbers = useNumbers();
const { cell: cellText, count } = numbers;

const props = defineProps<{ answer: Answer; statement: Statement }>();
const emit = defineEmits<{ asOf: [day: string]; dates: [first: string, last: string | null] }>();

const dragged = ref<string | null>(null);

const windows = computed(() => props.answer.windows);
const current = computed(() => windows.value[0] as AnsweredWindow);
const slot = computed(() => WIDTH / slots(windows.value));
const height = computed(() => TOP + windows.value.length * ROD + 4);
const asOf = computed(() => dragged.value ?? props.answer.as_of);
const marker = computed(() => positionAfter(current.value, asOf.value) * slot.value);

/** In a series each period has its own base; where no single shift gives that of the whole range, there is none. */
function ofEach(window: AnsweredWindow): boolean {
  return window.reason === "not_applicable" && props.answer.periods.length > 0;
}

const noDays = computed(() => (props.answer.periods.length ? "each period its own" : "no such period"));
const rods = computed<Rod[]>(() =>
  windows.value.map((window, at) => ({
    window,
    at,
    name: capital(props.answer.told.names[at] ?? ""),
    days: window.asked ? rangeText(window.asked.first, window.asked.last) : noDays.value,
    note: ofEach(window) ? "compared row by row" : noteOf(window),
    why: props.answer.told.unequal[at] || undefined,
    value: totalOf(at, "value"),
    change: totalOf(at, "difference"),
    percent: totalOf(at, "percent_change"),
    unfair:
      window.fairness === "unequal" || window.partly_covered || (window.reason !== null && !ofEach(window)),
  })),
);

function noteOf(window: AnsweredWindow): string {
  if (window.reason) return SHORT_REASONS[window.reason] ?? window.reason;
  const parts =
    window.fairness === "unequal"
      ? [`unequal, ${count(window.counted_days, "day")} to ${current.value.counted_days}`]
      : [count(window.counted_days, "day")];
  if (window.fairness && window.fairness !== "unequal") parts.push(FAIRNESS[window.fairness] ?? "");
  if (window.partly_covered) parts.push(postedWords(window, numbers) || "partly covered");
  if (window.overlaps) parts.push("overlaps");
  return parts.join(" · ");
}

function totalOf(window: number, kind: string): Total | null {
  const first = props.statement.measures[0]?.measure;
  const at = props.answer.columns.findIndex(
    (each) => each.measure === first && each.window === window && each.kind === kind,
  );
  const column = props.answer.columns[at];
  const cell = props.answer.total.cells[at];
  if (!column || !cell) return null;
  if (cell.value === null && kind !== "value") return null;
  const current = props.answer.total.cells[0];
  return {
    text: cellText(cell, column, tableDecimals(column, current ?? cell)),
    favour: favour(cell, column),
  };
}

function heading(bead: Bead): string {
  const years = current.value.beads.length > 12;
  if (bead.days > 25) return monthName(bead.first) + (years ? ` ${bead.first.slice(0, 4)}` : "");
  return bead.days > 1 ? bead.key.slice(5) : bead.first.slice(8).replace(/^0/, "");
}
</script>

<template>
  <section class="frame" data-guide="frame" aria-label="The windows compared" data-test="frame">
    <RodNames :rods="rods" />
    <div class="picture">
      <RodsPicture :rods="rods" :width="slot" :marker="marker" :height="height" />
      <span
        v-for="(bead, index) in current.beads"
        v-show="current.beads.length < 20 || index % 5 === 0"
        :key="bead.key"
        class="period"
        :style="{ left: `${((index + 0.5) * 100) / slots(windows)}%` }"
        >{{ heading(bead) }}</span
      >
      <TimeMarkers
        v-model:dragged="dragged"
        :statement="statement"
        :current="current"
        :as-of="answer.as_of"
        :periods="slots(windows)"
        :width="slot"
        @as-of="(day) => emit('asOf', day)"
        @dates="(first, last) => emit('dates', first, last)"
      />
    </div>
    <RodTotals :rods="rods" :about="measureName(statement.measures[0]?.measure ?? '')" />
  </section>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template-columns: 262px 1fr 136px;
  gap: 12px;
  background: var(--sheet);
  border: 1px solid var(--line);
  border-left: 6px solid var(--wood);
  border-right: 6px solid var(--wood);
  padding: 4px 12px 4px;
}
.picture {
  position: relative;
}
.period {
  position: absolute;
  top: 17px;
  transform: translateX(-50%);
  font-size: 0.6875rem;
  color: var(--quiet);
}
</style>
