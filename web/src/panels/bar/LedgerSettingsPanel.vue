<script setup lang="ts">
/** What a ledger is counted by: currency, zone, calendar, as-of date, coverage, and what its columns mean. */
import Count from "@/parts/Count.vue";
import Day from "@/parts/Day.vue";
import Option from "@/parts/Option.vue";
import { meaningsOf } from "@/model/meanings";
import { capital, dimensionName } from "@/words/names";
import { computed, ref, watch } from "vue";
import type { LedgerDescription, LedgerSettings } from "@/contract";
import LedgerAway from "@/panels/bar/LedgerAway.vue";
import Trouble from "@/parts/Trouble.vue";
import { MONTHS, WEEKDAYS } from "@/words/calendar";
import { LINE_GRAINS } from "@/words/intake";
import { fieldTroubles } from "@/words/ledger";

const props = defineProps<{
  ledger: LedgerDescription;
  settings: LedgerSettings;
  save: (next: LedgerSettings) => Promise<void>;
}>();
const emit = defineEmits<{ close: [] }>();

const next = ref<LedgerSettings>(JSON.parse(JSON.stringify(props.settings)));
const said = ref<Record<string, string>>({});
const trouble = ref("");

watch(
  () => props.ledger,
  (ledger) => (said.value = meaningsOf(ledger)),
  { immediate: true },
);

/** What is wrong with a field is told at it. */
const wrong = computed(() =>
  fieldTroubles({ name: next.value.name, currency: next.value.currency, zone: next.value.time_zone }),
);

async function confirm(): Promise<void> {
  trouble.value = "";
  if (Object.values(wrong.value).some(Boolean)) return;
  const descriptions = Object.entries(said.value).map(([name, text]) => ({ name, text }));
  try {
    await props.save({ ...next.value, descriptions });
    emit("close");
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error);
  }
}

function asOf(day: string): void {
  next.value.as_of = day ? { kind: "pinned", day } : { kind: "last_posted" };
}
</script>

<template>
  <form class="settings" data-test="settings" @submit.prevent="confirm">
    <Trouble v-if="trouble" :message="trouble" />
    <div class="grid">
      <label
        >Name <ElInput v-model="next.name" maxlength="80" data-test="setting-name" /><small
          v-if="wrong.name"
          class="adverse"
          role="alert"
          >{{ wrong.name }}</small
        ></label
      >
      <label
        >Currency
        <ElInput v-model="next.currency" style="width: 9ch" maxlength="3" data-test="setting-currency" />
        <small v-if="wrong.currency" class="adverse" role="alert" data-test="wrong-currency">{{
          wrong.currency
        }}</small></label
      >
      <label
        >Time zone <ElInput v-model="next.time_zone" data-test="setting-zone" /><small
          v-if="wrong.zone"
          class="adverse"
          role="alert"
          >{{ wrong.zone }}</small
        ></label
      >
      <label
        >Each line is known
        <ElSelect v-model="next.line_grain" data-test="setting-grain">
          <Option v-for="(label, key) in LINE_GRAINS" :key="key" :value="key" :label="label" /> </ElSelect
      ></label>
      <label
        >Decimals of amounts
        <Count v-model="next.amount_decimals" :min="0" :max="9" data-test="setting-decimals"
      /></label>
      <label>of quantities <Count v-model="next.quantity_decimals" :min="0" :max="9" /></label>
      <label
        >The fiscal year starts in
        <ElSelect v-model="next.calendar.fiscal_start_month" data-test="setting-fiscal">
          <Option v-for="(name, at) in MONTHS" :key="name" :value="at + 1" :label="name" /> </ElSelect
      ></label>
      <label
        >and is named after the year in which it
        <ElSelect v-model="next.calendar.fiscal_year_named">
          <Option value="end" label="ends" />
          <Option value="start" label="starts" /> </ElSelect
      ></label>
      <label
        >Weeks start on
        <ElSelect v-model="next.calendar.week_start">
          <Option v-for="(name, at) in WEEKDAYS" :key="name" :value="at" :label="name" /> </ElSelect
      ></label>
      <ElCheckbox v-model="next.calendar.month_end_rule"
        >the last day of a month is compared with the last day of the other</ElCheckbox
      >
      <label v-if="ledger.days.length"
        >New statements count by
        <ElSelect v-model="next.usual_day" data-test="setting-day">
          <Option value="" label="the day that lines are posted with" />
          <Option
            v-for="each in ledger.days"
            :key="each.name"
            :value="each.name"
            :label="capital(dimensionName(each.name))"
          /> </ElSelect
      ></label>
      <label
        >New statements count up to
        <Day
          :model-value="next.as_of.kind === 'pinned' ? next.as_of.day : ''"
          aria-describedby="as-of-note"
          @change="asOf($event)"
        />
        <small id="as-of-note" class="quiet">no date: the last posted day</small></label
      >
    </div>
    <h3 v-if="next.coverage.length">The files are complete</h3>
    <p v-for="feed in next.coverage" :key="feed.feed" class="feed">
      <strong>{{ feed.feed }}</strong>
      <label>from <Day v-model="feed.covers_from" :data-test="`covers-from-${feed.feed}`" /></label>
      <label>up to <Day v-model="feed.covers_through" :data-test="`covers-through-${feed.feed}`" /></label>
      <small class="quiet">no date: as far as there are lines</small>
    </p>
    <h3>What its columns mean</h3>
    <div class="grid">
      <label v-for="name in Object.keys(said)" :key="name"
        >{{ dimensionName(name) }}
        <ElInput
          v-model="said[name]"
          maxlength="400"
          placeholder="whose, of what, with or without …"
          :data-test="`describe-${name}`"
      /></label>
    </div>
    <p class="quiet">
      Files put into <code>{{ ledger.inbox }}</code> wait here to be confirmed.
    </p>
    <LedgerAway :ledger="ledger" @gone="emit('close')" @failed="(message) => (trouble = message)" />
    <p>
      <ElButton native-type="submit" type="primary" data-test="save-settings">Save</ElButton>
      <ElButton link @click="emit('close')">Cancel</ElButton>
    </p>
  </form>
</template>

<style scoped>
h3 {
  font-size: 0.875rem;
  margin: 6px 0;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  gap: 6px 18px;
}
.grid label:not(.el-checkbox) {
  display: grid;
  grid-template-columns: 128px minmax(0, 1fr);
  gap: 6px;
  align-items: center;
}
.grid label > small {
  grid-column: 2;
}
.grid :deep(.el-input),
.grid :deep(.el-select) {
  width: 100%;
}
.feed {
  display: flex;
  gap: 12px;
  margin: 3px 0;
  align-items: center;
}
code {
  overflow-wrap: anywhere;
}
</style>
