<script setup lang="ts">
/** The sentences above a page, made by rules from exact figures: each figure leads to its proof. They can be copied. */
import { useNumbers } from "@/composables/numbers";
import { useClipboard } from "@vueuse/core";
import type { MemberKey, LinkedWords } from "@/contract";

defineProps<{ sentences: LinkedWords[][]; text: string }>();
const emit = defineEmits<{ prove: [path: MemberKey[], column: string] }>();
const { words } = useNumbers();
const { copy, copied } = useClipboard();

function favour({ favour: way }: LinkedWords): string {
  return way > 0 ? "favourable" : way < 0 ? "adverse" : "";
}
</script>

<template>
  <p v-if="sentences.length" class="told" data-test="told" data-guide="words">
    <span v-for="(sentence, at) in sentences" :key="at"
      ><template v-for="(piece, place) in sentence" :key="place"
        ><ElButton
          v-if="piece.column"
          link
          class="linked"
          :class="favour(piece)"
          @click="emit('prove', piece.path ?? [], piece.column)"
          >{{ piece.number ? words(piece.text) : piece.text }}</ElButton
        ><template v-else>{{ words(piece.text) }}</template></template
      >{{ " " }}</span
    ><ElButton link class="copy" data-test="copy-told" @click="copy(words(text))">{{
      copied ? "Copied ✓" : "copy"
    }}</ElButton>
  </p>
</template>

<style scoped>
.told {
  margin: 0;
  font: 400 1.0625rem/1.5 var(--serif);
}
.linked,
.linked :deep(span) {
  display: inline;
}
.linked {
  font: inherit;
  height: auto;
  padding: 0;
  margin: 0;
  vertical-align: baseline;
  color: inherit;
  border-bottom: 1px dotted var(--wood);
  border-radius: 0;
}
.favourable {
  color: var(--favourable);
}
.adverse {
  color: var(--adverse);
}
.copy {
  font-size: 0.78rem;
}
</style>
