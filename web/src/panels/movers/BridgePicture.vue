<script setup lang="ts">
/** The way from the base to the current figure, step by step, as a picture: every step opens, every amount is proved. */
import { useNumbers } from "@/composables/numbers";
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";
import type { Movers, MemberKey, Step } from "@/contract";
import { columnOf, decimalsOf, placed } from "@/model/movers";
import { favour } from "@/model/numbers";
import { token } from "@/panels/series/seriesOption";
import { useReader } from "@/state/reader";

const props = defineProps<{ movers: Movers; each: boolean }>();
const emit = defineEmits<{ open: [step: Step]; prove: [path: MemberKey[], column: string] }>();
const { cell: cellText, whole } = useNumbers();
const reader = useReader();
const picture = ref<SVGSVGElement | null>(null);
const { width: measured } = useElementSize(picture);
const width = computed(() => Math.max(measured.value, 300));

const steps = computed(() => (props.each ? props.movers.each : props.movers.steps));
const axis = computed(() => placed(steps.value));
const tall = computed(() => 28 * reader.scale);
const names = computed(() => Math.min(width.value * 0.38, 200 * reader.scale));
const figures = computed(() => 96 * reader.scale);
const long = computed(() => Math.max(width.value - names.value - figures.value - 12, 40));

/** By name: what is drawn follows the page when it turns light or dark. */
const colours = computed(() => ({
  ink: "var(--ink)",
  line: "var(--part)",
  rule: "var(--line)",
  sheet: "var(--sheet)",
  up: "var(--favourable)",
  down: "var(--adverse)",
  now: "var(--window-0)",
  then: `var(--window-${Math.min(props.movers.base, 4)})`,
  still: "var(--quiet)",
}));

function isOuter(step: Step): boolean {
  return step.kind === "base" || step.kind === "current";
}

function nameOf(step: Step): string {
  const { told } = props.movers;
  if (step.kind === "base") return told.base_heading;
  if (step.kind === "current") return told.current_heading;
  if (step.kind === "mover") return step.label;
  const few = step.count === 1 ? told.level : told.members;
  return `${told.steps[step.kind] ?? step.kind}: ${whole(step.count)} ${few}`;
}

function colourOf(step: Step): string {
  if (step.kind === "base") return colours.value.then;
  if (step.kind === "current") return colours.value.now;
  const way = favour(step.amount, columnOf(props.movers, "difference"));
  return way > 0 ? colours.value.up : way < 0 ? colours.value.down : colours.value.still;
}

function amountOf(step: Step): string {
  const column = columnOf(props.movers, isOuter(step) ? "value" : "difference");
  return cellText(step.amount, column, decimalsOf(props.movers));
}

function pathOf(step: Step): MemberKey[] {
  return step.path ?? props.movers.path;
}

/** As much of a name as there is room for. */
function shortNameOf(step: Step): string {
  const name = nameOf(step);
  const room = Math.floor(names.value / (6.6 * reader.scale));
  return name.length > room ? `${name.slice(0, room - 1).trimEnd()}…` : name;
}

/** What the whole picture says to who does not see it. */
const said = computed(() => steps.value.map((each) => `${nameOf(each)} ${amountOf(each)}`).join("; "));

/** The picture as it stands, as SVG: one that is saved has no page around it to give it colours. */
function asSvg(): string {
  return (picture.value?.outerHTML ?? "").replace(/var\((--[\w-]+)\)/g, (_, name: string) => token(name));
}
defineExpose({ picture: asSvg });
</script>

<template>
  <svg
    ref="picture"
    class="bridge"
    xmlns="http://www.w3.org/2000/svg"
    :viewBox="`0 0 ${width} ${steps.length * tall + 4}`"
    :height="steps.length * tall + 4"
    width="100%"
    :font-size="13.5 * reader.scale"
    font-family="Source Sans 3 Variable, Segoe UI, sans-serif"
    role="group"
    :aria-label="`From ${movers.told.base} to ${movers.told.current}: ${said}`"
    data-test="bridge"
  >
    <g
      v-for="({ step, from, to }, at) in axis.rods"
      :key="at"
      :transform="`translate(0 ${at * tall})`"
      :data-test="`step-${step.kind}`"
    >
      <line x1="0" :x2="width" :y1="tall - 0.5" :y2="tall - 0.5" :stroke="colours.rule" />
      <text
        :x="0"
        :y="tall * 0.66"
        :fill="colours.ink"
        :class="{ link: !isOuter(step) }"
        v-bind="isOuter(step) ? {} : { role: 'button', tabindex: 0 }"
        @click="emit('open', step)"
        @keydown.enter="emit('open', step)"
      >
        <title>{{ nameOf(step) }}</title>
        {{ shortNameOf(step) }}
      </text>
      <line
        :x1="names + 8"
        :x2="names + 8 + long"
        :y1="tall / 2"
        :y2="tall / 2"
        :stroke="colours.line"
        stroke-width="0.7"
      />
      <rect
        :x="names + 8 + from * long"
        :y="tall / 2 - 6.5"
        :width="Math.max((to - from) * long, 2)"
        height="13"
        rx="5"
        :fill="colourOf(step)"
      />
      <path
        v-if="axis.broken && isOuter(step)"
        :d="`M${names + 18} ${tall / 2 - 8}l-4 8l4 0l-4 8`"
        fill="none"
        :stroke="colours.sheet"
        stroke-width="2.5"
      />
      <text
        :x="width"
        :y="tall * 0.66"
        text-anchor="end"
        font-weight="600"
        class="amount"
        :fill="isOuter(step) ? colours.ink : colourOf(step)"
        :data-test="`amount-${step.kind}`"
        v-bind="step.column ? { role: 'button', tabindex: 0 } : {}"
        :class="{ link: step.column }"
        @click="step.column && emit('prove', pathOf(step), step.column)"
        @keydown.enter="step.column && emit('prove', pathOf(step), step.column)"
      >
        {{ amountOf(step) }}
      </text>
    </g>
  </svg>
</template>

<style scoped>
.bridge {
  display: block;
}
.link {
  cursor: pointer;
}
.link:hover,
.link:focus-visible {
  text-decoration: underline;
}
.amount {
  font-variant-numeric: tabular-nums lining-nums;
}
</style>
