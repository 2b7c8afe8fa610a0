<script setup lang="ts">
import en from "element-plus/es/locale/lang/en";
import "element-plus/theme-chalk/dark/css-vars.css";
import { storeToRefs } from "pinia";
import dayjs from "dayjs";
import { useEventListener } from "@vueuse/core";
import { computed, defineAsyncComponent, watchEffect } from "vue";
import { useRoute, type LocationQueryRaw } from "vue-router";
import { provideDayFormat, provideDays } from "@/composables/dates";
import { provideNumbers } from "@/composables/numbers";
import { dayFormat } from "@/model/days";
import LedgerChip from "@/panels/bar/LedgerChip.vue";
import ReaderChip from "@/panels/bar/ReaderChip.vue";
import Explained from "@/panels/Explained.vue";
import MissingLedger from "@/panels/MissingLedger.vue";
import { useHelp } from "@/state/help";
import { useLedgers } from "@/state/ledgers";
import { useReader } from "@/state/reader";

const { open } = storeToRefs(useLedgers());
const reader = useReader();
const help = useHelp();
const route = useRoute();
const HelpDrawer = defineAsyncComponent(() => import("@/panels/guide/HelpDrawer.vue"));
/** What ? is about where nothing that has the focus says so. */
useEventListener("keydown", (event: KeyboardEvent) => {
  const writing = (event.target as HTMLElement).matches("input:not([type=checkbox]), textarea");
  if (event.key !== "?" || writing || event.ctrlKey || event.metaKey || help.topic) return;
  event.preventDefault();
  help.ask(route.path.split("/")[1] || "figures");
});
provideNumbers(() => reader.marks);
const { dayText } = provideDays(() => reader.locale);
provideDayFormat(computed(() => dayFormat(reader.locale)));
/** Pickers start their weeks as the ledger does, or as the reader wants; they count from Sunday. */
watchEffect(() => {
  const chosen = reader.weekStart === "ledger" ? open.value?.calendar.week_start : Number(reader.weekStart);
  dayjs.locale({ ...dayjs.Ls.en, name: "en", weekStart: ((chosen ?? 0) + 1) % 7 } as typeof dayjs.Ls.en);
});
const PAGES = [
  ["/intake", "Intake"],
  ["/figures", "Figures"],
  ["/movers", "Movers"],
  ["/scorecard", "Scorecard"],
  ["/briefs", "Briefs"],
  ["/calendar", "Calendar"],
  ["/guide", "Guide"],
] as const;
/** The same statement on another of its pages; what is selected on one is not there on the other. */
const OF_A_STATEMENT = ["/figures", "/movers", "/scorecard"];
function queryOf(path: string): LocationQueryRaw {
  const stays = OF_A_STATEMENT.includes(path) && OF_A_STATEMENT.includes(route.path) && route.query.show;
  if (stays) return { ...route.query, at: undefined };
  return open.value ? { ledger: String(open.value.id) } : {};
}
/** Alerts of the open ledger that are true by now. */
const alerts = computed(() => useLedgers().list.find((each) => each.id === open.value?.id)?.alerts ?? 0);
/** A manager reads issues without the tools. */
const reads = computed(() => route.path.startsWith("/read/"));
/** The last day that any of the ledger's files reach. */
const postedTo = computed(() =>
  open.value?.feeds
    .map((each) => each.last)
    .sort()
    .at(-1),
);
</script>

<template>
  <ElConfigProvider :locale="en" :empty-values="[null, undefined]" size="default" :z-index="2000">
    <div class="house">
      <header>
        <RouterLink to="/figures" class="mark">
          <svg viewBox="0 0 20 16" width="20" height="16" aria-hidden="true">
            <path d="M1 4.5h18M1 11.5h18" class="rod" />
            <rect x="3" y="1.5" width="4" height="6" rx="2" class="pale" />
            <rect x="8.5" y="1.5" width="4" height="6" rx="2" class="pale" />
            <rect x="12" y="8.5" width="4" height="6" rx="2" class="bead" />
          </svg>
          Lofty Abacus
        </RouterLink>
        <nav v-if="!reads" aria-label="Pages">
          <RouterLink v-for="[path, name] in PAGES" :key="path" :to="{ path, query: queryOf(path) }"
            >{{ name
            }}<span
              v-if="path === '/briefs' && alerts"
              class="alerts"
              :title="`${alerts} ${alerts === 1 ? 'alert is' : 'alerts are'} true now`"
              data-test="alerts-true"
              >{{ alerts }}</span
            ></RouterLink
          >
        </nav>
        <div v-if="open && !reads" class="ledger" data-test="ledger">
          <LedgerChip />
          <span class="posted">
            <template v-if="postedTo">posted to {{ dayText(postedTo) }} · </template>version
            {{ open.version }}
          </span>
        </div>
        <ReaderChip v-if="!reads" />
      </header>
      <main>
        <MissingLedger />
        <RouterView />
        <Explained />
        <HelpDrawer v-if="help.topic" :topic="help.topic" @close="help.topic = null" />
      </main>
    </div>
  </ElConfigProvider>
</template>

<style scoped>
.house {
  display: flex;
  flex-direction: column;
  height: 100%;
}
header {
  display: flex;
  align-items: center;
  gap: 24px;
  height: 44px;
  padding: 0 18px;
  background: var(--slate);
  color: var(--on-slate);
  flex: none;
}
.mark {
  display: flex;
  gap: 10px;
  align-items: center;
  font-weight: 700;
  font-size: var(--size-heading);
  color: inherit;
  text-decoration: none;
  white-space: nowrap;
}
.rod {
  stroke: #a98f63;
  stroke-width: 1.5;
}
.pale {
  fill: var(--on-slate);
}
.bead {
  fill: var(--bead);
}
nav {
  display: flex;
  gap: 20px;
  margin-right: auto;
}
nav a {
  color: #cfd6d8;
  text-decoration: none;
  padding: 12px 0 10px;
  border-bottom: 2px solid transparent;
}
nav a.router-link-active {
  color: #fff;
  border-color: var(--bead);
}
.alerts {
  margin-left: 5px;
  padding: 0 6px;
  border-radius: 8px;
  background: var(--bead);
  color: #22282c;
  font-size: var(--size-note);
}
.ledger {
  display: flex;
  align-items: center;
  gap: 12px;
  min-width: 0;
}
.posted {
  color: #dfe4e5;
  font-size: var(--size-note);
  white-space: nowrap;
}
header > :last-child:not(.ledger) {
  flex: none;
}
main {
  flex: 1;
  min-height: 0;
}
header :focus-visible {
  outline-color: var(--bead);
}
@media (width < 900px) {
  .posted {
    display: none;
  }
}
</style>
