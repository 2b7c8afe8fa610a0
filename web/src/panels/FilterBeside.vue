<script setup lang="ts">
/** A filter kept open beside the table: members with their figures, taken one by one, several, or all that are found; stepped by key. */
import { capital, dimensionName } from "@/words/names";
import { useNumbers } from "@/composables/numbers";
import { ref, watch } from "vue";
import type { LedgerDescription, MemberKey, MemberListed, Statement } from "@/contract";
import { stepMember } from "@/model/limits";
import { setFilter } from "@/model/statement";
import { useMemberAmounts } from "@/panels/statement/memberAmounts";
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

const amount = useMemberAmounts(() => props.dimension);

function turn(key: MemberKey, on: boolean): void {
  const now = chosen();
  take(on ? [...now, key] : now.filter((each) => each !== key));
}

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
    ?.querySelectorAll(".member")
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
    <ElInput
      v-model="search"
      clearable
      placeholder="Search"
      :aria-label="`Search in ${dimensionName(dimension)}`"
      :data-test="`search-${dimension}`"
    />
    <p>
      <ElButton size="small" aria-label="The member before" data-test="step-back" @click="step(-1)"
        >▲ <kbd>,</kbd></ElButton
      >
      <ElButton size="small" aria-label="The next member" data-test="step-ahead" @click="step(1)"
        >▼ <kbd>.</kbd></ElButton
      >
      <ElButton v-if="search" link data-test="take-found" @click="take(found.map((each) => each.key))">
        All found
      </ElButton>
      <ElButton v-else link :disabled="!chosen().length" data-test="step-all" @click="take([])">
        All
      </ElButton>
    </p>
    <div ref="list" class="list">
      <div
        v-for="member in found"
        :key="String(member.key)"
        class="member"
        :class="{ on: chosen().includes(member.key) }"
      >
        <ElCheckbox
          :model-value="chosen().includes(member.key)"
          :aria-label="`Also ${member.label}`"
          :data-test="`also-${member.key}`"
          @change="turn(member.key, !!$event)"
        />
        <ElButton
          text
          :title="`Only ${member.label}`"
          :aria-pressed="chosen().includes(member.key)"
          :data-test="`beside-${member.key}`"
          @click="take([member.key])"
        >
          {{ member.label }}
        </ElButton>
        <span class="number quiet">{{ amount(member.key) }}</span>
      </div>
      <p v-if="total > found.length" class="quiet">
        {{ count(total - found.length, "more member") }}: search.
      </p>
    </div>
  </aside>
</template>

<style scoped>
.beside {
  padding: 8px 10px;
  min-height: 0;
}
p {
  margin: 0;
  display: flex;
  gap: 6px;
}
.el-input {
  width: 100%;
}
.list {
  overflow: auto;
  flex: 1;
}
.member {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  align-items: center;
  border-left: 3px solid transparent;
  padding-left: 4px;
}
.member .el-checkbox {
  margin: 0 4px 0 0;
}
.member .el-button {
  justify-content: start;
  padding: 2px 4px;
  height: 26px;
  overflow: hidden;
}
.on {
  border-color: var(--wood);
  background: var(--soft);
}
.number {
  font-size: var(--size-note);
  padding-left: 6px;
}
</style>
