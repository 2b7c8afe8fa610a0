<script setup lang="ts">
/** Members that a finding is about, with their lines, and what can be done about each. */
import { useNumbers } from "@/composables/numbers";
import type { Finding, Mapping } from "@/contract";
import { dimensionName } from "@/words/names";

const { grouped, whole } = useNumbers();
const props = defineProps<{ finding: Finding; mapping: Mapping }>();
const emit = defineEmits<{ rows: [member: string]; change: [next: Partial<Mapping>] }>();

function merge(from: string, into: string): void {
  const others = props.mapping.merges.filter(
    (each) => each.dimension !== props.finding.about || each.member !== from,
  );
  emit("change", { merges: [...others, { dimension: props.finding.about, member: from, into }] });
}
</script>

<template>
  <ElTable :data="finding.members" row-key="key" size="small">
    <ElTableColumn
      v-slot="{ row }"
      :label="finding.code === 'other_currencies' ? 'Currency' : dimensionName(finding.about)"
      min-width="140"
    >
      <span data-test="member-found">{{ row.key }}</span>
    </ElTableColumn>
    <ElTableColumn v-slot="{ row }" label="Lines" width="90" align="right">{{
      whole(row.lines)
    }}</ElTableColumn>
    <ElTableColumn v-slot="{ row }" label="Net total" width="130" align="right">{{
      grouped(row.amount)
    }}</ElTableColumn>
    <ElTableColumn v-if="finding.code === 'near_members'" prop="near" label="Nearly like" min-width="140" />
    <ElTableColumn v-if="finding.code !== 'other_currencies'" v-slot="{ row }" label="Do" min-width="190">
      <ElButton v-if="row.near" :data-test="`merge-${row.key}`" @click="merge(row.key, row.near)">
        Post as {{ row.near }}
      </ElButton>
      <ElButton
        v-if="mapping.kind !== 'lookup' || finding.code === 'lookup_leaves_out'"
        link
        :data-test="`rows-${row.key}`"
        @click="emit('rows', row.key)"
      >
        rows
      </ElButton>
    </ElTableColumn>
  </ElTable>
</template>
