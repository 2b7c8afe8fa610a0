<script setup lang="ts">
/** The as-of date: a day that is pinned, or one that moves with time. */
import Day from "@/parts/Day.vue";
import Option from "@/parts/Option.vue";
import type { CalendarSettings, Statement } from "@/contract";
import DayCalendar from "@/parts/calendar/DayCalendar.vue";
import { ref, watch } from "vue";
import { POLICIES } from "@/words/calendar";

const props = defineProps<{
  asOf: string | null;
  policy: Statement["as_of"];
  settings: CalendarSettings;
  /** What the window would come to at a day. */
  tell: (day: string) => Promise<string>;
}>();
const emit = defineEmits<{ pin: [day: string]; follow: [policy: Statement["as_of"]] }>();
const day = ref(props.asOf ?? "");
watch(
  () => props.asOf,
  (next) => (day.value = next ?? ""),
);

function pin(): void {
  if (/^\d{4}-\d{2}-\d{2}$/.test(day.value)) emit("pin", day.value);
}
</script>

<template>
  <form @submit.prevent="pin">
    <Day v-model="day" aria-label="As-of date" data-test="as-of-day" />
    <ElButton native-type="submit" data-test="as-of-pin">Pin this day</ElButton>
  </form>
  <label
    >Follow
    <ElSelect
      :model-value="POLICIES.findIndex((each) => JSON.stringify(each.policy) === JSON.stringify(policy))"
      data-test="as-of-policy"
      @change="
        (at: number) => {
          const chosen = POLICIES[at];
          if (chosen) emit('follow', chosen.policy);
        }
      "
    >
      <Option :value="-1" label="no day: it is pinned" />
      <Option v-for="(each, at) in POLICIES" :key="each.words" :value="at" :label="each.words" /> </ElSelect
  ></label>
  <DayCalendar
    v-if="asOf"
    single
    :settings="settings"
    :day="asOf"
    :chosen="asOf"
    :tell="(key) => tell(key)"
    @day="(taken) => emit('pin', taken)"
  />
</template>

<style scoped>
form {
  display: flex;
  gap: 6px;
}
label {
  display: block;
  padding: 6px 0 0;
}
</style>
