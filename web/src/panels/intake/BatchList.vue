<script setup lang="ts">
/** The posted files, the latest first; each can be withdrawn, restored or replaced. */
import { useNumbers } from "@/composables/numbers";
import { computed, nextTick, ref, watch } from "vue";
import type { BatchRecord } from "@/contract";
import { dayText, rangeText } from "@/model/days";

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
const asked = ref<number | null>(null);
const list = ref<HTMLElement | null>(null);
watch(
  () => [props.sought, props.batches],
  async () => {
    await nextTick();
    list.value?.querySelector(".sought")?.scrollIntoView({ block: "center" });
  },
  { immediate: true },
);

function withdraw(batch: number, leaveHole: boolean): void {
  asked.value = null;
  emit("withdraw", batch, leaveHole);
}
</script>

<template>
  <div ref="list" class="list">
    <table>
      <thead>
        <tr>
          <th scope="col">File</th>
          <th scope="col">Feed</th>
          <th scope="col" class="number">Lines</th>
          <th scope="col" class="number">Net total</th>
          <th scope="col">Days</th>
          <th scope="col" class="number">Left out</th>
          <th scope="col">Posted</th>
          <th scope="col">By</th>
          <th scope="col">Content</th>
          <th scope="col">Change</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="each in newest" :key="each.id">
          <tr
            :class="{ out: !each.active, sought: each.id === sought }"
            :title="`batch ${each.id}, version ${each.version}`"
            data-test="batch"
          >
            <td>
              {{ each.file }}<small v-if="!each.active"> withdrawn</small
              ><small v-if="each.reason" class="reason">{{ each.reason }}</small>
            </td>
            <td>{{ each.feed }}</td>
            <td class="number">{{ each.kind === "lookup" ? "" : whole(each.lines) }}</td>
            <td class="number">{{ each.kind === "lookup" ? "" : grouped(each.amount) }}</td>
            <td>
              {{ each.first_day && each.last_day ? rangeText(each.first_day, each.last_day) : "lookup" }}
            </td>
            <td class="number">{{ each.left_out || "" }}</td>
            <td :title="each.posted_at">{{ dayText(each.posted_at.slice(0, 10)) }}</td>
            <td>{{ each.posted_by }}</td>
            <td :title="each.file_hash">
              <code>{{ each.file_hash.slice(0, 8) }}</code>
            </td>
            <td class="act">
              <ElButton
                v-if="!each.active"
                link
                :disabled="busy"
                :data-test="`restore-${each.file}`"
                @click="emit('restore', each.id)"
              >
                Restore
              </ElButton>
              <template v-else>
                <ElButton
                  link
                  :disabled="busy"
                  :data-test="`replace-${each.file}`"
                  @click="emit('replace', each)"
                >
                  Replace
                </ElButton>
                <ElButton
                  link
                  :disabled="busy"
                  :data-test="`withdraw-${each.file}`"
                  @click="asked = asked === each.id ? null : each.id"
                >
                  Withdraw
                </ElButton>
              </template>
            </td>
          </tr>
          <tr v-if="asked === each.id" class="ask">
            <td colspan="10">
              <template v-if="each.lines">
                Withdraw {{ count(each.lines, "line") }} with {{ grouped(each.amount) }} net? Its days then
                count as
                <ElButton data-test="withdraw-hole" @click="withdraw(each.id, true)">
                  not posted: figures there are undefined
                </ElButton>
                <ElButton data-test="withdraw-quiet" @click="withdraw(each.id, false)">
                  quiet: figures there are 0
                </ElButton>
              </template>
              <template v-else>
                Withdraw it? What stood before it counts again.
                <ElButton data-test="withdraw-plain" @click="withdraw(each.id, false)"> Withdraw </ElButton>
              </template>
              <ElButton link @click="asked = null">Keep it</ElButton>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.sought td {
  background: var(--warn);
}
.list {
  overflow: auto;
  background: var(--sheet);
  border: 1px solid var(--line);
  flex: 1;
  min-height: 120px;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th {
  position: sticky;
  top: 0;
  background: var(--soft);
  text-align: left;
}
th.number {
  text-align: right;
}
th,
td {
  padding: 3px 10px;
  border-bottom: 1px solid var(--soft);
}
.out td {
  color: var(--quiet);
  text-decoration: line-through;
}
.out td:last-child,
.out small {
  text-decoration: none;
}
.reason {
  display: block;
  color: var(--quiet);
}
.act {
  white-space: nowrap;
}
.ask td {
  background: var(--warn);
}
</style>
