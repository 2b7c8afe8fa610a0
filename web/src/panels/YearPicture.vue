<script setup lang="ts">
/** The year as it falls out: a rod per month, a bead per day; worked and free days, weeks, quarters, days with lines. */
import { useDays } from "@/composables/dates";
import { periodName } from "@/words/names";
import { useNumbers } from "@/composables/numbers";
import type { CalendarPreview } from "@/contract";

const { dayText } = useDays();

const { count } = useNumbers();

type Day = CalendarPreview["months"][number]["days"][number];
defineProps<{ year: CalendarPreview }>();

function title(day: Day): string {
  const kind = day.working ? "worked" : "free";
  return `${dayText(day.day)}, ${periodName(day.week)}, ${kind}${day.posted ? ", lines posted" : ""}`;
}
</script>

<template>
  <div
    class="year"
    role="img"
    :aria-label="`The year ${year.year}, ${dayText(year.first)} to ${dayText(year.last)}`"
  >
    <div
      v-for="(month, at) in year.months"
      :key="month.key"
      class="month"
      :class="{ opens: at > 0 && month.quarter !== year.months[at - 1]?.quarter }"
      data-test="calendar-month"
    >
      <strong>{{ periodName(month.key) }}</strong>
      <span class="quiet">{{ periodName(month.quarter) }}</span>
      <span class="days">
        <i
          v-for="(day, place) in month.days"
          :key="day.day"
          :class="{
            free: !day.working,
            posted: day.posted,
            starts: place > 0 && day.week !== month.days[place - 1]?.week,
            now: day.day === year.as_of,
          }"
          :title="title(day)"
        />
      </span>
      <span class="quiet number">{{ count(month.days.length, "day") }}, {{ month.working_days }} worked</span>
    </div>
    <p class="quiet legend">
      <i class="posted" /> lines posted <i /> none <i class="free" /> free day <i class="now" /> as-of date ·
      a gap: a new week · a line: a new quarter
    </p>
  </div>
</template>

<style scoped>
.year {
  background: var(--sheet);
  border: 1px solid var(--line);
  border-left: 6px solid var(--wood);
  border-right: 6px solid var(--wood);
  padding: 8px 12px;
}
.month {
  display: grid;
  grid-template-columns: 92px 76px minmax(0, 1fr) 128px;
  align-items: center;
  gap: 8px;
  height: 26px;
}
.opens {
  border-top: 1px solid var(--line);
}
.days {
  display: flex;
  gap: 1px;
}
i {
  display: inline-block;
  width: 12px;
  height: 14px;
  border-radius: 5px;
  border: 1.5px solid var(--window-0);
}
.days i {
  flex: 0 1 13px;
}
.starts {
  margin-left: 6px;
}
.posted {
  background: var(--window-0);
}
.free {
  border-color: var(--free);
}
.free.posted {
  background: var(--free);
}
.now {
  box-shadow: 0 0 0 2px var(--wood);
}
.legend {
  margin: 8px 0 0;
  font-size: 0.75rem;
}
.legend i {
  vertical-align: -2px;
  margin-left: 10px;
}
</style>
