<script setup lang="ts">
/** What a file brings: its lines, control total and days, held against what one expects of it. */
import { useDays } from "@/composables/dates";
import { useNumbers } from "@/composables/numbers";
import { ref, watch } from "vue";
import { capital, dimensionName } from "@/words/names";
import { ROLES } from "@/words/intake";
import type { Expected, FileCheck, StagedFile } from "@/contract";

const { rangeText } = useDays();

const { count, grouped, whole } = useNumbers();

const props = defineProps<{ file: StagedFile; check: FileCheck }>();
const emit = defineEmits<{ expect: [expected: Expected] }>();

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

function expected(): void {
  const many = lines.value.replace(/[^0-9]/g, "");
  emit("expect", {
    lines: many ? Number(many) : null,
    amount: amount.value.replace(/[\s,']/g, "").replace("−", "-") || null,
  });
}
</script>

<template>
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
      <div v-for="each in check.own" :key="each.name">
        <dt :title="ROLES[each.role]">{{ capital(dimensionName(each.name)) }}</dt>
        <dd :data-test="`check-own-${each.name}`">
          <template v-if="each.total">{{ grouped(each.total) }}</template>
          <template v-else-if="each.first_day && each.last_day">{{
            rangeText(each.first_day, each.last_day)
          }}</template>
          <template v-else>none</template>
          <small v-if="each.lines < check.lines"> {{ count(each.lines, "line") }}</small>
        </dd>
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
  font-size: 0.6875rem;
  color: var(--quiet);
}
dd {
  margin: 0;
  font-weight: 700;
  font-variant-numeric: tabular-nums;
}
small {
  margin-left: 5px;
  font-weight: 400;
  color: var(--quiet);
}
.expected {
  display: flex;
  gap: 4px;
  margin-left: auto;
}
</style>
