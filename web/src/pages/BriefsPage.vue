<script setup lang="ts">
/** Briefs: what managers get. The address holds which brief, which issue and whose copy. */
import { storeToRefs } from "pinia";
import { computed, onScopeDispose, ref, shallowRef, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { Restatement } from "@/contract";
import AlertsPanel from "@/panels/briefs/AlertsPanel.vue";
import BriefList from "@/panels/briefs/BriefList.vue";
import DraftView from "@/panels/briefs/DraftView.vue";
import IssueView from "@/panels/briefs/IssueView.vue";
import ThenAndNow from "@/panels/briefs/ThenAndNow.vue";
import Trouble from "@/parts/Trouble.vue";
import { restated, useBriefs } from "@/state/briefs";
import { useLedgers } from "@/state/ledgers";
import { usePerson } from "@/state/person";

const route = useRoute();
const router = useRouter();
const ledgers = useLedgers();
const briefs = useBriefs();
usePerson();
const { open } = storeToRefs(ledgers);
const { list, id, refused } = storeToRefs(briefs);
const trouble = ref("");
const number = (name: string): number | null => {
  const text = route.query[name];
  return typeof text === "string" && /^\d+$/.test(text) ? Number(text) : null;
};
const issue = computed(() => number("issue"));
const place = computed(() => number("place") ?? 0);

let stop: (() => void) | undefined;
/** The ledger whose briefs are listed: until they are, nothing is said of how many there are. */
const listed = ref("");
watch(
  () => route.fullPath,
  async () => {
    if (route.path !== "/briefs") return;
    trouble.value = "";
    try {
      await ledgers.choose(typeof route.query.ledger === "string" ? route.query.ledger : null);
      if (!open.value) return;
      const { name } = open.value;
      if (listed.value !== name) {
        stop?.();
        await briefs.refresh(name);
        stop = briefs.watchList(name);
        listed.value = name;
      }
      const wanted = number("brief") ?? list.value.briefs[0]?.kept.id;
      if (wanted !== undefined) briefs.open(wanted);
    } catch (error) {
      trouble.value = error instanceof Error ? error.message : String(error);
    }
  },
  { immediate: true },
);
onScopeDispose(() => stop?.());

function go(brief: number | null, at: number | null, copy = 0): void {
  const query: Record<string, string> = { ledger: String(open.value?.id ?? "") };
  if (brief !== null) query.brief = String(brief);
  if (at !== null) query.issue = String(at);
  if (copy) query.place = String(copy);
  void router.push({ path: "/briefs", query });
}
async function make(): Promise<void> {
  await briefs.make();
  go(id.value, null);
}
async function forget(): Promise<void> {
  const gone = id.value;
  if (gone === null) return;
  await briefs.forget(gone);
  forgotten.value = gone;
  const next = list.value.briefs[0]?.kept.id ?? null;
  if (next !== null) briefs.open(next);
  go(next, null);
}
const forgotten = ref<number | null>(null);
async function takeBack(): Promise<void> {
  if (forgotten.value === null) return;
  await briefs.takeBack(forgotten.value);
  go(forgotten.value, null);
  forgotten.value = null;
}

/** What was restated of the issue that is open; of a draft, of the newest. */
const found = shallowRef<Restatement | null>(null);
const comparing = ref(false);
const looked = computed(() => issue.value ?? briefs.listed?.issues[0]?.id ?? null);
watch(
  [looked, () => open.value?.version, () => ledgers.newer],
  async ([number_]) => {
    found.value = null;
    if (number_ === null || number_ === undefined) return;
    const restatement = await briefs.attempt(() => restated(number_));
    if (number_ === looked.value) found.value = restatement;
  },
  { immediate: true },
);
</script>

<template>
  <div class="page" data-test="briefs-page" data-guide="briefs">
    <h1 class="hidden">Briefs</h1>
    <BriefList
      :list="list"
      :brief="id"
      :issue="issue"
      :restated="found?.words ?? ''"
      @open="(brief, at) => (briefs.open(brief), go(brief, at))"
      @make="make"
      @compare="comparing = true"
    >
      <p v-if="forgotten" class="quiet">
        The brief is kept no more.
        <ElButton link data-test="take-back-brief" @click="takeBack">Take it back</ElButton>
      </p>
      <AlertsPanel v-if="open" :ledger="open" />
    </BriefList>
    <div class="main">
      <Trouble v-if="trouble || (refused && issue !== null)" :message="trouble || refused" />
      <IssueView v-if="issue !== null" :issue="issue" :place="place" @place="(next) => go(id, issue, next)" />
      <ElEmpty
        v-else-if="open && listed === open.name && !list.briefs.length"
        description="No brief is kept in this ledger yet"
      >
        <ElButton type="primary" data-test="first-brief" @click="make">Put one together</ElButton>
      </ElEmpty>
      <DraftView
        v-else-if="open && id !== null"
        :key="id"
        :ledger="open"
        @published="(at) => go(id, at)"
        @forget="forget"
      />
    </div>
    <ThenAndNow v-model="comparing" :found="found" />
  </div>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: 232px minmax(0, 1fr);
  gap: 16px;
  height: 100%;
  padding: 12px 18px;
  overflow: hidden;
}
.main {
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-height: 0;
}
.main > :deep(.draft),
.main > :deep(.issue) {
  flex: 1;
}
@media (width < 1100px) {
  .page {
    grid-template-columns: 196px minmax(0, 1fr);
    gap: 12px;
    padding: 10px 12px;
  }
}
</style>
