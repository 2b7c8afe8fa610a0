<script setup lang="ts">
/** How time is counted: fiscal year, weeks, holidays, as-of policy and coverage, with the year as it falls out. */
import { useDays } from "@/composables/dates";
import { storeToRefs } from "pinia";
import { computed, ref, watch } from "vue";
import { useRoute } from "vue-router";
import type { CalendarPreview, LedgerSettings } from "@/contract";
import CalendarChanges from "@/panels/calendar/CalendarChanges.vue";
import CalendarForm from "@/panels/calendar/CalendarForm.vue";
import YearPicture from "@/panels/YearPicture.vue";
import Trouble from "@/parts/Trouble.vue";
import { useLedgers } from "@/state/ledgers";

const { rangeText } = useDays();

const route = useRoute();
const ledgers = useLedgers();
const { open } = storeToRefs(ledgers);
const kept = ref<LedgerSettings | null>(null);
const next = ref<LedgerSettings | null>(null);
const year = ref<CalendarPreview | null>(null);
const ahead = ref(0);
const trouble = ref("");
const done = ref("");
const changed = computed(() => JSON.stringify(kept.value) !== JSON.stringify(next.value));

watch(
  () => route.fullPath,
  async () => {
    if (route.path !== "/calendar") return;
    await attempt(async () => {
      await ledgers.choose(typeof route.query.ledger === "string" ? route.query.ledger : null);
      if (!open.value) return;
      kept.value = await ledgers.settings();
      next.value = JSON.parse(JSON.stringify(kept.value));
    });
  },
  { immediate: true },
);
watch([next, ahead], () => void attempt(preview), { deep: true });

async function attempt(work: () => Promise<void>): Promise<void> {
  trouble.value = "";
  try {
    await work();
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error);
  }
}

async function preview(): Promise<void> {
  if (!next.value) return;
  const asked = JSON.stringify([next.value, ahead.value]);
  const found = await ledgers.previewCalendar(next.value, ahead.value);
  if (asked === JSON.stringify([next.value, ahead.value])) year.value = found;
}

async function confirm(): Promise<void> {
  await attempt(async () => {
    if (!next.value) return;
    await ledgers.changeSettings(next.value);
    kept.value = await ledgers.settings();
    next.value = JSON.parse(JSON.stringify(kept.value));
    done.value = "The calendar is kept. Statements count by it from now on.";
  });
}
</script>

<template>
  <div class="page" data-test="calendar-page">
    <h1>How time is counted in {{ open?.name }}</h1>
    <Trouble v-if="trouble" :message="trouble" />
    <div v-if="next" class="columns">
      <CalendarForm v-model="next" @confirm="confirm" />
      <div v-if="year" class="fallen">
        <p class="turn">
          <ElButton link data-test="year-before" @click="ahead -= 1"> the year before </ElButton>
          <strong>{{ year.year }}</strong> {{ rangeText(year.first, year.last) }}
          <ElButton link data-test="year-after" @click="ahead += 1"> the year after </ElButton>
        </p>
        <YearPicture :year="year" />
        <CalendarChanges
          :year="year"
          :changed="changed"
          :done="done"
          @confirm="confirm"
          @back="next = JSON.parse(JSON.stringify(kept))"
        />
      </div>
    </div>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  overflow: auto;
  padding: 10px 18px;
}
h1 {
  font-size: 1rem;
  margin: 0 0 10px;
}
.columns {
  display: grid;
  grid-template-columns: 390px minmax(0, 1fr);
  gap: 20px;
}
.turn {
  display: flex;
  gap: 14px;
  margin: 0 0 6px;
}
@media (max-width: 1100px) {
  .columns {
    grid-template-columns: 330px minmax(0, 1fr);
    gap: 12px;
  }
}
</style>
