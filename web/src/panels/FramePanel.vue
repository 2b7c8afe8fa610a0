<script setup lang="ts">
/** The picture of time: a rod per window, a bead per period, and the as-of marker that can be moved. */
import { computed, ref } from "vue";
import type { Answer, AnsweredWindow, Bead, Statement } from "@/contract";
import { addDays, addMonths, dayText, monthName, rangeText } from "@/model/days";
import { dayAt, positionAfter, slots } from "@/model/frame";
import { cellText, favour, grouped, tableDecimals } from "@/model/numbers";
import { postedWords } from "@/words/marks";
import {
  baseName,
  capital,
  count,
  FAIRNESS,
  GRAINS,
  measureName,
  SHORT_REASONS,
  unequalWords,
  windowName,
} from "@/words/words";

const props = defineProps<{ answer: Answer; statement: Statement; folded: boolean }>();
const emit = defineEmits<{ asOf: [day: string]; dates: [first: string, last: string | null] }>();

const ROD = 38;
const TOP = 32;
const WIDTH = 1000;
const area = ref<SVGSVGElement | null>(null);
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
const currentName = computed(() => {
  const { window } = props.statement;
  if (window.kind === "to_date") return `This ${GRAINS[window.grain]} to date`;
  return capital(windowName(window, props.answer.as_of).replace(/ at .*$/, ""));
});

const rods = computed(() =>
  windows.value.map((window, at) => ({
    window,
    at,
    name: at ? capital(baseOf(at)) : currentName.value,
    days: window.asked ? rangeText(window.asked.first, window.asked.last) : noDays.value,
    note: ofEach(window) ? "compared row by row" : noteOf(window),
    why: window.fairness === "unequal" ? unequalWords(window, current.value, props.answer.as_of) : undefined,
    value: totalOf(at, "value"),
    change: totalOf(at, "difference"),
    percent: totalOf(at, "percent_change"),
    unfair:
      window.fairness === "unequal" || window.partly_covered || (window.reason !== null && !ofEach(window)),
  })),
);

function baseOf(at: number): string {
  const base = props.statement.bases[at - 1];
  return base ? baseName(base, props.statement.window, Number(props.answer.as_of.slice(0, 4))) : "";
}

function noteOf(window: AnsweredWindow): string {
  if (window.reason) return SHORT_REASONS[window.reason] ?? window.reason;
  const parts =
    window.fairness === "unequal"
      ? [`unequal, ${count(window.counted_days, "day")} to ${current.value.counted_days}`]
      : [count(window.counted_days, "day")];
  if (window.fairness && window.fairness !== "unequal") parts.push(FAIRNESS[window.fairness] ?? "");
  if (window.partly_covered) parts.push(postedWords(window) || "partly covered");
  if (window.overlaps) parts.push("overlaps");
  return parts.join(" · ");
}

function totalOf(window: number, kind: string): { text: string; favour: number } | null {
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

function title(bead: Bead): string {
  const value = bead.value === null ? "" : `: ${grouped(bead.value)}`;
  const quiet = bead.quiet_days ? `, ${count(bead.quiet_days, "day")} without lines` : "";
  const late = bead.late_lines ? `, ${count(bead.late_lines, "line")} after the as-of date` : "";
  return `${rangeText(bead.first, bead.last)}${value} (${bead.counted_days} of ${count(bead.days, "day")} counted${quiet}${late})`;
}

function pointed(event: PointerEvent): string | null {
  const box = area.value?.getBoundingClientRect();
  return box ? dayAt(current.value, ((event.clientX - box.left) / box.width) * slots(windows.value)) : null;
}

function grab(event: PointerEvent): void {
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  dragged.value = props.answer.as_of;
}

/** The ends of two dates can be dragged, and stepped by key. */
type End = "first" | "last";
const end = ref<{ which: End; day: string } | null>(null);
const ends = computed<{ which: End; day: string; at: number }[]>(() => {
  const { window } = props.statement;
  if (window.kind !== "dates" || !current.value.asked) return [];
  const days = { first: window.first, last: window.last ?? current.value.asked.last };
  return (["first", "last"] as const).map((which) => {
    const day = end.value?.which === which ? end.value.day : days[which];
    const after = which === "last" ? day : addDays(day, -1);
    return { which, day, at: positionAfter(current.value, after) * slot.value };
  });
});

function grabEnd(event: PointerEvent, which: End, day: string): void {
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  end.value = { which, day };
}

function dragEnd(event: PointerEvent): void {
  if (end.value) end.value = { ...end.value, day: pointed(event) ?? end.value.day };
}

function dropEnd(): void {
  if (end.value) moveEnd(end.value.which, end.value.day);
  end.value = null;
}

function moveEnd(which: End, day: string): void {
  const { window } = props.statement;
  if (window.kind !== "dates") return;
  const next = { first: window.first, last: window.last ?? null, [which]: day };
  if (next.last === null || next.first <= next.last) emit("dates", next.first, next.last);
}

function stepEnd(event: KeyboardEvent, which: End, day: string): void {
  const move = KEYS[event.key];
  if (!move) return;
  event.preventDefault();
  moveEnd(which, move(day));
}

function drag(event: PointerEvent): void {
  if (dragged.value) dragged.value = pointed(event) ?? dragged.value;
}

function drop(): void {
  if (dragged.value && dragged.value !== props.answer.as_of) emit("asOf", dragged.value);
  dragged.value = null;
}

const KEYS: Record<string, (day: string) => string> = {
  ArrowLeft: (day) => addDays(day, -1),
  ArrowRight: (day) => addDays(day, 1),
  PageUp: (day) => addMonths(day, -1),
  PageDown: (day) => addMonths(day, 1),
};

function step(event: KeyboardEvent): void {
  const move = KEYS[event.key];
  if (!move) return;
  event.preventDefault();
  emit("asOf", move(props.answer.as_of));
}
</script>

<template>
  <section v-if="folded" class="frame folded" aria-label="The windows compared" data-test="frame">
    <p v-for="rod in rods" :key="rod.at" :data-test="`rod-${rod.at}`">
      <strong :style="{ color: `var(--window-text-${Math.min(rod.at, 4)})` }">{{ rod.name }}</strong>
      {{ rod.days }} ·
      <span :class="{ unfair: rod.unfair }" :title="rod.why"
        ><template v-if="rod.unfair">! </template>{{ rod.note }}</span
      >
    </p>
  </section>
  <section v-else class="frame" aria-label="The windows compared" data-test="frame">
    <div class="names">
      <div v-for="rod in rods" :key="rod.at" class="name" :data-test="`rod-${rod.at}`">
        <strong :style="{ color: `var(--window-text-${Math.min(rod.at, 4)})` }">{{ rod.name }}</strong>
        <span
          >{{ rod.days }} ·
          <span :class="{ unfair: rod.unfair }" :title="rod.why"
            ><template v-if="rod.unfair">! </template>{{ rod.note }}</span
          ></span
        >
      </div>
    </div>
    <div class="picture">
      <svg
        ref="area"
        :viewBox="`0 0 ${WIDTH} ${height}`"
        :style="{ height: `${height}px` }"
        preserveAspectRatio="none"
        @pointermove="drag"
        @pointerup="drop"
        @pointercancel="drop"
      >
        <g v-for="rod in rods" :key="rod.at" :class="`rod-${Math.min(rod.at, 4)}`">
          <line
            x1="0"
            :y1="TOP + rod.at * ROD + ROD / 2"
            :x2="WIDTH"
            :y2="TOP + rod.at * ROD + ROD / 2"
            stroke="#a58f6c"
            stroke-width="2"
            :stroke-dasharray="rod.unfair ? '6 4' : 'none'"
            vector-effect="non-scaling-stroke"
          />
          <g v-for="(bead, index) in rod.window.beads" :key="bead.key">
            <title>{{ title(bead) }}</title>
            <rect
              :x="index * slot + slot * 0.06"
              :y="TOP + rod.at * ROD + 8"
              :width="slot * 0.88"
              :height="ROD - 16"
              rx="9"
              class="hollow"
              :class="{ partial: bead.counted_days > 0 }"
              vector-effect="non-scaling-stroke"
            />
            <rect
              v-if="bead.counted_days"
              :x="index * slot + slot * 0.06"
              :y="TOP + rod.at * ROD + 8"
              :width="slot * 0.88 * (bead.counted_days / bead.days)"
              :height="ROD - 16"
              :rx="bead.counted_days === bead.days ? 9 : 3"
              class="filled"
            />
            <circle
              v-if="bead.quiet_days"
              :cx="index * slot + slot / 2"
              :cy="TOP + rod.at * ROD + 5"
              r="2.5"
              class="quiet-days"
            />
            <rect
              v-if="bead.late_lines"
              :x="index * slot + slot * 0.06 + slot * 0.88 * (bead.counted_days / bead.days)"
              :y="TOP + rod.at * ROD + ROD - 7"
              :width="slot * 0.88 * (1 - bead.counted_days / bead.days)"
              height="3"
              class="late"
            />
          </g>
        </g>
        <line
          :x1="marker"
          y1="12"
          :x2="marker"
          :y2="height"
          stroke="var(--wood)"
          stroke-width="2.5"
          vector-effect="non-scaling-stroke"
        />
      </svg>
      <span
        v-for="(bead, index) in current.beads"
        v-show="current.beads.length < 20 || index % 5 === 0"
        :key="bead.key"
        class="period"
        :style="{ left: `${((index + 0.5) * 100) / slots(windows)}%` }"
        >{{ heading(bead) }}</span
      >
      <button
        v-for="each in ends"
        :key="each.which"
        type="button"
        class="marker end"
        role="slider"
        :aria-label="each.which === 'first' ? 'First day' : 'Last day'"
        :aria-valuetext="dayText(each.day)"
        :aria-valuenow="Math.round(each.at)"
        :aria-valuemin="0"
        :aria-valuemax="WIDTH"
        :style="{
          left: `${(each.at / WIDTH) * 100}%`,
          transform: each.which === 'last' ? 'translateX(-100%)' : '',
        }"
        :title="`${dayText(each.day)}: drag, or step with the arrow keys`"
        :data-test="`end-${each.which}`"
        @pointerdown="grabEnd($event, each.which, each.day)"
        @pointermove="dragEnd"
        @pointerup="dropEnd"
        @keydown="stepEnd($event, each.which, each.day)"
      >
        {{ each.which === "first" ? "⟨" : "⟩" }} {{ dayText(each.day) }}
      </button>
      <button
        type="button"
        class="marker"
        role="slider"
        aria-label="As-of date"
        :aria-valuetext="dayText(asOf)"
        :aria-valuenow="Math.round(marker)"
        :aria-valuemin="0"
        :aria-valuemax="WIDTH"
        :style="{
          left: `${(marker / WIDTH) * 100}%`,
          transform: marker > WIDTH * 0.85 ? 'translateX(-100%)' : '',
        }"
        data-test="marker"
        title="Drag, or step with the arrow keys (a day) and Page Up and Page Down (a month)"
        @pointerdown="grab"
        @pointermove="drag"
        @pointerup="drop"
        @keydown="step"
      >
        as of {{ dayText(asOf) }}
      </button>
    </div>
    <div class="totals">
      <div
        v-for="rod in rods"
        :key="rod.at"
        class="number"
        :title="measureName(statement.measures[0]?.measure ?? '')"
      >
        <strong>{{ rod.value?.text }}</strong>
        <span v-if="rod.change || rod.percent">
          <span
            v-for="(one, at) in [rod.change, rod.percent]"
            :key="at"
            :class="one && one.favour > 0 ? 'favourable' : one && one.favour < 0 ? 'adverse' : ''"
            >{{ one?.text }}
          </span>
        </span>
      </div>
    </div>
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
.folded {
  display: flex;
  flex-wrap: wrap;
  gap: 0 24px;
  font-size: 12px;
}
.folded p {
  margin: 0;
}
.folded .unfair {
  color: var(--adverse);
  font-weight: 700;
}
.names,
.totals {
  padding-top: 32px;
}
.name,
.totals > div {
  height: 38px;
  display: flex;
  flex-direction: column;
  justify-content: center;
  line-height: 1.25;
}
.name span,
.totals span {
  font-size: 11px;
  color: var(--quiet);
}
.totals span span {
  margin-left: 6px;
}
.totals span.favourable {
  color: var(--favourable);
}
.totals span.adverse {
  color: var(--adverse);
}
.quiet-days {
  fill: var(--wood);
}
.late {
  fill: #8d8571;
}
.name span.unfair {
  color: var(--adverse);
  font-weight: 700;
}
.picture {
  position: relative;
}
svg {
  width: 100%;
  display: block;
}
.hollow {
  fill: var(--sheet);
  stroke: #b9af9b;
  stroke-dasharray: 3 3;
}
.hollow.partial {
  stroke: var(--bead);
  stroke-dasharray: none;
}
.filled {
  fill: var(--bead);
}
.rod-0 {
  --bead: var(--window-0);
}
.rod-1 {
  --bead: var(--window-1);
}
.rod-2 {
  --bead: var(--window-2);
}
.rod-3 {
  --bead: var(--window-3);
}
.rod-4 {
  --bead: var(--window-4);
}
.period {
  position: absolute;
  top: 17px;
  transform: translateX(-50%);
  font-size: 11px;
  color: var(--quiet);
}
.marker {
  position: absolute;
  top: 0;
  border: 0;
  background: var(--wood);
  color: #fff;
  font-size: 11px;
  font-weight: 700;
  padding: 1px 6px;
  border-radius: 2px;
  cursor: ew-resize;
  touch-action: none;
  white-space: nowrap;
}
.marker.end {
  top: auto;
  bottom: 0;
  height: 20px;
  background: var(--window-0);
}
</style>
