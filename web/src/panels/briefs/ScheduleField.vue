<script setup lang="ts">
/** When an issue is published and handed out by itself, in the ledger's zone and by its holidays. */
import Option from "@/parts/Option.vue";
import { ref, watch } from "vue";
import { useDays } from "@/composables/dates";
import type { LedgerDescription, Schedule } from "@/contract";
import Count from "@/parts/Count.vue";
import { nextMoment } from "@/state/briefs";
import { WEEKDAYS } from "@/words/calendar";
import { SCHEDULES } from "@/words/briefs";

const props = defineProps<{ schedule: Schedule; paused: boolean; ledger: LedgerDescription; zone: string }>();
const emit = defineEmits<{ change: [schedule: Schedule] }>();
const { dayText } = useDays();
const times = Array.from({ length: 48 }, (_, at) => {
  const hour = String(Math.floor(at / 2)).padStart(2, "0");
  return `${hour}:${at % 2 ? "30" : "00"}`;
});

function set(values: Partial<Schedule>): void {
  emit("change", { ...props.schedule, ...values });
}

const next = ref<string | null>(null);
watch(
  () => [props.schedule, props.paused],
  async () => {
    next.value = null;
    if (props.schedule.kind === "none" || props.paused) return;
    next.value = await nextMoment(props.ledger.name, props.schedule).catch(() => null);
  },
  { immediate: true },
);
function momentText(at: string): string {
  const moment = new Date(at);
  const timeZone = props.zone;
  const time = moment.toLocaleTimeString(undefined, { hour: "2-digit", minute: "2-digit", timeZone });
  return `${dayText(moment.toLocaleDateString("en-CA", { timeZone }))}, ${time} (${timeZone})`;
}
</script>

<template>
  <div class="schedule">
    <ElSelect
      :model-value="schedule.kind"
      aria-label="When"
      data-test="schedule-kind"
      @change="(kind: Schedule['kind']) => set({ kind })"
    >
      <Option v-for="(words, kind) in SCHEDULES" :key="kind" :value="kind" :label="words" />
    </ElSelect>
    <ElSelect
      v-if="schedule.kind === 'weekly'"
      :model-value="schedule.weekdays"
      multiple
      aria-label="Days of the week"
      @change="(weekdays: number[]) => set({ weekdays: [...weekdays].sort() })"
    >
      <Option v-for="(day, at) in WEEKDAYS" :key="day" :value="at" :label="day" />
    </ElSelect>
    <Count
      v-if="schedule.kind === 'month_day'"
      :model-value="schedule.day"
      :min="1"
      :max="31"
      aria-label="Day of the month"
      @update:model-value="(day: number | undefined) => day && set({ day })"
    />
    <ElSelect
      v-if="['weekly', 'month_day', 'first_working_day'].includes(schedule.kind)"
      :model-value="schedule.time"
      filterable
      aria-label="Time of day"
      data-test="schedule-time"
      @change="(time: string) => set({ time })"
    >
      <Option v-for="each in times" :key="each" :value="each" :label="each" />
    </ElSelect>
    <ElSelect
      v-if="schedule.kind === 'posted' || schedule.kind === 'complete'"
      :model-value="schedule.feed"
      clearable
      placeholder="any feed"
      aria-label="Feed"
      @change="(feed: string) => set({ feed: feed ?? '' })"
    >
      <Option v-for="each in ledger.feeds" :key="each.feed" :value="each.feed" :label="each.feed" />
    </ElSelect>
    <small v-if="next" data-test="next-due">Next: {{ momentText(next) }}</small>
  </div>
</template>

<style scoped>
.schedule {
  display: grid;
  gap: 4px;
  width: 100%;
}
small {
  color: var(--quiet);
}
</style>
