<script setup lang="ts">
/** Members of a dimension, searched and chosen. */
import { useNumbers } from "@/composables/numbers";
import { ref, watch } from "vue";
import type { MemberKey, MemberListed } from "@/contract";
import { useMemberAmounts } from "@/panels/statement/memberAmounts";
import { useLedgers } from "@/state/ledgers";

const { count } = useNumbers();

const props = defineProps<{ dimension: string }>();
const chosen = defineModel<MemberKey[]>({ required: true });

const ledgers = useLedgers();
const search = ref("");
const found = ref<MemberListed[]>([]);
const total = ref(0);

watch(
  [() => props.dimension, search],
  async ([dimension, text]) => {
    if (!dimension) return;
    const answer = await ledgers.members(dimension, text);
    if (dimension !== props.dimension || text !== search.value) return;
    found.value = answer.members;
    total.value = answer.total;
  },
  { immediate: true },
);

const amount = useMemberAmounts(() => props.dimension);

function takeFound(): void {
  chosen.value = [...new Set([...chosen.value, ...found.value.map((each) => each.key)])];
}

function toggle(key: MemberKey, on: boolean): void {
  chosen.value = on ? [...chosen.value, key] : chosen.value.filter((each) => each !== key);
}
</script>

<template>
  <div>
    <ElInput
      v-model="search"
      clearable
      placeholder="Search members"
      aria-label="Search members"
      data-test="filter-search"
    />
    <slot />
    <ElButton v-if="search && found.length" link data-test="take-found" @click="takeFound">
      All found
    </ElButton>
    <div v-for="member in found" :key="String(member.key)" class="member">
      <ElCheckbox
        :model-value="chosen.includes(member.key)"
        :data-test="`member-${member.key}`"
        @change="toggle(member.key, !!$event)"
        >{{ member.label }}
        <small v-if="member.key && member.key !== member.label" class="quiet">{{
          member.key
        }}</small></ElCheckbox
      >
      <small class="number quiet">{{ amount(member.key) }}</small>
    </div>
    <p v-if="total > found.length" class="quiet">
      {{ count(total - found.length, "more member") }}: search to find them.
    </p>
    <p v-if="!found.length" class="quiet">No member is called that.</p>
  </div>
</template>

<style scoped>
.member {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  align-items: center;
  padding: 0 4px;
}
</style>
