<script setup lang="ts">
/** How issues are handed out: to whom, with what subject, and when by themselves. */
import { computed, ref, watch } from "vue";
import { useDays } from "@/composables/dates";
import type { CopyMember, Handing, LedgerDescription, MailLog, Person, Schedule } from "@/contract";
import Count from "@/parts/Count.vue";
import Field from "@/parts/Field.vue";
import Trouble from "@/parts/Trouble.vue";
import { nextMoment, testMail } from "@/state/briefs";
import { WEEKDAYS } from "@/words/calendar";
import { PLACEHOLDERS, SCHEDULES } from "@/words/briefs";

const props = defineProps<{
  handing: Handing;
  ledger: LedgerDescription;
  copies: string;
  members: CopyMember[];
  about: MailLog["about"] | null;
  brief: number;
}>();
const emit = defineEmits<{ change: [handing: Handing]; members: [] }>();
const { dayText } = useDays();
const address = ref("");
const name = ref("");
const trouble = ref("");
const said = ref("");
const schedule = computed(() => props.handing.schedule);
const times = Array.from({ length: 48 }, (_, at) => {
  const hour = String(Math.floor(at / 2)).padStart(2, "0");
  return `${hour}:${at % 2 ? "30" : "00"}`;
});

function set(values: Partial<Handing>): void {
  emit("change", { ...props.handing, ...values });
}
function setSchedule(values: Partial<Schedule>): void {
  set({ schedule: { ...schedule.value, ...values } });
}
function addPerson(): void {
  trouble.value = "";
  if (!/^[^@\s]+@[^@\s]+$/.test(address.value.trim())) {
    trouble.value = "Write an address such as name@example.com.";
    return;
  }
  set({
    people: [...props.handing.people, { address: address.value.trim(), name: name.value.trim(), copies: [] }],
  });
  [address.value, name.value] = ["", ""];
}
function setPerson(at: number, person: Person | null): void {
  const people = props.handing.people.flatMap((each, place) =>
    place === at ? (person ? [person] : []) : [each],
  );
  set({ people });
}
async function test(): Promise<void> {
  trouble.value = said.value = "";
  try {
    await testMail(props.ledger.name, address.value.trim() || (props.handing.people[0]?.address ?? ""));
    said.value = "The test is on its way: the log below tells whether it was taken.";
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error);
  }
}

const next = ref<string | null>(null);
watch(
  () => [schedule.value, props.handing.paused],
  async () => {
    next.value = null;
    if (schedule.value.kind === "none" || props.handing.paused) return;
    next.value = await nextMoment(props.ledger.name, schedule.value).catch(() => null);
  },
  { immediate: true },
);
function momentText(at: string): string {
  const moment = new Date(at);
  const time = moment.toLocaleTimeString(undefined, {
    hour: "2-digit",
    minute: "2-digit",
    timeZone: props.ledger.time_zone,
  });
  const day = moment.toLocaleDateString("en-CA", { timeZone: props.ledger.time_zone });
  return `${dayText(day)}, ${time} (${props.ledger.time_zone})`;
}
</script>

<template>
  <div class="handing" data-test="handing">
    <p v-if="about && !about.real" class="note" data-test="mail-caught">
      No mail server is set: mail is kept as files in {{ about.place }}. LOFTY_MAIL names one.
    </p>
    <ElForm label-position="top" size="small" @submit.prevent>
      <ElFormItem label="People">
        <div class="people">
          <div v-for="(person, at) in handing.people" :key="person.address" class="person" data-test="person">
            <span
              >{{ person.name || person.address
              }}<small v-if="person.name"> {{ person.address }}</small></span
            >
            <ElSelect
              v-if="copies"
              :model-value="person.copies as string[]"
              multiple
              collapse-tags
              placeholder="the whole"
              :aria-label="`Copies for ${person.address}`"
              @visible-change="(now: boolean) => now && emit('members')"
              @change="(chosen: string[]) => setPerson(at, { ...person, copies: chosen })"
            >
              <ElOption
                v-for="each in members"
                :key="String(each.key)"
                :value="each.key ?? ''"
                :label="each.label"
              />
            </ElSelect>
            <ElButton link :aria-label="`Take ${person.address} away`" @click="setPerson(at, null)"
              >✕</ElButton
            >
          </div>
          <div class="person">
            <ElInput
              v-model="address"
              placeholder="name@example.com"
              aria-label="Address"
              data-test="new-address"
            />
            <ElInput v-model="name" placeholder="name" aria-label="Name" data-test="new-name" />
            <ElButton data-test="add-person" @click="addPerson">Add</ElButton>
          </div>
          <Trouble v-if="trouble" :message="trouble" />
        </div>
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
        <ElInput
          :model-value="handing.message"
          type="textarea"
          :autosize="{ minRows: 1, maxRows: 5 }"
          aria-label="Message"
          @change="(message: string) => set({ message })"
        />
      </ElFormItem>
      <ElFormItem label="Publish and hand out">
        <ElSelect
          :model-value="schedule.kind"
          aria-label="When"
          data-test="schedule-kind"
          @change="(kind: Schedule['kind']) => setSchedule({ kind })"
        >
          <ElOption v-for="(words, kind) in SCHEDULES" :key="kind" :value="kind" :label="words" />
        </ElSelect>
        <div class="when">
          <ElSelect
            v-if="schedule.kind === 'weekly'"
            :model-value="schedule.weekdays"
            multiple
            aria-label="Days of the week"
            @change="(weekdays: number[]) => setSchedule({ weekdays: [...weekdays].sort() })"
          >
            <ElOption v-for="(day, at) in WEEKDAYS" :key="day" :value="at" :label="day" />
          </ElSelect>
          <Count
            v-if="schedule.kind === 'month_day'"
            :model-value="schedule.day"
            :min="1"
            :max="31"
            aria-label="Day of the month"
            @update:model-value="(day: number | undefined) => day && setSchedule({ day })"
          />
          <ElSelect
            v-if="['weekly', 'month_day', 'first_working_day'].includes(schedule.kind)"
            :model-value="schedule.time"
            filterable
            aria-label="Time of day"
            data-test="schedule-time"
            @change="(time: string) => setSchedule({ time })"
          >
            <ElOption v-for="each in times" :key="each" :value="each" :label="each" />
          </ElSelect>
          <ElSelect
            v-if="schedule.kind === 'posted' || schedule.kind === 'complete'"
            :model-value="schedule.feed"
            clearable
            placeholder="any feed"
            aria-label="Feed"
            @change="(feed: string) => setSchedule({ feed: feed ?? '' })"
          >
            <ElOption v-for="each in ledger.feeds" :key="each.feed" :value="each.feed" :label="each.feed" />
          </ElSelect>
        </div>
        <small v-if="next" data-test="next-due">Next: {{ momentText(next) }}</small>
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
      <ElButton link data-test="test-mail" @click="test">Send a test</ElButton>
      · <a :href="`/api/briefs/${brief}/feed.atom`">Feed (Atom)</a> ·
      <a :href="`/read/${brief}`" data-test="reader-address">The newest issue for readers</a>
    </p>
    <p v-if="said" role="status">{{ said }}</p>
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
.people {
  display: grid;
  gap: 4px;
  width: 100%;
}
.person {
  display: flex;
  gap: 6px;
  align-items: center;
  justify-content: space-between;
  line-height: 1.3;
}
.when {
  display: flex;
  gap: 6px;
  width: 100%;
  margin-top: 4px;
}
.note {
  background: var(--warn);
  padding: 6px 8px;
  font-size: var(--size-note);
  margin: 0;
  overflow-wrap: anywhere;
}
p {
  margin: 0;
}
</style>
