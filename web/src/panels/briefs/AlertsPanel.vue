<script setup lang="ts">
/** The alerts of the ledger: which are true, since when, and with which rows. */
import { storeToRefs } from "pinia";
import { computed, ref, watch } from "vue";
import { useDays } from "@/composables/dates";
import type { RouteLocationRaw } from "vue-router";
import type { Alert, KeptAlert, LedgerDescription, Statement } from "@/contract";
import { PLAIN } from "@/contract/vocabulary";
import { toAddress } from "@/model/address";
import { whole } from "@/model/statement";
import AlertForm from "@/panels/briefs/AlertForm.vue";
import { useAlerts } from "@/state/alerts";
import { alertWords } from "@/words/briefs";

const props = defineProps<{ ledger: LedgerDescription }>();
const alerts = useAlerts();
const { found, refused } = storeToRefs(alerts);
const { dayText } = useDays();
const shown = ref(false);
const editing = ref<{ alert: Alert; id: number | null } | null>(null);
watch(
  () => [props.ledger.name, props.ledger.version],
  () => void alerts.refresh(props.ledger.name),
  { immediate: true },
);
const isTrue = computed(() => found.value.rows.filter((each) => each.true_since).length);

function words(kept: KeptAlert): string {
  return kept.events[0]?.found.words ?? alertWords(kept.alert);
}
type Found = KeptAlert["events"][number]["found"];
/** Where a row that meets the condition is proved: on the page of figures, as of the day that it was found. */
function proofOf(found: Found, row: Found["rows"][number]): RouteLocationRaw {
  const statement = whole((found.statement ?? {}) as Partial<Statement>);
  const opened = { depth: Math.max(statement.rows.length, 1), paths: [] };
  const question = { ledger: String(props.ledger.id), statement, opened };
  const selected = { path: row.path, column: row.column };
  return { path: "/figures", query: toAddress({ question, selected, layout: PLAIN }) };
}
function begin(): void {
  const alert: Alert = {
    name: "",
    kind: "feed_behind",
    statement: null,
    opened: { depth: 1, paths: [] },
    column: "",
    comparison: "below",
    figure: "",
    feed: "",
    days: 5,
    people: [],
  };
  editing.value = { alert, id: null };
}
async function keep(alert: Alert, id: number | null): Promise<void> {
  if (await alerts.keep(props.ledger.name, alert, id)) editing.value = null;
}
</script>

<template>
  <ElButton class="open" data-test="open-alerts" @click="shown = true">
    Alerts<template v-if="isTrue">: {{ isTrue }} true now</template>
  </ElButton>
  <ElDrawer v-model="shown" title="Alerts" size="520px" data-test="alerts">
    <p class="quiet">
      Looked at after each posting and once a day; told once when they begin and once when they end. One on
      figures is made on the page of figures: Hand out, Alert.
    </p>
    <ElEmpty v-if="!found.rows.length" description="No alert is kept">
      <ElButton data-test="new-alert" @click="begin">Tell me when a feed is behind</ElButton>
    </ElEmpty>
    <section v-for="each in found.rows" :key="each.id" class="alert" data-test="alert">
      <header>
        <strong>{{ each.alert.name }}</strong>
        <ElTag :type="each.true_since ? 'warning' : 'info'">{{
          each.true_since ? `true since ${dayText(each.true_since.slice(0, 10))}` : "not true"
        }}</ElTag>
      </header>
      <p>{{ words(each) }}</p>
      <p v-if="each.trouble" class="adverse">It cannot be looked at: {{ each.trouble }}</p>
      <ul v-if="each.true_since && each.events[0]">
        <li v-for="row in each.events[0].found.rows" :key="row.path.join()">
          <RouterLink
            v-if="each.events[0].found.statement"
            :to="proofOf(each.events[0].found, row)"
            title="Its proof"
            data-test="alert-row"
            >{{ row.label }}: {{ row.figure }}</RouterLink
          >
          <template v-else>{{ row.label }}: {{ row.figure }}</template>
        </li>
        <li v-if="each.events[0].found.count > each.events[0].found.rows.length">
          and {{ each.events[0].found.count - each.events[0].found.rows.length }} more
        </li>
      </ul>
      <p class="quiet">
        <template v-for="event in each.events.slice(0, 4)" :key="event.id"
          >{{ event.began ? "began" : "ended" }} {{ dayText(event.happened_at.slice(0, 10)) }} ·
        </template>
        <ElButton link @click="editing = { alert: each.alert, id: each.id }">Change</ElButton>
        <ElButton link data-test="forget-alert" @click="alerts.forget(ledger.name, each.id)"
          >Keep it no more</ElButton
        >
      </p>
    </section>
    <ElButton v-if="found.rows.length" data-test="another-alert" @click="begin"
      >Tell me when a feed is behind</ElButton
    >
    <AlertForm
      v-if="editing"
      :id="editing.id"
      :alert="editing.alert"
      :ledger="ledger"
      :refused="refused"
      @keep="keep"
      @close="editing = null"
    />
  </ElDrawer>
</template>

<style scoped>
.open {
  align-self: flex-start;
}
.alert {
  border-top: 1px solid var(--line);
  padding: 8px 0;
}
header {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
p {
  margin: 2px 0 6px;
}
a {
  color: inherit;
}
ul {
  margin: 0 0 6px;
  padding-left: 18px;
}
</style>
