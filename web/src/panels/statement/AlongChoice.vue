<script setup lang="ts">
/** What a measure's figures run along in a series: their own period, a running total, or a sum or mean of the last few. */
import Count from "@/parts/Count.vue";
import Option from "@/parts/Option.vue";
import { ALONGS, GRAINS } from "@/contract/vocabulary";
import { capital } from "@/words/names";
import { computed, ref, watch } from "vue";
import type { Along, Grain } from "@/contract";
import { alongName } from "@/model/statement";
import Choices from "@/parts/Choices.vue";

const props = defineProps<{
  along: Along | null;
  /** Whether a mean over periods means something. */
  additive: boolean;
  /** What the sentence says of the measure. */
  words: string;
  /** Whether the statement has levels of time, whose periods it runs along. */
  timed: boolean;
}>();
const emit = defineEmits<{ take: [along: Along | null] }>();

/** The periods that it runs along where no level of time says so. */
const by = ref<Grain>(props.along?.by ?? "month");
watch(by, () => take(props.along));
function take(along: Along | null): void {
  emit("take", along && { ...along, by: props.timed ? null : by.value });
}

/** Those that are offered at once, and the one there is if it is none of them. */
const listed = computed<Along[]>(() => {
  const { along } = props;
  const offered = ALONGS.map((each) => each.along);
  const known = !along || offered.some((each) => alongName(each) === alongName(along));
  return known ? offered : [...offered, along];
});
function alongWords(along: Along): string {
  const offered = ALONGS.find((each) => alongName(each.along) === alongName(along));
  return offered?.words ?? props.words;
}
const of = ref<"sum" | "mean">("mean");
const periods = ref(6);
const asMany = ref(false);
const reset = ref<Grain>("half_year");

/** The sum or mean of any number of periods. */
function moving(): void {
  if (of.value === "mean" && !props.additive) return;
  take({ kind: "moving", periods: periods.value, of: of.value, as_many: asMany.value });
}

const alongs = computed(() => [
  { key: "own", label: "The period's own figure" },
  ...listed.value.map((each) => ({
    key: alongName(each),
    label: capital(alongWords(each)),
    refused:
      each.kind === "moving" && each.of === "mean" && !props.additive
        ? "A mean over periods means nothing here."
        : null,
  })),
]);
</script>

<template>
  <Choices
    title="Along the periods"
    :choices="alongs"
    :chosen="along ? alongName(along) : 'own'"
    @take="(key) => take(listed.find((each) => alongName(each) === key) ?? null)"
  />
  <p v-if="!timed" class="any">
    along
    <ElSelect v-model="by" aria-label="Periods that it runs along" data-test="along-by">
      <Option v-for="(label, grain) in GRAINS" :key="grain" :value="grain" :label="`${label}s`" />
    </ElSelect>
    to the last of the window
  </p>
  <form class="any" @submit.prevent="take({ kind: 'running', reset })">
    running from each
    <ElSelect v-model="reset" aria-label="Start of the running total" data-test="running-reset">
      <Option v-for="(label, grain) in GRAINS" :key="grain" :value="grain" :label="label" />
    </ElSelect>
    <ElButton native-type="submit" data-test="take-running">Run so</ElButton>
  </form>
  <form class="any" @submit.prevent="moving">
    <ElSelect v-model="of" aria-label="Sum or mean" data-test="moving-of">
      <Option value="mean" :disabled="!additive" label="mean" />
      <Option value="sum" label="sum" />
    </ElSelect>
    of the last
    <Count v-model="periods" :min="2" :max="400" aria-label="How many periods" data-test="moving-periods" />
    <ElCheckbox v-model="asMany" data-test="moving-as-many">or fewer</ElCheckbox>
    <ElButton native-type="submit" data-test="take-moving">Move so</ElButton>
  </form>
</template>

<style scoped>
.any {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  align-items: center;
  padding: 3px 8px;
}
.any .el-select {
  width: 100px;
}
</style>
