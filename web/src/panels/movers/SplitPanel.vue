<script setup lang="ts">
/** What of a change is price, what volume, what mix; and the items that it is made of. */
import { useNumbers } from "@/composables/numbers";
import { computed, ref } from "vue";
import type { Cell, MemberKey, Movers, Step } from "@/contract";
import { REASONS } from "@/contract/vocabulary";
import { columnOf, decimalsOf } from "@/model/movers";
import { favour, lengthOf, signOf } from "@/model/numbers";
import { dimensionName, many } from "@/words/names";

const props = defineProps<{ movers: Movers }>();
const emit = defineEmits<{ prove: [path: MemberKey[], column: string]; item: [keys: MemberKey[]] }>();
const { cell: cellText, whole } = useNumbers();
const split = computed(() => props.movers.split);
/** Steps that make nothing of it are left out, but for the three that it is named after. */
const steps = computed(() =>
  (split.value?.steps ?? []).filter(
    (each) => ["price", "volume", "mix"].includes(each.kind) || signOf(each.amount) !== 0,
  ),
);
const largest = computed(
  () => Math.max(...steps.value.map((each) => Math.abs(lengthOf(each.amount))), 0) || 1,
);
const itemsShown = ref(false);
const items = computed(() => many(split.value?.dimensions.at(0) ?? "product"));

function text(cell: Cell | null): string {
  return cell ? cellText(cell, columnOf(props.movers, "difference"), decimalsOf(props.movers)) : "–";
}

function way(cell: Cell): string {
  const found = favour(cell, columnOf(props.movers, "difference"));
  return found > 0 ? "favourable" : found < 0 ? "adverse" : "";
}

/** From the middle to the left or to the right. */
function rod(step: Step): { left: string; width: string } {
  const part = (Math.abs(lengthOf(step.amount)) / largest.value) * 50;
  return { left: `${signOf(step.amount) < 0 ? 50 - part : 50}%`, width: `${part}%` };
}
</script>

<template>
  <section class="split" data-test="split">
    <h2>Price, volume, mix</h2>
    <p v-if="split" class="quiet">
      by {{ split.dimensions.map(dimensionName).join(", ") }}; kept {{ items }}, new and lost beside them
    </p>
    <p v-else class="quiet">
      {{
        movers.split_reason
          ? REASONS[movers.split_reason]
          : "Only net and gross sales have a price, where lines have quantities."
      }}
    </p>
    <template v-if="split">
      <div v-for="step in steps" :key="step.kind" class="row" :class="way(step.amount)">
        <span>{{ movers.told.steps[step.kind] }}</span>
        <span class="track" aria-hidden="true"><i :style="rod(step)" /></span>
        <ElButton
          link
          class="figure"
          :data-test="`split-${step.kind}`"
          @click="emit('prove', movers.path, step.column)"
          >{{ text(step.amount) }}</ElButton
        >
      </div>
      <ElButton link class="more" data-test="split-items" @click="itemsShown = !itemsShown">{{
        itemsShown ? `Hide the ${items}` : `Which ${items}: ${whole(split.items.length + split.more)} of them`
      }}</ElButton>
      <ElTable v-if="itemsShown" :data="split.items" size="small" max-height="240" data-test="items-of-split">
        <ElTableColumn :label="dimensionName(split.dimensions[0] ?? '')" min-width="120">
          <template #default="{ row }"
            ><ElButton
              link
              :title="`Who moved in ${row.label}`"
              :data-test="`item-${row.label}`"
              @click="emit('item', row.keys)"
              >{{ row.label }}</ElButton
            ></template
          >
        </ElTableColumn>
        <ElTableColumn label="change" align="right">
          <template #default="{ row }"
            ><span :class="way(row.change)">{{ text(row.change) }}</span></template
          >
        </ElTableColumn>
        <ElTableColumn label="price" align="right">
          <template #default="{ row }">{{ text(row.price) }}</template>
        </ElTableColumn>
        <ElTableColumn label="volume and mix" align="right">
          <template #default="{ row }">{{ text(row.moved) }}</template>
        </ElTableColumn>
        <ElTableColumn label="" width="70">
          <template #default="{ row }">{{ row.status === "kept" ? "" : row.status }}</template>
        </ElTableColumn>
      </ElTable>
      <p v-if="itemsShown && split.more" class="quiet">and {{ whole(split.more) }} that changed less</p>
    </template>
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
.row {
  display: grid;
  grid-template-columns: 90px 1fr 8em;
  gap: 8px;
  align-items: center;
  min-height: 1.8rem;
  border-bottom: 1px solid var(--line);
  font-size: 0.875rem;
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
  inset-block: 0;
  min-width: 2px;
  border-radius: 5px;
  background: var(--quiet);
}
.favourable .track i {
  background: var(--favourable);
}
.adverse .track i {
  background: var(--adverse);
}
.favourable,
.favourable .figure {
  color: var(--favourable);
}
.adverse,
.adverse .figure {
  color: var(--adverse);
}
.row > span:first-child {
  color: var(--ink);
}
.figure {
  font-weight: 600;
  font-variant-numeric: tabular-nums lining-nums;
  justify-content: flex-end;
}
.more {
  margin-top: 4px;
  font-size: 0.78rem;
}
</style>
