<script setup lang="ts">
/** The posted lines behind a figure: searched, sorted, paged, saved, each with its file, row and batch. */
import { useDays } from "@/composables/dates";
import { capital } from "@/words/names";
import { useNumbers } from "@/composables/numbers";
import { computed, ref, watch, toRefs } from "vue";
import type { LineChange, LinesPage, LineSort } from "@/contract";
import { saveFile } from "@/model/saving";
import LineSource from "@/panels/proof/LineSource.vue";
import { useSheet } from "@/state/sheet/sheet";

const { dayText } = useDays();

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
const WIDTHS: Record<string, number> = { day: 84, order: 66, product: 76, amount: 72 };
type PostedLine = LinesPage["lines"][number];
const pages = computed(() => {
  const page = lines.value;
  return page ? { from: page.offset + 1, to: page.offset + page.lines.length, total: page.total } : null;
});
watch(search, (text) => void sheet.showLines({ ...wanted.value, search: text, offset: 0 }));

function sort({ prop, order }: { prop: string | null; order: string | null }): void {
  const by = COLUMNS.find((each) => each === prop);
  if (by) void sheet.showLines({ ...wanted.value, sort: by, descending: order !== "ascending", offset: 0 });
}

/** Days and amounts are wanted the largest first, names the smallest. */
function ordersOf(by: LineSort): ("ascending" | "descending")[] {
  return by === "day" || by === "amount" ? ["descending", "ascending"] : ["ascending", "descending"];
}

function shown(line: PostedLine, by: LineSort): string {
  if (by === "day") return dayText(line.day);
  if (by === "amount") return grouped(line.amount);
  return (by === "order" ? (line.members.order ?? line.line_ref) : line.members.product) ?? "";
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
  <ElTable
    v-if="lines"
    :data="lines.lines"
    row-key="id"
    size="small"
    height="100%"
    class="lines compact"
    :expand-row-keys="lines.lines.map((line) => String(line.id))"
    :default-sort="{ prop: wanted.sort, order: wanted.descending ? 'descending' : 'ascending' }"
    aria-label="Lines"
    @sort-change="sort"
  >
    <ElTableColumn type="expand" width="1">
      <template #expand><span /></template>
      <template #default="{ row }">
        <LineSource
          :line="row as PostedLine"
          :ledger="ledger"
          :correcting="correcting === row.id"
          :correct="correct"
          @turn="correcting = correcting === row.id ? null : row.id"
        />
      </template>
    </ElTableColumn>
    <ElTableColumn
      v-for="each in COLUMNS"
      :key="each"
      :prop="each"
      sortable="custom"
      :sort-orders="ordersOf(each)"
      :align="each === 'amount' ? 'right' : 'left'"
      :min-width="WIDTHS[each]"
    >
      <template #header
        ><span :data-test="`lines-by-${each}`">{{ capital(each) }}</span></template
      >
      <template #default="{ row }">
        <span
          :class="{ adverse: each === 'amount' && row.amount.startsWith('-') }"
          :title="shown(row as PostedLine, each)"
          :data-test="each === 'day' ? 'line' : undefined"
          >{{ shown(row as PostedLine, each) }}</span
        >
      </template>
    </ElTableColumn>
  </ElTable>
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
.refused {
  margin: 0;
  font-size: 0.75rem;
  background: var(--warn);
  padding: 4px 8px;
}
.lines {
  flex: 1;
  min-height: 220px;
}
.pages {
  margin: 0;
  font-size: 0.75rem;
  color: var(--quiet);
}
</style>
