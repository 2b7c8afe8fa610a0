<script setup lang="ts">
/** How issues are handed out: to whom, with what subject, and when by themselves. */
import { ref } from "vue";
import type { CopyMember, Handing, LedgerDescription, MailLog } from "@/contract";
import PeopleField from "@/panels/briefs/PeopleField.vue";
import ScheduleField from "@/panels/briefs/ScheduleField.vue";
import Field from "@/parts/Field.vue";
import Trouble from "@/parts/Trouble.vue";
import { testMail } from "@/state/briefs";
import { PLACEHOLDERS } from "@/words/briefs";

const props = defineProps<{
  handing: Handing;
  ledger: LedgerDescription;
  copies: string;
  members: CopyMember[];
  about: MailLog["about"] | null;
  brief: number;
}>();
const emit = defineEmits<{ change: [handing: Handing] }>();
const trouble = ref("");
const said = ref("");

function set(values: Partial<Handing>): void {
  emit("change", { ...props.handing, ...values });
}
async function test(address: string): Promise<void> {
  trouble.value = said.value = "";
  try {
    await testMail(props.ledger.name, address);
    said.value = "The test is on its way: the log below tells whether it was taken.";
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error);
  }
}
</script>

<template>
  <div class="handing" data-test="handing">
    <p v-if="about && !about.real" class="note" data-test="mail-caught">
      No mail server is set: mail is kept as files in the folder “caught”. LOFTY_MAIL names a server.
    </p>
    <ElForm label-position="top" size="small" @submit.prevent>
      <ElFormItem label="People">
        <PeopleField
          :people="handing.people"
          :copies="copies"
          :members="members"
          @change="(people) => set({ people })"
          @test="test"
        />
        <Trouble v-if="trouble" :message="trouble" />
        <small v-if="said" role="status">{{ said }}</small>
      </ElFormItem>
      <ElFormItem label="Subject">
        <Field
          :value="handing.subject"
          aria-label="Subject"
          data-test="subject"
          @change="(subject) => set({ subject })"
        />
        <small class="quiet">Filled in: {{ PLACEHOLDERS }}</small>
      </ElFormItem>
      <ElFormItem label="Before the text">
        <Field
          :value="handing.message"
          type="textarea"
          :autosize="{ minRows: 1, maxRows: 5 }"
          aria-label="Message"
          @change="(message) => set({ message })"
        />
      </ElFormItem>
      <ElFormItem label="Publish and hand out">
        <ScheduleField
          :schedule="handing.schedule"
          :paused="handing.paused"
          :ledger="ledger"
          :zone="ledger.time_zone"
          @change="(schedule) => set({ schedule })"
        />
      </ElFormItem>
      <ElCheckbox
        :model-value="handing.paused"
        data-test="paused"
        @change="(paused) => set({ paused: !!paused })"
        >Paused: nothing goes out by itself</ElCheckbox
      >
      <ElCheckbox
        :model-value="handing.folder"
        data-test="into-folder"
        @change="(folder) => set({ folder: !!folder })"
        >Put issues into the folder “handed”, too</ElCheckbox
      >
    </ElForm>
    <p class="quiet">
      <a :href="`/read/${brief}`" data-test="reader-address">The newest issue for readers</a> ·
      <a :href="`/api/briefs/${brief}/feed.atom`">Feed (Atom)</a>
    </p>
  </div>
</template>

<style scoped>
.handing {
  display: grid;
  gap: 8px;
}
.handing :deep(.el-form-item) {
  margin-bottom: 10px;
}
.note {
  background: var(--warn);
  padding: 6px 8px;
  font-size: var(--size-note);
  overflow-wrap: anywhere;
}
p {
  margin: 0;
}
a {
  color: inherit;
}
</style>
