<script setup lang="ts">
/** Shares of any scope: which row dimensions the scope keeps, over its own period, a longer one, or all that is posted. */
import { computed, ref } from "vue";
import type { ShareScope, ShownMeasure, Statement } from "@/contract";
import { grains } from "@/model/statement";
import { capital, dimensionName, GRAINS, scopeWords } from "@/words/words";

const props = defineProps<{ shown: ShownMeasure; statement: Statement; derived: boolean }>();
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
      {{ capital(scopeWords(scope)) }}
      <button
        type="button"
        class="plain"
        @click="
          emit(
            'change',
            shown.shares.filter((_, other) => other !== at),
          )
        "
      >
        remove
      </button>
    </p>
    <label v-for="each in dimensions" :key="each">
      <input v-model="keep" type="checkbox" :value="each" :data-test="`scope-${each}`" />
      the same {{ dimensionName(each) }}
    </label>
    <label
      >over
      <select v-model="over" data-test="scope-over">
        <option value="own">{{ timed ? "its own period" : "the window" }}</option>
        <option v-for="each in times" :key="each" :value="each">its {{ GRAINS[each] }}</option>
        <option v-if="timed" value="range">the whole range</option>
        <option value="ever">all that is posted</option>
      </select></label
    >
    <button
      type="button"
      :disabled="known"
      data-test="take-scope"
      @click="emit('change', [...shown.shares, wanted])"
    >
      Show this share
    </button>
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
