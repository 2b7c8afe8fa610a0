<script setup lang="ts">
/** Files become posted lines: drop, read, map, check, place, post. */
import Option from "@/parts/Option.vue";
import { useNumbers } from "@/composables/numbers";
import { useIntervalFn } from "@vueuse/core";
import { storeToRefs } from "pinia";
import { computed, onMounted, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { BatchRecord, LedgerSettings } from "@/contract";
import DropPanel from "@/panels/intake/DropPanel.vue";
import NewLedger from "@/panels/intake/NewLedger.vue";
import PostedFiles from "@/panels/intake/PostedFiles.vue";
import StagedFiles from "@/panels/intake/StagedFiles.vue";
import WaitingList from "@/panels/intake/WaitingList.vue";
import LedgerSettingsPanel from "@/panels/LedgerSettingsPanel.vue";
import Trouble from "@/parts/Trouble.vue";
import { useIntake } from "@/state/intake";
import { useLedgers } from "@/state/ledgers";
import { usePerson } from "@/state/person";
import { usePostings } from "@/state/postings";

const { count, grouped } = useNumbers();

/** Milliseconds between looks for files that came into the inbox. */
const LOOK_AGAIN = 5000;
const route = useRoute();
const router = useRouter();
const ledgers = useLedgers();
const intake = useIntake();
const postings = usePostings();
const person = usePerson();
const { list, open } = storeToRefs(ledgers);
const { waiting, staging, replacement, doing, posted, busy, failure } = storeToRefs(intake);
const { batches, failure: refused } = storeToRefs(postings);
const making = ref(false);
const settings = ref<LedgerSettings | null>(null);
const trouble = ref("");
const sentence = computed(() => trouble.value || failure.value?.message || refused.value?.message || "");
const replaced = computed(() => batches.value.filter((one) => replacement.value.replaces.includes(one.id)));

onMounted(async () => {
  try {
    await ledgers.choose(
      typeof route.query.ledger === "string" ? route.query.ledger : (open.value?.name ?? null),
    );
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error);
  }
});
useIntervalFn(() => {
  if (open.value && !staging.value && !busy.value) void intake.readWaiting(open.value.name);
}, LOOK_AGAIN);
watch(
  () => open.value?.name,
  (name) => {
    if (!name) return;
    settings.value = null;
    void postings.refresh(name);
    void intake.readWaiting(name);
  },
  { immediate: true },
);

async function choose(name: string): Promise<void> {
  intake.putAside();
  await ledgers.choose(name);
}

async function openSettings(): Promise<void> {
  settings.value = settings.value ? null : await ledgers.settings();
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
    <div class="bar">
      <label>
        Post to
        <ElSelect :model-value="open?.name" data-test="intake-ledger" @change="choose($event)">
          <Option v-for="each in list" :key="each.name" :value="each.name" :label="each.name" />
        </ElSelect>
      </label>
      <label
        >as <ElInput v-model="person.name" maxlength="80" placeholder="your name" data-test="person"
      /></label>
      <ElButton link data-test="open-settings" @click="openSettings">Settings</ElButton>
      <ElButton v-if="!making" link data-test="new-ledger" @click="making = true">
        Make a new ledger
      </ElButton>
      <NewLedger v-else :make="ledgers.make" @close="making = false" />
    </div>
    <Trouble v-if="sentence" :message="sentence" />
    <LedgerSettingsPanel
      v-if="settings && open"
      :ledger="open"
      :settings="settings"
      :save="ledgers.changeSettings"
      @close="settings = null"
    />

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
        @files="(files) => open && intake.drop(open.name, files)"
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
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
}
.replacing {
  margin: 0;
  background: var(--warn);
  padding: 6px 12px;
}
</style>
