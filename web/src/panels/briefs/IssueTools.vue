<script setup lang="ts">
/** What can be done with an issue: the living page, files, copies, handing it out. */
import Option from "@/parts/Option.vue";
import { onScopeDispose, ref, shallowRef, watch } from "vue";
import type { IssueOpened, MailLog } from "@/contract";
import IssueFiles from "@/panels/briefs/IssueFiles.vue";
import MailTable from "@/panels/briefs/MailTable.vue";
import { handOut, watchMails } from "@/state/briefs";

const props = defineProps<{ opened: IssueOpened; place: number; reads?: boolean }>();
const emit = defineEmits<{ living: [block: number]; place: [place: number]; trouble: [words: string] }>();
const log = shallowRef<MailLog | null>(null);
const said = ref("");
let stop: (() => void) | undefined;
watch(
  () => props.opened.record.id,
  (issue) => {
    stop?.();
    said.value = "";
    if (!props.reads) stop = watchMails(props.opened.ledger, issue, (mails) => (log.value = mails));
  },
  { immediate: true },
);
onScopeDispose(() => stop?.());

async function hand(): Promise<void> {
  said.value = "";
  emit("trouble", "");
  try {
    const count = await handOut(props.opened.record.id, null);
    said.value = count ? `${count} on the way.` : "Everybody has it already.";
  } catch (error) {
    emit("trouble", error instanceof Error ? error.message : String(error));
  }
}
</script>

<template>
  <div class="tools">
    <ElDropdown trigger="click" @command="(block: number) => emit('living', block)">
      <ElButton data-test="living-page">Open the living page</ElButton>
      <template #dropdown>
        <ElDropdownMenu>
          <ElDropdownItem
            v-for="(block, at) in opened.blocks"
            :key="at"
            :command="at"
            :data-test="`living-${at}`"
            >{{ block.title || block.caption }}</ElDropdownItem
          >
        </ElDropdownMenu>
      </template>
    </ElDropdown>
    <IssueFiles :issue="opened.record.id" :place="place" />
    <ElSelect
      v-if="opened.record.copies.length > 1"
      :model-value="place"
      class="copies"
      aria-label="Whose copy"
      data-test="issue-copy"
      @change="(next: number) => emit('place', next)"
    >
      <Option
        v-for="each in opened.record.copies"
        :key="each.place"
        :value="each.place"
        :label="each.place ? each.label : 'the whole'"
      />
    </ElSelect>
    <span class="checksum" :title="`The content agrees with its checksum ${opened.record.checksum}`"
      >✓ as published, {{ opened.record.checksum.slice(0, 12) }}</span
    >
    <span v-if="said" role="status">{{ said }}</span>
    <ElPopover v-if="!reads" trigger="click" :width="460" placement="bottom-end">
      <template #reference><ElButton data-test="issue-mails">Hand out</ElButton></template>
      <ElButton type="primary" size="small" data-test="hand-out" @click="hand"
        >Send it to its people</ElButton
      >
      <MailTable :log="log" />
    </ElPopover>
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
.copies {
  width: 170px;
}
.checksum {
  margin-left: auto;
  color: var(--quiet);
  font-size: var(--size-note);
}
@media (width < 700px) {
  .checksum {
    margin-left: 0;
  }
}
</style>
