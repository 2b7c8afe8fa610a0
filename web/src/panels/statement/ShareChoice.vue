<script setup lang="ts">
/** Shares of any scope: which row dimensions the scope keeps, in the row's own period or in the whole range. */
import { computed, ref } from "vue";
import type { ShareScope, ShownMeasure, Statement } from "@/contract";
import { grains } from "@/model/statement";
import { capital, dimensionName, scopeWords } from "@/words/words";

const props = defineProps<{ shown: ShownMeasure; statement: Statement; derived: boolean }>();
const emit = defineEmits<{ change: [shares: ShareScope[]] }>();

const dimensions = computed(() =>
  [...props.statement.rows, ...props.statement.across].filter((each) => typeof each === "string"),
);
const timed = computed(() => grains(props.statement).length > 0);
const keep = ref<string[]>([]);
const range = ref(false);
const wanted = computed<ShareScope>(() => ({
  keep: dimensions.value.filter((each) => keep.value.includes(each)),
  period: range.value ? "range" : "own",
}));
const known = computed(() =>
  props.shown.shares.some((each) => JSON.stringify(each) === JSON.stringify(wanted.value)),
);
</script>

<template>
  <div v-if="!derived && (dimensions.length > 1 || timed)" class="shares">
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
    <label v-if="timed"
      ><input v-model="range" type="checkbox" data-test="scope-range" /> of the whole range</label
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
