<script setup lang="ts">
/** A filter kept open beside the table, stepped member by member. */
import { capital, dimensionName } from "@/words/names";
import { useNumbers } from "@/composables/numbers";
import { ref, watch } from "vue";
import type { LedgerDescription, MemberKey, MemberListed, Statement } from "@/contract";
import { stepMember } from "@/model/limits";
import { setFilter } from "@/model/statement";
import { useLedgers } from "@/state/ledgers";

const { count } = useNumbers();

const props = defineProps<{ statement: Statement; ledger: LedgerDescription; dimension: string }>();
const emit = defineEmits<{ change: [statement: Statement]; close: [] }>();

const ledgers = useLedgers();
const search = ref("");
const found = ref<MemberListed[]>([]);
const total = ref(0);
const list = ref<HTMLElement | null>(null);

watch(
  [() => props.dimension, search],
  async ([dimension, text]) => {
    const answer = await ledgers.members(dimension, text);
    if (dimension !== props.dimension || text !== search.value) return;
    found.value = answer.members;
    total.value = answer.total;
  },
  { immediate: true },
);

function chosen(): MemberKey[] {
  return props.statement.filters.find((each) => each.dimension === props.dimension)?.members ?? [];
}

function take(members: MemberKey[]): void {
  emit("change", setFilter(props.statement, props.dimension, members, false));
}

/** The next member, or the one before, alone. */
function step(by: number): void {
  const next = stepMember(
    found.value.map((each) => each.key),
    chosen(),
    by,
  );
  if (next === undefined) return;
  take([next]);
  list.value
    ?.querySelectorAll("button")
    [found.value.findIndex((each) => each.key === next)]?.scrollIntoView({ block: "nearest" });
}
defineExpose({ step });
</script>

<template>
  <aside class="side beside" :aria-label="`Filter by ${dimensionName(dimension)}`" data-test="filter-panel">
    <header>
      <h2>{{ capital(dimensionName(dimension)) }}</h2>
      <ElButton link aria-label="Close the filter" @click="emit('close')">✕</ElButton>
    </header>
    <ElInput v-model="search" clearable placeholder="Search" aria-label="Search members" />
    <p>
      <ElButton data-test="step-back" @click="step(-1)">▲ <kbd>,</kbd></ElButton>
      <ElButton data-test="step-ahead" @click="step(1)">▼ <kbd>.</kbd></ElButton>
      <ElButton link :disabled="!chosen().length" data-test="step-all" @click="take([])"> All </ElButton>
    </p>
    <div ref="list" class="list">
      <ElButton
        v-for="member in found"
        :key="String(member.key)"
        :class="{ on: chosen().includes(member.key) }"
        :aria-pressed="chosen().includes(member.key)"
        :data-test="`beside-${member.key}`"
        @click="take([member.key])"
      >
        {{ member.label }}
      </ElButton>
      <p v-if="total > found.length" class="quiet">
        {{ count(total - found.length, "more member") }}: search.
      </p>
    </div>
  </aside>
</template>

<style scoped>
.beside {
  padding: 8px 10px;
}
p {
  margin: 0;
  display: flex;
  gap: 6px;
}
input {
  width: 100%;
}
.list {
  overflow: auto;
  flex: 1;
}
.list button {
  display: block;
  width: 100%;
  text-align: left;
  border: 0;
  border-left: 3px solid transparent;
  background: none;
  padding: 3px 6px;
  cursor: pointer;
}
.list button:hover {
  background: var(--soft);
}
.list .on {
  border-color: var(--wood);
  background: var(--soft);
  font-weight: 700;
}
</style>
