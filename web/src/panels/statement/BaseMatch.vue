<script setup lang="ts">
/** How the days of a base are matched with a window that is not over, or is not as long; each way tells its days first. */
import { ALIGNMENTS, ALIGNMENTS_OF, SPREADS } from "@/contract/vocabulary";
import { capital } from "@/words/names";
import { computed, ref, watch } from "vue";
import type { Base, Statement, StatementPreview } from "@/contract";
import Choices from "@/parts/Choices.vue";
import { useSheet } from "@/state/sheet/sheet";

const props = defineProps<{
  base: Base;
  /** The statement with a base in its place, and which window that is. */
  place: (base: Base) => Statement;
  number: number;
}>();
const emit = defineEmits<{ take: [base: Base] }>();
const sheet = useSheet();
const ways = computed<Base[]>(() =>
  ALIGNMENTS_OF[props.base.kind].map((align) => ({ ...props.base, align }) as Base),
);
const previews = ref<StatementPreview[]>([]);
watch(
  ways,
  async (bases) => {
    previews.value = await sheet.previews(bases.map(props.place));
  },
  { immediate: true },
);
const alignments = computed(() =>
  ways.value.map((each, at) => ({
    key: alignOf(each),
    label: capital(ALIGNMENTS[alignOf(each)] ?? ""),
    note: previews.value[at]?.windows[props.number]?.words ?? "",
    refused: previews.value[at]?.refused || null,
  })),
);

function alignOf(base: Base): string {
  return "align" in base ? (base.align ?? "same_dates") : "";
}

function align(how: string): void {
  const way = ways.value.find((each) => alignOf(each) === how);
  if (way) emit("take", way);
}

function spread(how: string): void {
  if (props.base.kind === "ledger")
    emit("take", { ...props.base, spread: how === "days" ? how : "working_days" });
}
</script>

<template>
  <Choices
    v-if="alignments.length"
    title="Where the period is not over, match"
    :choices="alignments"
    :chosen="alignOf(base)"
    @take="align"
  />
  <Choices
    v-if="base.kind === 'ledger'"
    title="Its lines for whole weeks or months are spread over"
    :choices="Object.entries(SPREADS).map(([key, label]) => ({ key, label: capital(label) }))"
    :chosen="base.spread ?? 'days'"
    @take="spread"
  />
</template>
