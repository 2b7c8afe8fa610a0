<script setup lang="ts">
/** The journal: every version, who made it and how, and what it holds. */
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import type { VersionRecord } from "@/contract";

const { dayText } = useDays();

const { grouped, whole } = useNumbers();

defineProps<{ versions: VersionRecord[] }>();
</script>

<template>
  <ElTable
    :data="versions"
    row-key="version"
    size="small"
    max-height="220"
    aria-label="Versions"
    data-test="versions"
  >
    <ElTableColumn prop="version" label="Version" width="80" align="right" />
    <ElTableColumn prop="what" label="What" min-width="260" />
    <ElTableColumn prop="made_by" label="Who" width="120" show-overflow-tooltip />
    <ElTableColumn v-slot="{ row }" label="When" width="120">
      <span :title="row.made_at">{{ dayText(row.made_at.slice(0, 10)) }}</span>
    </ElTableColumn>
    <ElTableColumn v-slot="{ row }" label="Lines" width="110" align="right">{{
      whole(row.lines)
    }}</ElTableColumn>
    <ElTableColumn v-slot="{ row }" label="Net total" width="150" align="right">
      {{ grouped(row.amount) }}
    </ElTableColumn>
  </ElTable>
</template>
