<script setup lang="ts">
/** Shares of any scope: which row dimensions the scope keeps, over its own period, a longer one, or all that is posted. */
import Option from "@/parts/Option.vue";
import { GRAINS } from "@/contract/vocabulary";
import { capital, dimensionName } from "@/words/names";
import { computed, ref } from "vue";
import type { ShareScope, ShownMeasure, Statement } from "@/contract";
import { grains } from "@/model/statement";

const props = defineProps<{
  shown: ShownMeasure;
  statement: Statement;
  derived: boolean;
  /** Its shares in words, in their order. */ said: string[];
}>();
const emit = defineEmits<{ change: [shares: ShareScope[]] }>();

const dimensions = computed(() =>
  [...props.statement.rows, ...props.statement.across].filter((each) => typeof each === "string"),
);
const timed = computed(() => grains(props.statement).length > 0);
const keep = ref<string[]>([]);
/** Over which days: the row's own, the whole range, all that is posted, or a level of time that the rows stand in. */
const over = ref<string>("own");
const times = computed(() => grains(props.statement).slice(0, -1));
const wanted = computed<ShareScope>(() => ({
  keep: dimensions.value.filter((each) => keep.value.includes(each)),
  period: over.value === "range" || over.value === "ever" ? over.value : "own",
  time: times.value.find((each) => each === over.value) ?? null,
}));
const known = computed(() =>
  props.shown.shares.some((each) => JSON.stringify(each) === JSON.stringify(wanted.value)),
);
</script>

<template>
  <div v-if="!derived" class="shares">
    <p class="title">Share within</p>
    <p v-for="(scope, at) in shown.shares" :key="JSON.stringify(scope)">
      {{ capital(said[at] ?? "") }}
      <ElButton
        link
        @click="
          emit(
            'change',
            shown.shares.filter((_, other) => other !== at),
          )
        "
      >
        remove
      </ElButton>
    </p>
    <ElCheckboxGroup v-model="keep">
      <ElCheckbox v-for="each in dimensions" :key="each" :value="each" :data-test="`scope-${each}`"
        >the same {{ dimensionName(each) }}</ElCheckbox
      >
    </ElCheckboxGroup>
    <label
      >over
      <ElSelect v-model="over" data-test="scope-over">
        <Option value="own" :label="timed ? 'its own period' : 'the window'" />
        <Option v-for="each in times" :key="each" :value="each" :label="`its ${GRAINS[each]}`" />
        <Option v-if="timed" value="range" label="the whole range" />
        <Option value="ever" label="all that is posted" /> </ElSelect
    ></label>
    <ElButton :disabled="known" data-test="take-scope" @click="emit('change', [...shown.shares, wanted])">
      Show this share
    </ElButton>
  </div>
</template>

<style scoped>
.shares {
  padding: 4px;
}
.title {
  margin: 8px 0 2px;
  font-weight: 700;
}
p {
  margin: 2px 0;
}
label {
  display: block;
  padding: 2px 0;
}
</style>
