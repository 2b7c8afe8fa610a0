<script setup lang="ts">
/** What stands beside the table: the proof of a number, or a known answer that the table is checked against. */
import { defineAsyncComponent, onMounted } from "vue";
import type { LineChange, MemberKey, Proof } from "@/contract";
import type { Told } from "@/words/table";

defineProps<{
  proof: Proof | null;
  pasting: boolean;
  told: Told | null;
  fill: () => Promise<boolean>;
  currency: string;
  ledger: string;
  correct: (line: number, change: LineChange | null, reason: string) => Promise<string>;
}>();
const emit = defineEmits<{
  prove: [path: MemberKey[], column: string, rest: boolean];
  closeProof: [];
  closePasted: [];
}>();
/** The proof is a click away: it is loaded once the page is there and quiet, in milliseconds. */
const SOON = 3000;
const loadProof = () => import("@/panels/proof/ProofPanel.vue");
const ProofPanel = defineAsyncComponent(loadProof);
const PastedPanel = defineAsyncComponent(() => import("@/panels/PastedPanel.vue"));
onMounted(() => setTimeout(loadProof, SOON));
</script>

<template>
  <ProofPanel
    v-if="proof"
    :proof="proof"
    :currency="currency"
    :ledger="ledger"
    :correct="correct"
    @close="emit('closeProof')"
  />
  <PastedPanel
    v-else-if="pasting && told"
    :told="told"
    :fill="fill"
    @prove="(path, column, rest) => emit('prove', path, column, rest)"
    @close="emit('closePasted')"
  />
</template>
