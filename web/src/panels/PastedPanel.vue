<script setup lang="ts">
/** A known answer laid beside the table: equal, different, absent, and the proof of each. */
import { useNumbers } from "@/composables/numbers";
import { computed, ref, watch } from "vue";
import { compared } from "@/model/pasted";
import type { MemberKey } from "@/contract";
import { plainHeadings, plainLabels, type Told } from "@/words/table";
import { VERDICTS } from "@/words/check";

const { count } = useNumbers();

const props = defineProps<{ told: Told; fill: () => Promise<boolean> }>();
const emit = defineEmits<{ prove: [path: MemberKey[], column: string, rest: boolean]; close: [] }>();

const pasted = ref("");
const only = ref("");
/** A pasted table has a line a row, however this one is laid out. */
const told = computed<Told>(() => ({ ...props.told, layout: { ...props.told.layout, measures: "beside" } }));
const found = computed(() => {
  const { answer } = told.value;
  const headings = plainHeadings(answer.columns, told.value);
  return pasted.value.trim()
    ? compared(pasted.value, answer, headings, (row) => plainLabels(row, told.value))
    : [];
});
/** A large table is filled before it is checked against; too large a one is not checked as far as it is not seen. */
const isWhole = ref(true);
watch(
  () => pasted.value.trim() !== "" && props.told.answer.windows,
  async (wanted) => {
    if (wanted) isWhole.value = await props.fill();
  },
);
const counts = computed(() =>
  (["equal", "different", "absent"] as const).map((verdict) => ({
    verdict,
    number: found.value.filter((each) => each.verdict === verdict).length,
  })),
);
const listed = computed(() =>
  found.value.filter((each) => !only.value || each.verdict === only.value).slice(0, 500),
);
</script>

<template>
  <aside
    class="side pasted"
    aria-label="Check against a pasted answer"
    data-test="pasted"
    @keydown.esc="emit('close')"
  >
    <header>
      <h2>Check against</h2>
      <ElButton link aria-label="Close the check" @click="emit('close')">✕</ElButton>
    </header>
    <p class="quiet">
      Paste a table whose first line holds headings: those of the copied table, or the same number of columns
      in its order without headings. Each figure is compared as finely as it is written.
    </p>
    <ElInput
      v-model="pasted"
      type="textarea"
      :rows="5"
      aria-label="The known answer"
      spellcheck="false"
      data-test="pasted-text"
    />
    <p v-if="!isWhole" class="quiet" role="alert">
      This table is too large to be checked whole: figures in rows that were not in view yet count as absent.
      Narrow it by a filter.
    </p>
    <div v-if="pasted.trim()" class="counts" role="status" data-test="pasted-counts">
      <ElButton
        v-for="each in counts"
        :key="each.verdict"
        :class="{ on: only === each.verdict }"
        :aria-pressed="only === each.verdict"
        :data-test="`only-${each.verdict}`"
        @click="only = only === each.verdict ? '' : each.verdict"
      >
        {{ count(each.number, "figure") }} {{ VERDICTS[each.verdict] }}
      </ElButton>
    </div>
    <ul>
      <li v-for="(each, at) in listed" :key="at" :class="each.verdict" data-test="pasted-line">
        <span
          >{{ each.row || "(no row)" }}<small v-if="each.column"> · {{ each.column }}</small></span
        >
        <span class="number">{{ each.wanted }}</span>
        <strong>{{ VERDICTS[each.verdict] }}</strong>
        <ElButton
          v-if="each.spot"
          link
          @click="emit('prove', each.spot.row.path, each.spot.column, typeof each.spot.row.rest === 'number')"
        >
          prove
        </ElButton>
        <span v-else />
      </li>
    </ul>
  </aside>
</template>

<style scoped>
.pasted {
  border-top: 4px solid var(--wood);
  padding: 10px 14px;
}
p {
  margin: 0;
  font-size: 0.75rem;
}
.el-textarea :deep(textarea) {
  font:
    12px/1.3 "DejaVu Sans Mono",
    monospace;
}
.counts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.counts .on {
  background: var(--soft);
  font-weight: 700;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  overflow: auto;
  flex: 1;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto auto;
  gap: 8px;
  padding: 2px 0;
  border-bottom: 1px solid var(--soft);
  font-size: 0.75rem;
}
.different strong {
  color: var(--adverse);
}
.equal strong {
  color: var(--favourable);
}
</style>
