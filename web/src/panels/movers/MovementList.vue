<script setup lang="ts">
/** Those that moved one way: each with its rod, its change, what that is of its base, and of all. */
import { useNumbers } from "@/composables/numbers";
import { computed } from "vue";
import type { MemberKey, Mover, Movers, Movement } from "@/contract";
import { columnOf, decimalsOf, largestChange, sizeOf, type Shown } from "@/model/movers";
import { favour } from "@/model/numbers";
import { STATUS } from "@/contract/vocabulary";

const props = defineProps<{
  movers: Movers;
  side: Movement;
  title: string;
  about: string;
  selected: { path: MemberKey[]; column: string } | null;
}>();
const emit = defineEmits<{ open: [path: MemberKey[]]; prove: [path: MemberKey[], column: string] }>();
const { cell: cellText, whole } = useNumbers();
const canOpen = computed(() => props.movers.path.length + 1 < props.movers.levels.length);
const largest = computed(() => largestChange(props.movers));
const shownIn = computed<Shown[]>(() =>
  (
    [
      "difference",
      "percent_change",
      props.movers.by === "contribution" ? "contribution" : "share_change",
    ] as const
  ).filter((each) => each in props.movers.total.shown),
);

function text(mover: Mover, shown: Shown): string {
  const cell = mover.shown[shown];
  const column = columnOf(props.movers, shown);
  return cell
    ? cellText(cell, column, shown === "difference" ? decimalsOf(props.movers) : column.decimals)
    : "";
}

function way(mover: Mover): string {
  const { difference } = mover.shown;
  const found = difference ? favour(difference, columnOf(props.movers, "difference")) : 0;
  return found > 0 ? "favourable" : found < 0 ? "adverse" : "";
}

function isSelected(mover: Mover, shown: Shown): boolean {
  return (
    JSON.stringify(props.selected) ===
    JSON.stringify({ path: mover.path, column: columnOf(props.movers, shown).id })
  );
}
</script>

<template>
  <section class="side">
    <h2>{{ title }}</h2>
    <p class="quiet">{{ about }}</p>
    <ol>
      <li
        v-for="mover in side.movers"
        :key="JSON.stringify(mover.path)"
        :class="way(mover)"
        :data-test="`mover-${mover.label}`"
      >
        <span class="name">
          <ElButton
            v-if="canOpen && mover.path"
            link
            class="open"
            :title="`Who moved in ${mover.label}`"
            @click="emit('open', mover.path)"
            >{{ mover.label }}</ElButton><template v-else>{{ mover.label }}</template>
          <ElTag v-if="mover.status && mover.status !== 'kept'" size="small" type="info" round>{{
            STATUS[mover.status]
          }}</ElTag>
        </span>
        <span class="track" aria-hidden="true"
          ><i :style="{ width: `${(sizeOf(mover) / largest) * 100}%` }"
        /></span>
        <ElButton
          v-for="shown in shownIn"
          :key="shown"
          link
          class="figure"
          :class="[shown, { selected: isSelected(mover, shown) }]"
          :data-test="`${shown}-of-${mover.label}`"
          @click="mover.path && emit('prove', mover.path, columnOf(movers, shown).id)"
          >{{ text(mover, shown) }}</ElButton
        >
      </li>
      <li v-if="side.rest" class="rest" data-test="rest">
        <span class="name">{{ whole(side.rest.count) }} others</span><span class="track" />
        <span v-for="shown in shownIn" :key="shown" class="figure" :class="shown">{{
          text(side.rest, shown)
        }}</span>
      </li>
      <slot />
    </ol>
    <p v-if="!side.movers.length" class="quiet">None.</p>
  </section>
</template>

<style scoped>
.side {
  min-width: 0;
  padding: 0;
  border: 0;
}
h2 {
  margin: 0;
  font: 600 0.9375rem var(--sans);
}
p {
  margin: 0 0 4px;
  font-size: 0.78rem;
}
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 2.4fr) minmax(28px, 1fr) minmax(64px, auto) 4.2em 4.2em;
  gap: 6px;
  align-items: center;
  min-height: 1.8rem;
  border-bottom: 1px solid var(--line);
  font-size: 0.875rem;
}
.name {
  color: var(--ink);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.el-tag {
  --el-tag-text-color: var(--quiet);
}
.open {
  font: inherit;
  color: var(--ink);
}
.track {
  position: relative;
  height: 0.85rem;
}
.track::before {
  content: "";
  position: absolute;
  inset: 50% 0 auto;
  border-top: 1px solid var(--part);
}
.track i {
  position: absolute;
  inset: 0 auto 0 0;
  min-width: 2px;
  border-radius: 5px;
  background: var(--quiet);
}
.favourable i {
  background: var(--favourable);
}
.adverse i {
  background: var(--adverse);
}
.figure {
  font: inherit;
  font-variant-numeric: tabular-nums lining-nums;
  justify-content: flex-end;
  text-align: right;
  margin: 0;
  color: var(--ink);
}
.favourable .difference,
.favourable .percent_change {
  color: var(--favourable);
}
.adverse .difference,
.adverse .percent_change {
  color: var(--adverse);
}
.selected {
  outline: 2px solid var(--window-0);
}
.rest {
  color: var(--quiet);
}
</style>
