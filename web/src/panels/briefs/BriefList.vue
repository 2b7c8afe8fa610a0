<script setup lang="ts">
/** The briefs of the ledger: each with its draft and its issues, and what was restated of the one that is open. */
import Option from "@/parts/Option.vue";
import { Plus } from "@element-plus/icons-vue";
import { computed } from "vue";
import { useDays } from "@/composables/dates";
import type { Briefs, IssueRecord } from "@/contract";
import { scheduleWords } from "@/words/briefs";

const props = defineProps<{ list: Briefs; brief: number | null; issue: number | null; restated: string }>();
const emit = defineEmits<{
  open: [brief: number, issue: number | null];
  make: [];
  compare: [];
}>();
const { dayText } = useDays();
const listed = computed(() => props.list.briefs.find((each) => each.kept.id === props.brief) ?? null);
const next = computed(() => (listed.value?.issues[0]?.number ?? 0) + 1);

function published(issue: IssueRecord): string {
  return `published ${dayText(issue.published_at.slice(0, 10))}`;
}
</script>

<template>
  <aside class="list" aria-label="Briefs" data-test="brief-list">
    <div class="head">
      <ElSelect
        v-if="list.briefs.length > 1"
        :model-value="brief ?? ''"
        aria-label="Brief"
        data-test="choose-brief"
        @change="(number: number) => emit('open', number, null)"
      >
        <Option
          v-for="each in list.briefs"
          :key="each.kept.id"
          :value="each.kept.id"
          :label="each.kept.brief.name"
        />
      </ElSelect>
      <h2 v-else>{{ listed?.kept.brief.name ?? "Briefs" }}</h2>
      <ElTooltip content="A new brief" :show-after="400">
        <ElButton text :icon="Plus" aria-label="New brief" data-test="new-brief" @click="emit('make')" />
      </ElTooltip>
    </div>
    <nav v-if="listed" aria-label="Issues">
      <ElButton
        text
        class="entry"
        :class="{ on: issue === null }"
        :aria-current="issue === null ? 'page' : undefined"
        data-test="open-draft"
        @click="emit('open', listed.kept.id, null)"
      >
        <strong>Draft of issue {{ next }}</strong>
        <small>living, {{ scheduleWords(listed.kept.handing.schedule) }}</small>
      </ElButton>
      <ElButton
        v-for="each in listed.issues"
        :key="each.id"
        text
        class="entry"
        :class="{ on: issue === each.id }"
        :aria-current="issue === each.id ? 'page' : undefined"
        :data-test="`open-issue-${each.number}`"
        @click="emit('open', listed.kept.id, each.id)"
      >
        <strong>Issue {{ each.number }} · {{ each.title }}</strong>
        <small
          >{{ published(each)
          }}<template v-if="each.restated">, {{ each.restated }} figures restated</template></small
        >
      </ElButton>
    </nav>
    <p v-if="listed?.kept.trouble" class="note" data-test="schedule-trouble">
      <strong>The issue that was due did not come.</strong> {{ listed.kept.trouble }}
    </p>
    <div v-if="restated" class="note" data-test="restated-note">
      <strong>Restated since.</strong> {{ restated }}
      <ElButton link data-test="then-and-now" @click="emit('compare')">Then and now</ElButton>
    </div>
    <p v-for="each in list.unreadable" :key="each.name" class="note">
      {{ each.name }} is not understood by this version: {{ each.why }}.
    </p>
    <slot />
  </aside>
</template>

<style scoped>
.list {
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-height: 0;
  overflow: hidden auto;
}
.head {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 6px;
}
h2 {
  font-size: var(--size-heading);
  margin: 0;
}
nav {
  display: flex;
  flex-direction: column;
}
.entry {
  display: block;
  height: auto;
  margin: 0;
  padding: 7px 12px;
  text-align: left;
  white-space: normal;
  border-left: 3px solid transparent;
  border-radius: 0;
  line-height: 1.35;
}
.entry :deep(> span) {
  display: block;
}
.entry :deep(small) {
  margin: 0;
}
.entry.on {
  border-color: var(--window-0);
  background: var(--window-soft-0);
}
.entry strong {
  display: block;
  font-weight: 600;
}
small {
  display: block;
  color: var(--quiet);
  font-size: var(--size-note);
}
.note {
  margin: 0;
  padding: 8px 10px;
  background: var(--warn);
  font-size: var(--size-note);
  border-radius: 3px;
  overflow-wrap: anywhere;
}
.note :deep(.el-button) {
  font-size: inherit;
  text-decoration: underline;
}
</style>
