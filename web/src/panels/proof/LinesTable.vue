<script setup lang="ts">
/** The posted lines behind a figure: searched, sorted, paged, saved, each with its file, row and batch. */
import { capital } from "@/words/names";
import { useNumbers } from "@/composables/numbers";
import { computed, ref, watch, toRefs } from "vue";
import type { LineChange, LineSort } from "@/contract";
import { dayText } from "@/model/days";
import { saveFile } from "@/model/saving";
import LineCorrection from "@/panels/proof/LineCorrection.vue";
import { useSheet } from "@/state/sheet/sheet";

const { count, grouped, whole } = useNumbers();

defineProps<{
  ledger: string;
  correct: (line: number, change: LineChange | null, reason: string) => Promise<string>;
}>();

const sheet = useSheet();
const { lines, wanted, linesRefused } = toRefs(sheet);
const correcting = ref<number | null>(null);
const search = ref(wanted.value.search);
const COLUMNS: LineSort[] = ["day", "order", "product", "amount"];
const pages = computed(() => {
  const page = lines.value;
  return page ? { from: page.offset + 1, to: page.offset + page.lines.length, total: page.total } : null;
});
watch(search, (text) => void sheet.showLines({ ...wanted.value, search: text, offset: 0 }));

function sort(by: LineSort): void {
  const descending = wanted.value.sort === by ? !wanted.value.descending : by === "day" || by === "amount";
  void sheet.showLines({ ...wanted.value, sort: by, descending, offset: 0 });
}

function order(by: LineSort): "ascending" | "descending" | "none" {
  if (wanted.value.sort !== by) return "none";
  return wanted.value.descending ? "descending" : "ascending";
}

function turn(offset: number): void {
  void sheet.showLines({ ...wanted.value, offset });
}

async function save(): Promise<void> {
  saveFile("lines.csv", "text/csv", await sheet.linesFile());
}
</script>

<template>
  <div class="tools">
    <ElInput
      v-model="search"
      clearable
      placeholder="Search the lines"
      aria-label="Search the lines"
      data-test="lines-search"
    />
    <ElButton link data-test="lines-save" @click="save">Save all as CSV</ElButton>
  </div>
  <p v-if="linesRefused" class="refused" role="alert">{{ linesRefused }}</p>
  <div v-if="lines" class="lines" tabindex="0" role="region" aria-label="Lines">
    <table>
      <thead>
        <tr>
          <th
            v-for="each in COLUMNS"
            :key="each"
            scope="col"
            :class="{ number: each === 'amount' }"
            :aria-sort="order(each)"
          >
            <ElButton link :data-test="`lines-by-${each}`" @click="sort(each)">
              {{ capital(each)
              }}{{ order(each) === "none" ? "" : order(each) === "descending" ? " ↓" : " ↑" }}
            </ElButton>
          </th>
        </tr>
      </thead>
      <tbody>
        <template v-for="line in lines.lines" :key="line.id">
          <tr class="first" data-test="line">
            <td>{{ dayText(line.day) }}</td>
            <td>{{ line.members.order ?? line.line_ref ?? "" }}</td>
            <td :title="line.members.product">{{ line.members.product ?? "" }}</td>
            <td class="number" :class="{ adverse: line.amount.startsWith('-') }">
              {{ grouped(line.amount) }}
            </td>
          </tr>
          <tr class="source" data-test="line-source">
            <td colspan="4" :title="line.members.customer">
              <div class="from">
                <span
                  ><RouterLink
                    :to="{ path: '/intake', query: { ledger, batch: String(line.batch) } }"
                    title="To the batch that it came with"
                    data-test="line-batch"
                    >{{ line.file }}</RouterLink
                  >, row {{ line.row }}<template v-if="line.side === 'return'"> · return</template
                  ><template v-if="line.quantity">
                    · {{ grouped(line.quantity) }}
                    {{ /^-?1(\.0+)?$/.test(line.quantity) ? "unit" : "units" }}</template
                  ><template v-if="line.given">
                    · given as {{ grouped(line.given.amount) }} {{ line.given.currency }} at
                    {{ line.given.rate }}</template
                  ><template v-if="line.members.customer"> · {{ line.members.customer }}</template></span
                ><ElButton
                  link
                  :aria-expanded="correcting === line.id"
                  :aria-label="`Correct ${line.file}, row ${line.row}`"
                  data-test="line-correct"
                  @click="correcting = correcting === line.id ? null : line.id"
                >
                  correct
                </ElButton>
              </div>
            </td>
          </tr>
          <tr v-if="correcting === line.id">
            <td colspan="4">
              <LineCorrection :line="line" :correct="correct" @close="correcting = null" />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
  <p v-if="pages" class="pages">
    <span data-test="line-count">{{
      pages.total ? `${whole(pages.from)}–${whole(pages.to)} of ${count(pages.total, "line")}` : "no lines"
    }}</span>
    <ElButton link :disabled="pages.from <= 1" @click="turn(Math.max(pages.from - 51, 0))">
      earlier page
    </ElButton>
    <ElButton link :disabled="pages.to >= pages.total" @click="turn(pages.to)"> next page </ElButton>
  </p>
</template>

<style scoped>
.tools {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
.tools input {
  min-width: 0;
  flex: 1;
}
.refused {
  margin: 0;
  font-size: 12px;
  background: var(--warn);
  padding: 4px 8px;
}
.lines {
  flex: 1;
  overflow: auto;
  min-height: 130px;
}
table {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
  font-size: 11px;
}
th:nth-child(1) {
  width: 28%;
}
th:nth-child(2) {
  width: 18%;
}
th:nth-child(4) {
  width: 22%;
}
th {
  text-align: left;
  position: sticky;
  top: 0;
  background: var(--sheet);
}
th .plain {
  text-decoration: none;
  font-weight: 700;
  padding: 0;
}
th.number {
  text-align: right;
}
td {
  padding: 2px 4px 0 0;
  vertical-align: top;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.first td {
  border-top: 1px solid var(--soft);
}
.source td {
  padding-top: 0;
  font-size: 10px;
  color: var(--quiet);
}
.from {
  display: flex;
  justify-content: space-between;
  gap: 6px;
}
.from span {
  overflow: hidden;
  text-overflow: ellipsis;
}
.from a {
  color: inherit;
}
.from button {
  flex: none;
  padding: 0 2px 0 0;
}
.pages {
  margin: 0;
  font-size: 12px;
  color: var(--quiet);
}
</style>
