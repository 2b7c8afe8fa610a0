<script setup lang="ts">
/** What is posted: a rod per feed, a bead per month; a missing month is hollow and seen at once. */
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import { computed } from "vue";
import type { PostedMonth } from "@/contract";
import { monthsBetween } from "@/model/months";

const { monthName } = useDays();

const { count, grouped } = useNumbers();

const props = defineProps<{ months: PostedMonth[] }>();

const all = computed(() => monthsBetween(props.months.map((each) => each.month)));
const feeds = computed(() => {
  const names = [...new Set(props.months.map((each) => each.feed))];
  return names.map((name) => ({
    name,
    beads: all.value.map(
      (month) => props.months.find((each) => each.feed === name && each.month === month) ?? null,
    ),
    missing: props.months.filter((each) => each.feed === name && !each.lines).length,
  }));
});

function title(bead: PostedMonth | null, month: string): string {
  if (!bead) return `${month}: outside this feed`;
  if (bead.hole) return `${month}: declared not posted`;
  return bead.lines
    ? `${month}: ${count(bead.lines, "line")}, ${grouped(bead.amount)}`
    : `${month}: no line posted`;
}
</script>

<template>
  <table v-if="feeds.length" class="rods" data-test="posted-rods">
    <caption class="hidden">
      Months posted, by feed
    </caption>
    <thead>
      <tr>
        <td />
        <td v-for="month in all" :key="month" class="quiet">
          <span v-if="month.endsWith('-01')">{{ month.slice(0, 4) }}</span><span
            v-else-if="all.length <= 18"
            >{{ monthName(`${month}-01`) }}</span
          >
        </td>
      </tr>
    </thead>
    <tbody>
      <tr v-for="feed in feeds" :key="feed.name">
        <th scope="row">
          {{ feed.name }}
          <small v-if="feed.missing" class="adverse">{{ count(feed.missing, "month") }} missing</small>
        </th>
        <td v-for="(bead, at) in feed.beads" :key="all[at]" class="rod" :title="title(bead, all[at] ?? '')">
          <span v-if="bead" class="bead" :class="{ filled: bead.lines, hole: bead.hole }"
            ><span class="hidden">{{ title(bead, all[at] ?? "") }}</span></span
          >
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.rods {
  border-collapse: collapse;
  background: var(--sheet);
  border: 1px solid var(--line);
  border-left: 6px solid var(--wood);
  border-right: 6px solid var(--wood);
  width: 100%;
  table-layout: fixed;
}
th {
  text-align: left;
  padding: 4px 10px;
  width: 170px;
  white-space: nowrap;
}
thead td:first-child {
  width: 170px;
}
thead td {
  font-size: 0.625rem;
  white-space: nowrap;
  padding: 3px 0 0;
}
.rod {
  background: linear-gradient(var(--rod), var(--rod)) center / 100% 2px no-repeat;
  padding: 4px 2px;
}
.bead {
  display: block;
  height: 14px;
  border-radius: 6px;
  border: 1px dashed var(--part);
  background: var(--sheet);
}
.bead.filled {
  background: var(--slate);
  border: 1px solid var(--slate);
}
.bead.hole {
  border: 2px solid var(--adverse);
}
</style>
