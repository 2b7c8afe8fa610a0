<script setup lang="ts">
/** Statement, frame, table, proof. The address holds the whole state. */
import { storeToRefs } from "pinia";
import { computed, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { LineChange, MemberKey, Row, Statement } from "@/contract";
import { fromAddress, toAddress, type View } from "@/model/address";
import { saveFile } from "@/model/saving";
import { firstStatement, setAsOf, toggleRow, turnSort } from "@/model/statement";
import FiguresTable from "@/panels/FiguresTable.vue";
import FramePanel from "@/panels/FramePanel.vue";
import NoticePanel from "@/panels/NoticePanel.vue";
import ProofPanel from "@/panels/ProofPanel.vue";
import StatementPanel from "@/panels/StatementPanel.vue";
import Trouble from "@/parts/Trouble.vue";
import { useFigures } from "@/state/figures";
import { useLedgers } from "@/state/ledgers";
import { usePerson } from "@/state/person";
import { usePostings } from "@/state/postings";

const route = useRoute();
const router = useRouter();
const ledgers = useLedgers();
const figures = useFigures();
const postings = usePostings();
usePerson();
const { open, list } = storeToRefs(ledgers);
const { question, answer, answered, check, proof, lines, operand, loading, failure, selected } =
  storeToRefs(figures);
const trouble = ref("");
/** What the ledger says of its measures and dimensions. */
const said = computed(() =>
  Object.fromEntries(
    [...(open.value?.measures ?? []), ...(open.value?.dimensions ?? [])].map((each) => [
      each.name,
      each.description,
    ]),
  ),
);
const empty = computed(() => open.value !== null && open.value.lines === 0);

watch(
  () => route.fullPath,
  async () => {
    if (route.path !== "/figures") return;
    try {
      await show();
    } catch (error) {
      trouble.value = error instanceof Error ? error.message : String(error);
    }
  },
  { immediate: true },
);

async function show(): Promise<void> {
  trouble.value = "";
  const view = fromAddress(route.query);
  const name = view?.question.ledger ?? (typeof route.query.ledger === "string" ? route.query.ledger : null);
  if (!open.value || name !== open.value.name) await ledgers.choose(name);
  if (!open.value || empty.value) return;
  if (view && view.question.ledger === open.value.name) await figures.ask(view, open.value.version);
  else if (question.value?.ledger === open.value.name && figures.view)
    await router.replace({ query: toAddress(figures.view) });
  else await go({ question: firstQuestion(open.value.name), selected: null }, true);
}

function firstQuestion(ledger: string): View["question"] {
  if (!open.value) throw new Error("no ledger is open");
  const statement = firstStatement(open.value);
  return { ledger, statement, opened: { depth: Math.max(statement.rows.length, 1), paths: [] } };
}

async function go(view: View, replace = false): Promise<void> {
  await router[replace ? "replace" : "push"]({ path: "/figures", query: toAddress(view) });
}

function change(statement: Statement): void {
  if (!question.value) return;
  const depth = Math.min(question.value.opened.depth, Math.max(statement.rows.length, 1));
  const sameRows = JSON.stringify(statement.rows) === JSON.stringify(question.value.statement.rows);
  const opened = sameRows ? question.value.opened : { depth, paths: [] };
  void go({ question: { ...question.value, statement, opened }, selected: sameRows ? selected.value : null });
}

function toggle(row: Row): void {
  if (!question.value || !answer.value) return;
  const openNow = answer.value.rows.filter((each) => each.is_open).map((each) => each.path);
  const opened = toggleRow(question.value.opened, row.path, row.is_open, openNow);
  void go({ question: { ...question.value, opened }, selected: selected.value });
}

function select(path: MemberKey[], column: string): void {
  if (question.value) void go({ question: question.value, selected: { path, column } }, true);
}

function unselect(): void {
  if (question.value) void go({ question: question.value, selected: null }, true);
}

async function saveCsv(): Promise<void> {
  saveFile("figures.csv", "text/csv", await figures.asCsv());
}

/** Correct or void a posted line, and show the figures of the version that this makes. */
async function correctLine(line: number, next: LineChange | null, reason: string): Promise<string> {
  if (!open.value || !figures.view) return "";
  const refused = await postings.correctLine(open.value.name, line, next, reason);
  if (refused) return refused;
  await ledgers.refresh();
  await ledgers.choose(open.value.name);
  await figures.ask(figures.view, open.value.version);
  return "";
}

function switchLedger(name: string): void {
  void router.push({ path: "/figures", query: { ledger: name } });
}
</script>

<template>
  <div class="page">
    <h1 class="hidden">Figures</h1>
    <Trouble v-if="trouble || failure" :message="trouble || failure?.message || ''">
      <template v-if="failure && failure.kind === 'question'"
        >The figures below are still the last ones that could be answered. Change the statement, or go
        back.</template
      >
    </Trouble>
    <div v-if="empty" class="empty">
      <p>Nothing is posted in {{ open?.name }} yet.</p>
      <RouterLink :to="{ path: '/intake', query: { ledger: open?.name } }">Post files at Intake</RouterLink>
    </div>
    <template v-else-if="open && question">
      <div class="top">
        <StatementPanel :statement="question.statement" :ledger="open" :answer="answer" @change="change" />
        <div class="tools">
          <label v-if="list.length > 1" class="hidden" for="ledger-choice">Ledger</label>
          <select
            v-if="list.length > 1"
            id="ledger-choice"
            :value="open.name"
            data-test="ledger-choice"
            @change="switchLedger(($event.target as HTMLSelectElement).value)"
          >
            <option v-for="each in list" :key="each.name" :value="each.name">{{ each.name }}</option>
          </select>
          <button type="button" class="plain" data-test="save-csv" @click="saveCsv">Save as CSV</button>
        </div>
      </div>
      <template v-if="answer && answered">
        <div :class="{ stale: loading }" :aria-busy="loading" class="work">
          <FramePanel
            :answer="answer"
            :statement="answered"
            @as-of="(day) => question && change(setAsOf(question.statement, day))"
          />
          <div class="lower" :class="{ proving: proof }">
            <section class="sheet" aria-label="Figures">
              <FiguresTable
                :answer="answer"
                :statement="answered"
                :selected="selected"
                :said="said"
                @sort="(column) => question && change(turnSort(question.statement, column))"
                @toggle="toggle"
                @select="select"
              />
              <NoticePanel :answer="answer" :check="check" :statement="answered" />
            </section>
            <ProofPanel
              v-if="proof"
              :proof="proof"
              :lines="lines"
              :operand="operand"
              :currency="answer.currency"
              :correct="correctLine"
              @lines="figures.showLines"
              @close="unselect"
            />
          </div>
        </div>
      </template>
    </template>
    <p v-if="loading && !answer" class="empty">Adding up …</p>
  </div>
</template>

<style scoped>
.page {
  display: flex;
  flex-direction: column;
  gap: 8px;
  height: 100%;
  padding: 8px 18px 10px;
}
.top {
  display: flex;
  gap: 16px;
  justify-content: space-between;
}
.tools {
  flex: none;
  display: flex;
  flex-direction: column;
  align-items: flex-end;
  gap: 4px;
  padding-top: 4px;
}
.tools select {
  max-width: 180px;
}
.work {
  display: flex;
  flex-direction: column;
  gap: 10px;
  flex: 1;
  min-height: 0;
}
.stale {
  opacity: 0.6;
  transition: opacity 0.2s 0.15s;
}
.lower {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
  flex: 1;
  min-height: 0;
}
.lower.proving {
  grid-template-columns: minmax(0, 1fr) 330px;
}
.sheet {
  display: flex;
  flex-direction: column;
  border: 1px solid var(--line);
  min-height: 0;
}
.empty {
  text-align: center;
  padding: 60px;
  color: var(--quiet);
}
</style>
