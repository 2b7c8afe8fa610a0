<script setup lang="ts">
/** What posting a file would bring, and what stands in its way or is worth a look. */
import { useNumbers } from "@/composables/numbers";
import { computed, ref, watch } from "vue";
import type { Correction, Expected, FileCheck, Finding, Mapping, RowsPage, StagedFile } from "@/contract";
import { rangeText } from "@/model/days";
import FindingItem from "@/panels/intake/FindingItem.vue";

const { count, grouped, whole } = useNumbers();

const props = defineProps<{
  file: StagedFile;
  check: FileCheck;
  mapping: Mapping;
  readRows: (finding: Finding, member: string | null, offset: number) => Promise<RowsPage>;
}>();
const emit = defineEmits<{
  change: [next: Partial<Mapping>];
  correct: [correction: Correction];
  expect: [expected: Expected];
  save: [];
}>();

const lines = ref("");
const amount = ref("");
watch(
  () => props.file.expected,
  (expected) => {
    lines.value = expected.lines?.toString() ?? "";
    amount.value = expected.amount ?? "";
  },
  { immediate: true },
);

const decided = computed(() => [
  ...props.mapping.corrections.map((each) => ({
    words: `${each.column}: “${each.text}” is read as “${each.to}”, remembered`,
    undo: () => emit("change", { corrections: props.mapping.corrections.filter((other) => other !== each) }),
  })),
  ...props.file.corrections.map((each) => ({
    words: `row ${each.row}, ${each.column}: “${each.text}” is read as “${each.to}”`,
    undo: () => emit("correct", { ...each, to: each.text }),
  })),
  ...props.mapping.merges.map((each) => ({
    words: `${each.dimension}: ${each.member} is posted as ${each.into}, remembered`,
    undo: () => emit("change", { merges: props.mapping.merges.filter((other) => other !== each) }),
  })),
]);

function expected(): void {
  const many = lines.value.replace(/[^0-9]/g, "");
  emit("expect", {
    lines: many ? Number(many) : null,
    amount: amount.value.replace(/[\s,']/g, "").replace("−", "-") || null,
  });
}
</script>

<template>
  <div class="check" data-test="check">
    <p v-if="check.kind === 'lookup'">{{ count(check.lines, "key") }} to be mapped</p>
    <div v-else class="facts">
      <dl>
        <div>
          <dt>Lines</dt>
          <dd data-test="check-lines">{{ whole(check.lines) }}</dd>
        </div>
        <div>
          <dt>Control total</dt>
          <dd data-test="check-amount">{{ grouped(check.amount) }}</dd>
        </div>
        <div>
          <dt>Days</dt>
          <dd data-test="check-days">
            {{ check.first_day && check.last_day ? rangeText(check.first_day, check.last_day) : "none" }}
          </dd>
        </div>
        <div>
          <dt>Sales, returns</dt>
          <dd>{{ whole(check.sale_lines) }}, {{ whole(check.return_lines) }}</dd>
        </div>
        <div v-if="check.left_out">
          <dt>Left out</dt>
          <dd>{{ count(check.left_out, "line") }}</dd>
        </div>
        <div v-if="check.blank_rows">
          <dt>Blank rows</dt>
          <dd>{{ whole(check.blank_rows) }}</dd>
        </div>
      </dl>
      <form class="expected" @submit.prevent="expected" @change="expected">
        <label
          >You expect
          <ElInput
            v-model="lines"
            style="width: 12ch"
            placeholder="lines"
            aria-label="Lines that you expect"
            data-test="expect-lines"
        /></label>
        <ElInput
          v-model="amount"
          style="width: 16ch"
          placeholder="net total"
          aria-label="Net total that you expect"
          data-test="expect-amount"
        />
      </form>
    </div>
    <ul v-if="check.blocking.length" class="trouble">
      <li v-for="sentence in check.blocking" :key="sentence" data-test="blocking">{{ sentence }}</li>
    </ul>
    <ul v-if="check.findings.length" class="findings">
      <FindingItem
        v-for="finding in check.findings"
        :key="`${finding.code}-${finding.about}`"
        :finding="finding"
        :mapping="mapping"
        :read-rows="readRows"
        @change="(next) => emit('change', next)"
        @correct="(correction) => emit('correct', correction)"
        @save="emit('save')"
      />
    </ul>
    <p v-for="each in decided" :key="each.words" class="decided" data-test="decided">
      ✓ {{ each.words }}
      <ElButton link @click="each.undo">Take back</ElButton>
    </p>
  </div>
</template>

<style scoped>
dl,
.facts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 26px;
  margin: 0;
  align-items: end;
}
.facts {
  margin: 6px 0;
}
dt {
  font-size: 11px;
  color: var(--quiet);
}
dd {
  margin: 0;
  font-weight: 700;
  font-variant-numeric: tabular-nums;
}
.expected {
  display: flex;
  gap: 4px;
  margin-left: auto;
}
.trouble {
  margin: 6px 0;
  padding-left: 28px;
}
.findings {
  margin: 4px 0;
  padding: 0;
}
.decided {
  margin: 2px 0;
}
</style>
