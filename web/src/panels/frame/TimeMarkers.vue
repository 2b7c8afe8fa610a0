<script setup lang="ts">
/** The as-of date and the ends of two dates, dragged along the rods or stepped by key. */
import { useDays } from "@/composables/dates";
import { computed, ref } from "vue";
import type { AnsweredWindow, Statement } from "@/contract";
import { addDays, addMonths } from "@/model/days";
import { dayAt, positionAfter } from "@/model/frame";
import { WIDTH } from "@/model/rods";

const { dayText } = useDays();

/** periods: how many there are along the rods; width: of each. */
const props = defineProps<{
  statement: Statement;
  current: AnsweredWindow;
  asOf: string;
  periods: number;
  width: number;
}>();
const emit = defineEmits<{ asOf: [day: string]; dates: [first: string, last: string | null] }>();
/** The day that the as-of date is dragged to, while it is. */
const dragged = defineModel<string | null>("dragged", { required: true });
const marked = computed(() => dragged.value ?? props.asOf);
const marker = computed(() => positionAfter(props.current, marked.value) * props.width);

function pointed(event: PointerEvent): string | null {
  const box = (event.currentTarget as Element).parentElement?.getBoundingClientRect();
  return box ? dayAt(props.current, ((event.clientX - box.left) / box.width) * props.periods) : null;
}

function grab(event: PointerEvent): void {
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  dragged.value = props.asOf;
}

/** The ends of two dates can be dragged, and stepped by key. */
type End = "first" | "last";
const end = ref<{ which: End; day: string } | null>(null);
const ends = computed<{ which: End; day: string; at: number }[]>(() => {
  const { window } = props.statement;
  if (window.kind !== "dates" || !props.current.asked) return [];
  const days = { first: window.first, last: window.last ?? props.current.asked.last };
  return (["first", "last"] as const).map((which) => {
    const day = end.value?.which === which ? end.value.day : days[which];
    const after = which === "last" ? day : addDays(day, -1);
    return { which, day, at: positionAfter(props.current, after) * props.width };
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
  if (dragged.value && dragged.value !== props.asOf) emit("asOf", dragged.value);
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
  emit("asOf", move(props.asOf));
}
</script>

<template>
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
    :aria-valuetext="dayText(marked)"
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
    as of {{ dayText(marked) }}
  </button>
</template>

<style scoped>
.marker {
  position: absolute;
  top: 0;
  border: 0;
  background: var(--wood);
  color: #fff;
  font-size: 0.6875rem;
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
