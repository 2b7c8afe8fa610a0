<script setup lang="ts">
/** The posted files, the latest first; each can be withdrawn, restored or replaced. */
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import { computed, nextTick, ref, watch } from "vue";
import type { BatchRecord } from "@/contract";
import { capital } from "@/words/names";

const { dayText, rangeText } = useDays();

const { count, grouped, whole } = useNumbers();

const props = defineProps<{
  batches: BatchRecord[];
  busy: boolean;
  /** The batch that somebody came to see. */
  sought: number | null;
}>();
const emit = defineEmits<{
  withdraw: [batch: number, leaveHole: boolean];
  restore: [batch: number];
  replace: [batch: BatchRecord];
}>();

const newest = computed(() => [...props.batches].reverse());
/** The batch about which it is asked what its days are to count as. */
const asked = ref<BatchRecord | null>(null);
const list = ref<HTMLElement | null>(null);
watch(
  () => [props.sought, props.batches],
  async () => {
    await nextTick();
    list.value?.querySelector(".sought")?.scrollIntoView({ block: "center" });
  },
  { immediate: true },
);

function withdraw(leaveHole: boolean): void {
  if (asked.value) emit("withdraw", asked.value.id, leaveHole);
  asked.value = null;
}

function look({ row }: { row: BatchRecord }): string {
  return [row.active ? "" : "out", row.id === props.sought ? "sought" : ""].join(" ");
}
</script>

<template>
  <div ref="list">
    <ElTable
      :data="newest"
      row-key="id"
      size="small"
      max-height="420"
      :row-class-name="look"
      aria-label="Posted files"
    >
      <ElTableColumn v-slot="{ row }" label="File" min-width="170">
        <span class="file" :title="`batch ${row.id}, version ${row.version}`" data-test="batch">
          {{ row.file }}<small v-if="!row.active"> withdrawn</small
          ><small v-if="row.reason" class="reason">{{ row.reason }}</small>
        </span>
      </ElTableColumn>
      <ElTableColumn prop="feed" min-width="100" show-overflow-tooltip>
        <template #header
          ><span
            title="Files of one kind that follow each other, month by month: what one covers ends where the next begins"
            >Feed</span
          ></template
        >
      </ElTableColumn>
      <ElTableColumn v-slot="{ row }" label="Lines" width="90" align="right">
        {{ row.kind === "lookup" ? "" : whole(row.lines) }}
      </ElTableColumn>
      <ElTableColumn v-slot="{ row }" label="Net total" width="120" align="right">
        {{ row.kind === "lookup" ? "" : grouped(row.amount) }}
      </ElTableColumn>
      <ElTableColumn v-slot="{ row }" label="Days" min-width="175">
        {{ row.first_day && row.last_day ? rangeText(row.first_day, row.last_day) : "lookup" }}
      </ElTableColumn>
      <ElTableColumn v-slot="{ row }" label="Left out" width="80" align="right">
        {{ row.left_out || "" }}
      </ElTableColumn>
      <ElTableColumn v-slot="{ row }" label="Posted" width="110">
        <span :title="row.posted_at">{{ dayText(row.posted_at.slice(0, 10)) }}</span>
        <small class="by">{{ row.posted_by }}</small>
      </ElTableColumn>
      <ElTableColumn label="Content" width="90">
        <template #header
          ><span title="The first characters of the file's fingerprint: equal ones are the same file"
            >Fingerprint</span
          ></template
        >
        <template #default="{ row }"
          ><code :title="row.file_hash">{{ row.file_hash.slice(0, 8) }}</code></template
        >
      </ElTableColumn>
      <ElTableColumn v-slot="{ row }" label="Change" width="150" fixed="right">
        <ElButton
          v-if="!row.active"
          link
          :disabled="busy"
          :data-test="`restore-${row.file}`"
          @click="emit('restore', row.id)"
        >
          Restore
        </ElButton>
        <template v-else>
          <ElButton link :disabled="busy" :data-test="`replace-${row.file}`" @click="emit('replace', row)">
            Replace
          </ElButton>
          <ElButton
            link
            :disabled="busy"
            :data-test="`withdraw-${row.file}`"
            @click="asked = row as BatchRecord"
          >
            Withdraw
          </ElButton>
        </template>
      </ElTableColumn>
    </ElTable>
    <ElDialog
      :model-value="!!asked"
      :title="`Withdraw ${asked?.file ?? ''}?`"
      width="460"
      append-to-body
      @close="asked = null"
    >
      <template v-if="asked?.lines">
        {{ capital(count(asked.lines, "line")) }} with {{ grouped(asked.amount) }} net no longer count. What
        are their days to be?
      </template>
      <template v-else>What stood before it counts again.</template>
      <template #footer>
        <template v-if="asked?.lines">
          <ElButton data-test="withdraw-hole" @click="withdraw(true)">
            Not posted: figures there are undefined
          </ElButton>
          <ElButton data-test="withdraw-quiet" @click="withdraw(false)">
            Days without sales: figures there are 0
          </ElButton>
        </template>
        <ElButton v-else data-test="withdraw-plain" @click="withdraw(false)">Withdraw</ElButton>
        <ElButton link @click="asked = null">Keep it</ElButton>
      </template>
    </ElDialog>
  </div>
</template>

<style scoped>
.reason,
.by {
  display: block;
  color: var(--quiet);
}
:deep(.sought td) {
  background: var(--warn);
}
:deep(.out td) {
  color: var(--quiet);
}
:deep(.out .file) {
  text-decoration: line-through;
}
:deep(.out small) {
  display: inline-block;
  margin-left: 6px;
}
</style>
