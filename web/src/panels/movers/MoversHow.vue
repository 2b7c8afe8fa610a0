<script setup lang="ts">
/** What is asked of who moved: which measure, against which base, ranked how, what is left out; and the way down. */
import { dimensionsFor } from "@/model/periodLevel";
import Field from "@/parts/Field.vue";
import Option from "@/parts/Option.vue";
import { computed } from "vue";
import type { LedgerDescription, MoversAsked, Movers, Statement } from "@/contract";
import { SHOWS, STATUS } from "@/contract/vocabulary";
import { capital, dimensionName, measureName } from "@/words/names";

const props = defineProps<{
  movers: Movers;
  statement: Statement;
  ledger: LedgerDescription;
  asked: MoversAsked;
  /** What the bases are called. */
  bases: string[];
}>();
const emit = defineEmits<{ ask: [asked: MoversAsked] }>();

const RANKS = ["difference", "percent_change", "contribution", "share_change"] as const;
const ranks = computed(() => RANKS.filter((each) => each in props.movers.total.shown));
const KINDS = ["kept", "new", "lost", "returns_only"] as const;
const measures = computed(() => [...new Set(props.statement.measures.map((each) => each.measure))]);
/** Dimensions that can be gone down into, below the last level. */
const further = computed(() =>
  dimensionsFor(props.ledger, props.statement)
    .map((each) => each.name)
    .filter((each) => !props.movers.levels.includes(each)),
);

function set(parts: Partial<MoversAsked>): void {
  emit("ask", { ...props.asked, ...parts });
}
</script>

<template>
  <div class="how" role="group" aria-label="How movers are shown">
    <label v-if="measures.length > 1"
      >of
      <ElSelect
        :model-value="movers.measure"
        style="width: 11rem"
        data-test="movers-measure"
        @change="set({ measure: $event })"
      >
        <Option v-for="each in measures" :key="each" :value="each" :label="measureName(each)" /> </ElSelect
    ></label>
    <label v-if="bases.length > 1"
      >against
      <ElSelect
        :model-value="asked.base"
        style="width: 14rem"
        data-test="movers-base"
        @change="set({ base: Number($event) })"
      >
        <Option v-for="(each, at) in bases" :key="at" :value="at + 1" :label="each" /> </ElSelect
    ></label>
    <label
      >ranked by
      <ElSelect
        :model-value="movers.by"
        style="width: 10rem"
        data-test="movers-by"
        @change="set({ by: $event as MoversAsked['by'] })"
      >
        <Option v-for="each in ranks" :key="each" :value="each" :label="capital(SHOWS[each])" /> </ElSelect
    ></label>
    <label
      >hide changes under
      <Field
        style="width: 7rem"
        :value="asked.hide_under"
        data-test="hide-under"
        @change="set({ hide_under: $event.trim() })"
    /></label>
    <ElCheckboxGroup
      :model-value="[...asked.kinds]"
      aria-label="Only members that are"
      @change="set({ kinds: $event as MoversAsked['kinds'] })"
    >
      <ElCheckbox v-for="each in KINDS" :key="each" :value="each" :data-test="`kind-${each}`"
        >{{ STATUS[each] }} {{ movers.kinds[each] ?? 0 }}</ElCheckbox
      >
    </ElCheckboxGroup>
    <ElSelect
      v-if="further.length"
      :model-value="undefined"
      placeholder="+ a level below"
      style="width: 9.5rem"
      aria-label="Add a level below"
      data-test="movers-then"
      @change="set({ then: [...asked.then, String($event)] })"
    >
      <Option v-for="each in further" :key="each" :value="each" :label="dimensionName(each)" />
    </ElSelect>
  </div>
</template>

<style scoped>
.how {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  align-items: center;
  font-size: 0.8125rem;
}
</style>
