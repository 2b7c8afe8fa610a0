<script setup lang="ts">
/** The proof of a figure of a brief in words: its formula with the figures, days and lines, on the version it was answered on. */
import { computed } from "vue";
import type { Proof } from "@/contract";
import ProofFormula from "@/panels/proof/ProofFormula.vue";
import ProofFrame from "@/parts/ProofFrame.vue";
import { capital, measureName } from "@/words/names";
import { provedHeading, provedRow } from "@/words/proof";

const props = defineProps<{ proof: Proof; title: string; version: number }>();
const emit = defineEmits<{ close: [] }>();
const heading = computed(() => provedHeading(props.proof));
const name = computed(() => provedRow(props.proof));
</script>

<template>
  <section class="proof" aria-label="Proof" data-test="brief-proof">
    <header>
      <h2>{{ name }} · {{ heading }}</h2>
      <ElButton link aria-label="Close the proof" @click="emit('close')">✕</ElButton>
    </header>
    <p class="quiet">{{ title }}</p>
    <p class="quiet">{{ capital(measureName(proof.column.measure)) }}, on version {{ version }}</p>
    <ProofFormula :proof="proof" :heading="heading" />
    <ProofFrame :operands="proof.operands" />
    <slot />
  </section>
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
}
header {
  display: flex;
  justify-content: space-between;
  align-items: start;
}
h2 {
  font-size: 0.875rem;
  margin: 0;
}
p {
  margin: 0;
  font-size: var(--size-note);
}
</style>
