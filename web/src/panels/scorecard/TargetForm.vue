<script setup lang="ts">
/** A target typed on the card: for all rows, for this one, for this period, or for this row in it. */
import Option from "@/parts/Option.vue";
import { computed, ref, watch } from "vue";
import type { Goal, MemberKey } from "@/contract";

const props = defineProps<{
  goal: Goal | null;
  path: MemberKey[];
  /** What the row is called. */
  row: string;
  /** The sortable name of the period that is judged, and what it is called; none of two dates. */
  period: string;
  periodName: string;
  /** What a figure is of: % of a base, or a unit. */
  unit: string;
}>();
const emit = defineEmits<{ set: [target: string, path: MemberKey[] | null, period: string] }>();
type Scope = "all" | "row" | "period" | "both";
const scope = ref<Scope>("all");
const scopes = computed(() => [
  { value: "all", label: "all rows" },
  { value: "row", label: props.row },
  ...(props.period
    ? [
        { value: "period", label: `all rows in ${props.periodName}` },
        { value: "both", label: `${props.row} in ${props.periodName}` },
      ]
    : []),
]);
const place = computed(() => ({
  path: scope.value === "row" || scope.value === "both" ? props.path : null,
  period: scope.value === "period" || scope.value === "both" ? props.period : "",
}));
/** The target that stands there by now. */
const standing = computed(() => {
  const { path, period } = place.value;
  if (path === null && !period) return props.goal?.target ?? "";
  const own = props.goal?.own.find(
    (each) => JSON.stringify(each.path) === JSON.stringify(path) && each.period === period,
  );
  return own?.target ?? "";
});
const text = ref(standing.value);
watch([standing, scope], () => (text.value = standing.value));
const sound = computed(() => /^-?\d+(\.\d+)?$/.test(text.value.trim()));

function set(target: string): void {
  emit("set", target, place.value.path, place.value.period);
}
</script>

<template>
  <form class="target" @submit.prevent="sound && set(text.trim())">
    <ElFormItem label="Goal" :error="text.trim() && !sound ? 'Write a plain figure: 100 or 95.5.' : ''">
      <ElInput v-model="text" style="width: 8rem" aria-label="Target" data-test="card-target" />
      <span class="quiet">{{ unit }}</span>
    </ElFormItem>
    <ElFormItem label="for">
      <ElSelect v-model="scope" style="width: 15rem" data-test="card-scope">
        <Option v-for="each in scopes" :key="each.value" :value="each.value" :label="each.label" />
      </ElSelect>
    </ElFormItem>
    <ElButton native-type="submit" :disabled="!sound || text.trim() === standing" data-test="set-target"
      >Set this goal</ElButton
    >
    <ElButton v-if="standing" link data-test="remove-target" @click="set('')">Remove it</ElButton>
  </form>
</template>

<style scoped>
.target {
  margin-top: 8px;
  padding-top: 8px;
  border-top: 1px solid var(--line);
}
.target :deep(.el-form-item) {
  margin-bottom: 8px;
}
.quiet {
  margin-left: 6px;
}
</style>
