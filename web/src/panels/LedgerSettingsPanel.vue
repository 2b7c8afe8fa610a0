<script setup lang="ts">
/** What a ledger is counted by: currency, zone, calendar, as-of date, coverage, and what its columns mean. */
import { ref, watch } from "vue";
import type { LedgerDescription, LedgerSettings } from "@/contract";
import LedgerAway from "@/panels/LedgerAway.vue";
import Trouble from "@/parts/Trouble.vue";
import { MONTHS, WEEKDAYS } from "@/words/calendar";
import { LINE_GRAINS } from "@/words/intake";
import { dimensionName } from "@/words/words";

const props = defineProps<{
  ledger: LedgerDescription;
  settings: LedgerSettings;
  save: (next: LedgerSettings) => Promise<void>;
}>();
const emit = defineEmits<{ close: [] }>();

const next = ref<LedgerSettings>(JSON.parse(JSON.stringify(props.settings)));
const said = ref<Record<string, string>>({});
const trouble = ref("");
const figures = ["amount", "quantity", "cost"];

watch(
  () => props.ledger,
  (ledger) => {
    said.value = Object.fromEntries(ledger.dimensions.map((each) => [each.name, each.description]));
    for (const name of figures)
      said.value[name] =
        ledger.measures.find((each) => each.name === { amount: "gross_sales", quantity: "units" }[name])
          ?.description ?? "";
    said.value.cost = ledger.measures.find((each) => each.name === "cost")?.description ?? "";
  },
  { immediate: true },
);

async function confirm(): Promise<void> {
  trouble.value = "";
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
    <h2>What {{ ledger.name }} is counted by</h2>
    <Trouble v-if="trouble" :message="trouble" />
    <div class="grid">
      <label>Name <input v-model="next.name" maxlength="80" required data-test="setting-name" /></label>
      <label
        >Currency <input v-model="next.currency" size="4" maxlength="3" data-test="setting-currency"
      /></label>
      <label>Time zone <input v-model="next.time_zone" data-test="setting-zone" /></label>
      <label
        >Its lines stand for
        <select v-model="next.line_grain" data-test="setting-grain">
          <option v-for="(label, key) in LINE_GRAINS" :key="key" :value="key">{{ label }}</option>
        </select></label
      >
      <label
        >Decimals of amounts
        <input
          v-model.number="next.amount_decimals"
          type="number"
          min="0"
          max="9"
          data-test="setting-decimals"
      /></label>
      <label
        >of quantities <input v-model.number="next.quantity_decimals" type="number" min="0" max="9"
      /></label>
      <label
        >The fiscal year starts in
        <select v-model.number="next.calendar.fiscal_start_month" data-test="setting-fiscal">
          <option v-for="(name, at) in MONTHS" :key="name" :value="at + 1">{{ name }}</option>
        </select></label
      >
      <label
        >and is named after the year in which it
        <select v-model="next.calendar.fiscal_year_named">
          <option value="end">ends</option>
          <option value="start">starts</option>
        </select></label
      >
      <label
        >Weeks start on
        <select v-model.number="next.calendar.week_start">
          <option v-for="(name, at) in WEEKDAYS" :key="name" :value="at">{{ name }}</option>
        </select></label
      >
      <label
        ><input v-model="next.calendar.month_end_rule" type="checkbox" /> the last day of a month is compared
        with the last day of the other</label
      >
      <label
        >New statements count up to
        <input
          type="date"
          :value="next.as_of.kind === 'pinned' ? next.as_of.day : ''"
          aria-describedby="as-of-note"
          @change="asOf(($event.target as HTMLInputElement).value)"
        />
        <small id="as-of-note" class="quiet">no date: the last posted day</small></label
      >
    </div>
    <h3 v-if="next.coverage.length">The files are complete</h3>
    <p v-for="feed in next.coverage" :key="feed.feed" class="feed">
      <strong>{{ feed.feed }}</strong>
      <label
        >from <input v-model="feed.covers_from" type="date" :data-test="`covers-from-${feed.feed}`"
      /></label>
      <label
        >through <input v-model="feed.covers_through" type="date" :data-test="`covers-through-${feed.feed}`"
      /></label>
      <small class="quiet">no date: as far as there are lines</small>
    </p>
    <h3>What its columns mean</h3>
    <div class="grid">
      <label v-for="name in Object.keys(said)" :key="name"
        >{{ dimensionName(name) }}
        <input
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
      <button type="submit" class="take" data-test="save-settings">Save</button>
      <button type="button" class="plain" @click="emit('close')">Cancel</button>
    </p>
  </form>
</template>

<style scoped>
.settings {
  background: var(--sheet);
  border: 1px solid var(--line);
  padding: 10px 14px;
}
h2,
h3 {
  font-size: 14px;
  margin: 6px 0;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  gap: 6px 18px;
}
.grid label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.grid label input:not([type="checkbox"]):not([type="number"]):not([size]) {
  flex: 1;
  min-width: 90px;
}
.feed {
  display: flex;
  gap: 12px;
  margin: 3px 0;
  align-items: center;
}
.take {
  background: var(--window-0);
  color: #fff;
  border: 0;
  border-radius: 3px;
  padding: 5px 14px;
  cursor: pointer;
}
code {
  overflow-wrap: anywhere;
}
</style>
