<script setup lang="ts">
/** The statement of a block, changed in place: the sentence, and the figures that it gives. */
import { onMounted, ref, toRefs, computed } from "vue";
import { provideNumbers } from "@/composables/numbers";
import { provideParts } from "@/composables/parts";
import { useDays } from "@/composables/dates";
import type { FigureBlock, LedgerDescription, Statement } from "@/contract";
import { laidOut } from "@/model/layout";
import { whole } from "@/model/statement";
import StatementPanel from "@/panels/StatementPanel.vue";
import PrintTable from "@/panels/print/PrintTable.vue";
import Trouble from "@/parts/Trouble.vue";
import { useLedgers } from "@/state/ledgers";
import { useReader } from "@/state/reader";
import { createSheet, provideSheet } from "@/state/sheet/sheet";
import type { Told } from "@/words/table";

const props = defineProps<{ block: FigureBlock; ledger: LedgerDescription; asOf: Statement["as_of"] }>();
const emit = defineEmits<{ take: [statement: Statement]; close: [] }>();
const reader = useReader();
const ledgers = useLedgers();
const sheet = provideSheet(createSheet(null, () => reader.marks));
const numbers = provideNumbers(sheet.marks);
const days = useDays();
provideParts();
const { answer, answered, failure } = toRefs(sheet);
const statement = ref<Statement>(whole({ ...props.block.statement, as_of: props.block.as_of ?? props.asOf }));
/** As much of the table as tells what the statement gives. */
const MOST_ROWS = 30;

async function show(next: Statement): Promise<void> {
  statement.value = next;
  const question = { ledger: props.ledger.name, statement: next, opened: props.block.opened };
  await sheet.show({ question, selected: null, layout: props.block.layout as never }, props.ledger.version);
}
onMounted(() => show(statement.value));

const told = computed<Told | null>(() => {
  if (!answer.value || !answered.value) return null;
  const { layout } = sheet;
  const seen = laidOut(answer.value, layout);
  return {
    answer: { ...seen, rows: seen.rows.filter((each) => each.cells.length).slice(0, MOST_ROWS) },
    statement: answered.value,
    layout,
    said: ledgers.said,
    numbers,
    days,
  };
});
</script>

<template>
  <ElDialog
    :model-value="true"
    title="The statement of this block"
    width="min(1000px, 94vw)"
    append-to-body
    data-test="block-statement-dialog"
    @close="emit('close')"
  >
    <StatementPanel :statement="statement" :ledger="ledger" :answer="answer" @change="show" />
    <Trouble v-if="failure" :message="failure.message" />
    <div v-if="told" class="table"><PrintTable :told="told" /></div>
    <template #footer>
      <span class="quiet">Its as-of date is that of the block or of the brief.</span>
      <ElButton @click="emit('close')">Leave it as it was</ElButton>
      <ElButton
        type="primary"
        :disabled="!!failure"
        data-test="take-statement"
        @click="emit('take', statement)"
        >Take it</ElButton
      >
    </template>
  </ElDialog>
</template>

<style scoped>
.table {
  max-height: 44vh;
  overflow: auto;
  margin-top: 10px;
}
.quiet {
  margin-right: 12px;
}
</style>
