<script setup lang="ts">
/** What managers see: the issues of one brief, without the tools, on any width. */
import { computed, ref, shallowRef, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { useDays } from "@/composables/dates";
import type { ListedBrief } from "@/contract";
import IssueView from "@/panels/briefs/IssueView.vue";
import Trouble from "@/parts/Trouble.vue";
import { briefOf } from "@/state/briefs";

const route = useRoute();
const router = useRouter();
const { dayText } = useDays();
const found = shallowRef<ListedBrief | null>(null);
const trouble = ref("");
const number = computed(() => Number(route.params.issue) || found.value?.issues[0]?.number || 0);
const issue = computed(() => found.value?.issues.find((each) => each.number === number.value) ?? null);
const place = computed(() => Number(route.query.place) || 0);

watch(
  () => route.params.brief,
  async (brief) => {
    if (!route.path.startsWith("/read/")) return;
    trouble.value = "";
    try {
      found.value = await briefOf(Number(brief));
    } catch (error) {
      trouble.value = error instanceof Error ? error.message : String(error);
    }
  },
  { immediate: true },
);
function open(next: number): void {
  void router.push({ path: `/read/${route.params.brief as string}/${next}` });
}
</script>

<template>
  <div class="read" data-test="read-page">
    <Trouble v-if="trouble" :message="trouble" />
    <template v-if="found">
      <div class="which">
        <h1>{{ found.kept.brief.name }}</h1>
        <ElSelect
          v-if="found.issues.length"
          :model-value="number"
          aria-label="Issue"
          data-test="read-issue"
          @change="open"
        >
          <ElOption
            v-for="each in found.issues"
            :key="each.id"
            :value="each.number"
            :label="`Issue ${each.number} · ${each.title}`"
          />
        </ElSelect>
      </div>
      <p v-if="issue?.restated" class="note" data-test="read-restated">
        {{ issue.restated }} figures of this issue would be different today. It stays as it was published on
        {{ dayText(issue.published_at.slice(0, 10)) }}.
      </p>
      <IssueView
        v-if="issue"
        :key="issue.id"
        :issue="issue.id"
        :place="place"
        reads
        @place="(next) => router.push({ path: route.path, query: next ? { place: String(next) } : {} })"
      />
      <ElEmpty
        v-else
        :description="found.issues.length ? 'There is no such issue' : 'No issue is published yet'"
      >
        <ElButton v-if="found.issues[0]" @click="open(found.issues[0].number)">Open the newest</ElButton>
      </ElEmpty>
    </template>
  </div>
</template>

<style scoped>
.read {
  display: flex;
  flex-direction: column;
  gap: 8px;
  height: 100%;
  padding: 12px max(12px, calc(50vw - 620px));
  overflow: hidden auto;
}
.which {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
  align-items: center;
  justify-content: space-between;
}
h1 {
  font: 600 1.125rem/1.3 var(--serif);
  margin: 0;
}
.which :deep(.el-select) {
  width: min(360px, 100%);
}
.note {
  margin: 0;
  padding: 6px 10px;
  background: var(--warn);
  font-size: var(--size-note);
}
</style>
