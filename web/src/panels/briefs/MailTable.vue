<script setup lang="ts">
/** Every message and what became of it. */
import type { MailLog, MailRecord } from "@/contract";
import { sendAgain } from "@/state/briefs";
import { MAIL_STATES } from "@/words/briefs";

defineProps<{ log: MailLog | null }>();

function timeText(at: string): string {
  return new Date(at).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });
}
function told(mail: MailRecord): string {
  if (mail.state === "sent" && mail.ended_at) return timeText(mail.ended_at);
  if (mail.state === "waiting" && mail.attempts) return `${mail.said} Next try ${timeText(mail.next_at)}.`;
  return mail.said;
}
</script>

<template>
  <ElTable
    :data="log?.mails ?? []"
    size="small"
    max-height="260"
    empty-text="Nothing was sent yet"
    data-test="mail-log"
  >
    <ElTableColumn label="To" min-width="130">
      <template #default="{ row }">{{
        (row as MailRecord).mail.name || (row as MailRecord).mail.address
      }}</template>
    </ElTableColumn>
    <ElTableColumn label="State" width="86">
      <template #default="{ row }"
        ><span :class="{ adverse: ['given_up', 'unsure'].includes((row as MailRecord).state) }">{{
          MAIL_STATES[(row as MailRecord).state]
        }}</span></template
      >
    </ElTableColumn>
    <ElTableColumn label="" min-width="120">
      <template #default="{ row }">
        {{ told(row as MailRecord) }}
        <ElButton
          v-if="['given_up', 'unsure'].includes((row as MailRecord).state)"
          link
          @click="sendAgain((row as MailRecord).id)"
          >Send again</ElButton
        >
      </template>
    </ElTableColumn>
  </ElTable>
</template>
