<script setup lang="ts">
/** How few members make most of the rises, and of the falls: the share of all, largest first. */
import { computed } from "vue";
import type { Movers, Movement } from "@/contract";
import { lengthOf } from "@/model/numbers";

const props = defineProps<{ movers: Movers }>();
/** The part that is said to be made by few, as the server counts it. */
const MOST = 0.8;
const sides = computed(() =>
  [
    { name: "rises", side: props.movers.ups, sign: 1 },
    { name: "falls", side: props.movers.downs, sign: -1 },
  ].filter(({ side }) => side.few !== null && side.shares.length),
);
const longest = computed(() => Math.max(...sides.value.map(({ side }) => side.count), 1));

/** Points of a line, in a picture of 100 by 100. */
function points(side: Movement): string {
  const found = side.shares.map(
    ({ members: many, share }) => `${(many / longest.value) * 100},${(1 - lengthOf(share)) * 100}`,
  );
  return ["0,100", ...found].join(" ");
}

function favoured(sign: number): string {
  const { polarity } = props.movers;
  if (polarity === "neutral") return "";
  return sign > 0 === (polarity === "more_is_favourable") ? "favourable" : "adverse";
}

function words({ name, side }: { name: string; side: Movement }): string {
  const { level, members } = props.movers.told;
  const few = side.few ?? 0;
  return `${few} of ${side.count} ${side.count === 1 ? level : members} make 80 % of all ${name}`;
}
</script>

<template>
  <section data-test="few">
    <h2>How few make it</h2>
    <p class="quiet">share of all rises, of all falls, largest first</p>
    <svg v-if="sides.length" viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true">
      <line x1="0" x2="100" y1="100" y2="100" class="axis" />
      <line x1="0" x2="100" :y1="(1 - MOST) * 100" :y2="(1 - MOST) * 100" class="most" />
      <polyline
        v-for="{ name, side, sign } in sides"
        :key="name"
        :points="points(side)"
        :class="[favoured(sign), name]"
      />
    </svg>
    <p
      v-for="each in sides"
      :key="each.name"
      class="said"
      :class="favoured(each.sign)"
      :data-test="`few-${each.name}`"
    >
      <b :class="each.name" aria-hidden="true" /> {{ words(each) }}
    </p>
    <p v-if="!sides.length" class="quiet">
      {{ movers.adds_up === null ? "Only what adds up has shares of its rises and falls." : "Nobody moved." }}
    </p>
  </section>
</template>

<style scoped>
h2 {
  margin: 0;
  font: 600 0.9375rem var(--sans);
}
p {
  margin: 0 0 4px;
  font-size: 0.78rem;
}
svg {
  display: block;
  width: 100%;
  height: 6rem;
  overflow: visible;
}
svg * {
  vector-effect: non-scaling-stroke;
  fill: none;
}
.axis {
  stroke: var(--line);
}
.most {
  stroke: var(--part);
  stroke-dasharray: 2 3;
}
polyline {
  stroke: var(--quiet);
  stroke-width: 2;
}
polyline.favourable {
  stroke: var(--favourable);
}
polyline.adverse {
  stroke: var(--adverse);
}
polyline.falls {
  stroke-dasharray: 5 3;
}
.said {
  margin: 4px 0 0;
}
.said.favourable {
  color: var(--favourable);
}
.said.adverse {
  color: var(--adverse);
}
.said b {
  display: inline-block;
  width: 18px;
  border-top: 2px solid currentColor;
  vertical-align: middle;
}
.said b.falls {
  border-top-style: dashed;
}
</style>
