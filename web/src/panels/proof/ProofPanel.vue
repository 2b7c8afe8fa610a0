<script setup lang="ts">
/** The evidence for the selected number: formula with its figures, both windows, the lines with file and row. */
import { capital, measureName } from "@/words/names";
import { useNumbers } from "@/composables/numbers";
import { computed, ref, toRefs } from "vue";
import type { LineChange, Proof } from "@/contract";
import DaysTable from "@/panels/proof/DaysTable.vue";
import LinesTable from "@/panels/proof/LinesTable.vue";
import ProofFormula from "@/panels/proof/ProofFormula.vue";
import ProofFrame from "@/parts/ProofFrame.vue";
import StretchChart from "@/parts/StretchChart.vue";
import { useSheet } from "@/state/sheet/sheet";
import { pictureWords, provedHeading, provedRow, whose } from "@/words/proof";

const { count } = useNumbers();

const props = defineProps<{
  proof: Proof;
  currency: string;
  ledger: string;
  correct: (line: number, change: LineChange | null, reason: string) => Promise<string>;
}>();
const emit = defineEmits<{ close: [] }>();
const sheet = useSheet();
const { operand } = toRefs(sheet);
/** Whether the days stand in place of the lines. */
const byDay = ref(false);
const pictured = computed(() => props.proof.operands.some((each) => each.stretches.length > 0));
const name = computed(() => provedRow(props.proof));
const heading = computed(() => provedHeading(props.proof));
</script>

<template>
  <aside class="proof" data-guide="proof" aria-label="Proof" data-test="proof">
    <header>
      <h2>{{ name }} · {{ heading }}</h2>
      <ElButton link aria-label="Close the proof" @click="emit('close')">✕</ElButton>
    </header>
    <p class="quiet">
      {{ capital(measureName(proof.column.measure))
      }}<template v-if="proof.column.unit === 'currency'">, {{ currency }}</template>
    </p>
    <ProofFormula :proof="proof" :heading="heading" />
    <p v-if="proof.month_end_rule_matters" class="quiet">
      The last day of a month goes to the last day of the other month: this moved the base's last day.
    </p>
    <ProofFrame :operands="proof.operands" />
    <!-- The table of days is the picture opened: it stands in its place. -->
    <template v-if="pictured && !byDay">
      <StretchChart :operands="proof.operands" :unit="proof.unit" @click="byDay = true" />
      <p class="small" data-test="picture-words">{{ pictureWords(proof.column) }}</p>
    </template>
    <div class="tabs" role="group" aria-label="Whose lines">
      <ElButton
        v-for="(each, at) in proof.operands"
        :key="at"
        :aria-pressed="!byDay && operand === at"
        :class="{ on: !byDay && operand === at }"
        :data-test="`lines-of-${at}`"
        @click="((byDay = false), sheet.showLines({ ...sheet.wanted, operand: at, offset: 0 }))"
      >
        {{ whose(each) }}: {{ count(each.lines, "line") }}
      </ElButton>
      <ElButton
        v-if="pictured"
        :aria-pressed="byDay"
        :class="{ on: byDay }"
        data-test="by-day"
        @click="byDay = !byDay"
      >
        By day
      </ElButton>
    </div>
    <DaysTable v-if="byDay && pictured" :proof="proof" />
    <LinesTable v-else :ledger="ledger" :correct="correct" />
  </aside>
</template>

<style scoped>
.proof {
  display: flex;
  flex-direction: column;
  gap: 6px;
  background: var(--sheet);
  border: 1px solid var(--line);
  border-top: 4px solid var(--window-0);
  padding: 10px 14px;
  min-height: 0;
  overflow: hidden auto;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: start;
}
h2 {
  font-size: 0.875rem;
  margin: 0;
  overflow-wrap: anywhere;
}
p {
  margin: 0;
}
.proof > svg,
.tabs {
  flex: none;
}
.small {
  font-size: 0.6875rem;
  color: var(--quiet);
}
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
}
.tabs button {
  border: 1px solid var(--line);
  background: none;
  padding: 2px 6px;
  border-radius: 3px;
  cursor: pointer;
  font-size: 0.6875rem;
  white-space: nowrap;
}
.tabs .on {
  background: var(--soft);
  font-weight: 700;
}
</style>
