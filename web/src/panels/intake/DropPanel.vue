<script setup lang="ts">
/** Where files come from: dropped, chosen, or read from a database; and what became of the last ones. */
import { useNumbers } from "@/composables/numbers";
import { ref } from "vue";
import type { DatabasePreview, Posting } from "@/contract";
import DatabaseForm from "@/panels/intake/DatabaseForm.vue";
import Busy from "@/parts/Busy.vue";
import type { Doing } from "@/state/intake";

const { count, grouped } = useNumbers();
defineProps<{
  busy: string;
  doing: Doing | null;
  posted: Posting | null;
  look: (url: string, query: string) => Promise<DatabasePreview>;
}>();
const emit = defineEmits<{
  files: [files: File[]];
  fetch: [url: string, query: string];
  stop: [];
  figures: [];
}>();
const over = ref(false);
const fromDatabase = ref(false);

function take(files: FileList | null | undefined): void {
  over.value = false;
  if (files?.length) emit("files", [...files]);
}

function picked(event: Event): void {
  const input = event.target as HTMLInputElement;
  take(input.files);
  input.value = "";
}
</script>

<template>
  <section
    class="drop"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="take($event.dataTransfer?.files)"
  >
    <p>
      <strong>Drop files here</strong>, one or several: sales lines, returns, lookups, as CSV or other
      delimited text, XLSX or Parquet, each also gzipped.
    </p>
    <label class="pick"
      >Choose files<input type="file" multiple class="hidden" data-test="files" @change="picked"
    /></label>
    <ElButton link data-test="from-database" @click="fromDatabase = !fromDatabase">
      Read from a database
    </ElButton>
    <DatabaseForm
      v-if="fromDatabase"
      :busy="!!busy"
      :look="look"
      @fetch="(url, query) => emit('fetch', url, query)"
    />
    <p class="quiet">Nothing is posted until you confirm it.</p>
    <p v-if="busy"><Busy :words="busy" :doing="doing" @stop="emit('stop')" /></p>
    <p v-if="posted" class="done" role="status" data-test="posted">
      Posted {{ count(posted.lines, "line") }}, {{ grouped(posted.amount) }} net, as version
      {{ posted.version }}.
      <ElButton link data-test="to-figures" @click="emit('figures')"> See the figures </ElButton>
    </p>
  </section>
</template>

<style scoped>
.drop {
  border: 2px dashed var(--rod);
  background: var(--sheet);
  text-align: center;
  padding: 14px 22px;
  border-radius: 6px;
}
.drop p {
  margin: 4px 0;
}
.over {
  background: var(--window-soft-0);
}
.pick {
  display: inline-block;
  background: var(--window-0);
  color: #fff;
  border: 0;
  border-radius: 3px;
  padding: 6px 14px;
  cursor: pointer;
  margin: 6px 0;
}
.pick:focus-within {
  outline: 2px solid var(--ink);
}
.done {
  color: var(--favourable);
  font-weight: 700;
}
</style>
