<script setup lang="ts">
import { computed, ref, watch } from "vue";
import type { LedgerDescription, MemberKey, MemberListed, Statement } from "@/contract";
import { useLedgers } from "@/state/ledgers";
import { count, dimensionName } from "@/words/words";

const props = defineProps<{ statement: Statement; ledger: LedgerDescription; dimension: string | null }>();
const emit = defineEmits<{ change: [members: MemberKey[], exclude: boolean, dimension: string] }>();

const ledgers = useLedgers();
const free = computed(() =>
  props.ledger.dimensions
    .map((each) => each.name)
    .filter((name) => !props.statement.filters.some((f) => f.dimension === name)),
);
const chosen = ref(props.dimension ?? "");
const search = ref("");
const found = ref<MemberListed[]>([]);
const total = ref(0);
const filter = computed(() => props.statement.filters.find((each) => each.dimension === chosen.value));
const members = computed<MemberKey[]>(() => filter.value?.members ?? []);
const exclude = computed(() => filter.value?.exclude ?? false);

watch(
  [chosen, search],
  async () => {
    if (!chosen.value) return;
    const asked = `${chosen.value} ${search.value}`;
    const answer = await ledgers.members(chosen.value, search.value);
    if (asked !== `${chosen.value} ${search.value}`) return;
    found.value = answer.members;
    total.value = answer.total;
  },
  { immediate: true },
);

function toggle(key: MemberKey, on: boolean): void {
  const next = on ? [...members.value, key] : members.value.filter((each) => each !== key);
  emit("change", next, exclude.value, chosen.value);
}
</script>

<template>
  <select v-if="!dimension" v-model="chosen" aria-label="Dimension" data-test="filter-dimension">
    <option value="" disabled>Which dimension?</option>
    <option v-for="name in filter ? [chosen, ...free] : free" :key="name" :value="name">
      {{ dimensionName(name) }}
    </option>
  </select>
  <template v-if="chosen">
    <div class="head">
      <input
        v-model="search"
        type="search"
        placeholder="Search members"
        aria-label="Search members"
        data-test="filter-search"
      />
      <label
        ><input
          type="checkbox"
          :checked="exclude"
          :disabled="!members.length"
          @change="emit('change', members, !exclude, chosen)"
        />
        all but these</label
      >
    </div>
    <label v-for="member in found" :key="String(member.key)" class="member">
      <input
        type="checkbox"
        :checked="members.includes(member.key)"
        :data-test="`member-${member.key}`"
        @change="toggle(member.key, ($event.target as HTMLInputElement).checked)"
      />
      {{ member.label }}
      <small v-if="member.key && member.key !== member.label" class="quiet">{{ member.key }}</small>
    </label>
    <p v-if="total > found.length" class="quiet">
      {{ count(total - found.length, "more member") }}: search to find them.
    </p>
    <p v-if="!found.length" class="quiet">No member is called that.</p>
    <button
      v-if="members.length"
      type="button"
      class="plain"
      data-test="remove"
      @click="emit('change', [], false, chosen)"
    >
      Remove this filter
    </button>
  </template>
</template>

<style scoped>
.head {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 4px 0;
}
.member {
  display: block;
  padding: 2px 4px;
}
</style>
