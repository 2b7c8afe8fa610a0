<script setup lang="ts">
/** What a page of a statement shows, with the proof of a figure beside it and the notice line below. */
import { toRefs } from "vue";
import type { Answer, LineChange } from "@/contract";
import NoticePanel from "@/panels/NoticePanel.vue";
import SidePanel from "@/panels/proof/SidePanel.vue";
import { useSheet } from "@/state/sheet/sheet";

defineProps<{
  answer: Answer;
  /** The ledger by its name. */
  ledger: string;
  correct: (line: number, change: LineChange | null, reason: string) => Promise<string>;
}>();
const emit = defineEmits<{ close: [] }>();
const sheet = useSheet();
const { proof, check, checkRefused } = toRefs(sheet);
</script>

<template>
  <div class="board" :class="{ proving: !!proof }">
    <slot :proving="!!proof" />
    <SidePanel
      :proof="proof"
      :pasting="false"
      :told="null"
      :fill="sheet.fillAll"
      :currency="answer.currency"
      :ledger="ledger"
      :correct="correct"
      @close-proof="emit('close')"
    />
  </div>
  <NoticePanel
    :answer="answer"
    :check="check"
    :refused="checkRefused"
    :outdated="false"
    :hidden-periods="0"
  />
</template>

<style scoped>
.board {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
}
.board.proving {
  grid-template-columns: minmax(0, 1fr) clamp(330px, 25vw, 480px);
}
</style>
