<script setup lang="ts">
/** Files become posted lines: drop, read, map, check, place, post. */
import { useNumbers } from "@/composables/numbers";
import { useIntervalFn } from "@vueuse/core";
import { storeToRefs } from "pinia";
import { computed, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { BatchRecord } from "@/contract";
import DropPanel from "@/panels/intake/DropPanel.vue";
import PostedFiles from "@/panels/intake/PostedFiles.vue";
import StagedFiles from "@/panels/intake/StagedFiles.vue";
import WaitingList from "@/panels/intake/WaitingList.vue";
import Trouble from "@/parts/Trouble.vue";
import { useIntake } from "@/state/intake";
import { useLedgers } from "@/state/ledgers";
import { usePostings } from "@/state/postings";

const { count, grouped } = useNumbers();

/** Milliseconds between looks for files that came into the inbox. */
const LOOK_AGAIN = 5000;
const route = useRoute();
const router = useRouter();
const ledgers = useLedgers();
const intake = useIntake();
const postings = usePostings();
const { open } = storeToRefs(ledgers);
const { waiting, staging, replacement, doing, posted, busy, failure } = storeToRefs(intake);
const { batches, failure: refused } = storeToRefs(postings);
const trouble = ref("");
const held = ref<File[]>([]);
const sentence = computed(() => trouble.value || failure.value?.message || refused.value?.message || "");
const replaced = computed(() => batches.value.filter((one) => replacement.value.replaces.includes(one.id)));

watch(
  () => route.fullPath,
  async () => {
    if (route.path !== "/intake") return;
    try {
      await ledgers.choose(
        typeof route.query.ledger === "string" ? route.query.ledger : (open.value?.name ?? null),
      );
    } catch (error) {
      trouble.value = error instanceof Error ? error.message : String(error);
    }
  },
  { immediate: true },
);
useIntervalFn(() => {
  if (open.value && !staging.value && !busy.value) void intake.readWaiting(open.value.name);
}, LOOK_AGAIN);
watch(
  () => open.value?.name,
  (name) => {
    if (!name) return;
    if (staging.value && staging.value.ledger !== name) intake.putAside();
    void postings.refresh(name);
    void intake.readWaiting(name);
    if (held.value.length) void drop(held.value);
  },
  { immediate: true },
);

/** Files that came before their ledger was there wait for it. */
async function drop(files: File[]): Promise<void> {
  held.value = open.value ? [] : files;
  if (open.value) await intake.drop(open.value.name, files);
}

async function putAside(): Promise<void> {
  intake.putAside();
  if (open.value) await intake.readWaiting(open.value.name);
}

async function post(): Promise<void> {
  await intake.post();
  if (!open.value || failure.value) return;
  await refresh();
  await intake.readWaiting(open.value.name);
}

/** Everything that a new version changes on this page. */
async function refresh(): Promise<void> {
  if (!open.value) return;
  await ledgers.refresh();
  await ledgers.choose(open.value.name);
  await postings.refresh(open.value.name);
}

function replace(batch: BatchRecord): void {
  void intake.place({ replaces: [batch.id], first_day: null, last_day: null });
}

function toFigures(): void {
  if (open.value) void router.push({ path: "/figures", query: { ledger: open.value.name } });
}
</script>

<template>
  <div class="page">
    <h1 class="hidden">Intake</h1>
    <Trouble v-if="sentence" :message="sentence" />
    <template v-if="!staging">
      <p v-if="replacement.replaces.length" class="replacing" role="status" data-test="replacing">
        The next files take the place of
        <strong v-for="each in replaced" :key="each.id"
          >{{ each.file }} ({{ count(each.lines, "line") }}, {{ grouped(each.amount) }})</strong
        >.
        <ElButton link @click="intake.putAside()">Do not replace</ElButton>
      </p>
      <DropPanel
        :busy="busy"
        :doing="doing"
        :posted="posted"
        :look="intake.previewDatabase"
        @files="drop"
        @fetch="(url, query) => open && intake.fetchDatabase(open.name, url, query)"
        @stop="intake.stop"
        @figures="toFigures"
      />
      <WaitingList
        v-if="waiting.length && !busy"
        :waiting="waiting"
        @open="intake.open"
        @discard="intake.discard"
      />
    </template>
    <StagedFiles v-else :batches="batches" @post="post" @aside="putAside" />
    <PostedFiles
      :ledger="open?.name ?? ''"
      :busy="!!busy"
      :sought="Number(route.query.batch) || null"
      @changed="refresh"
      @replace="replace"
    />
  </div>
</template>

<style scoped>
.page {
  position: relative;
  scroll-padding-bottom: 64px;
  height: 100%;
  padding: 12px 18px;
  display: flex;
  flex-direction: column;
  gap: 12px;
  overflow-y: auto;
}
.replacing {
  margin: 0;
  background: var(--warn);
  padding: 6px 12px;
}
</style>
