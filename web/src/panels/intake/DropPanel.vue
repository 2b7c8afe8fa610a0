<script setup lang="ts">
/** Where files come from: dropped, chosen, or read from a database; and what became of the last ones. */
import { useNumbers } from "@/composables/numbers";
import type { UploadFile } from "element-plus";
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
const fromDatabase = ref(false);
/** Files that are dropped or chosen together come one by one, in the same turn. */
let together: File[] = [];
function picked(file: UploadFile): void {
  if (!file.raw) return;
  if (!together.length)
    queueMicrotask(() => {
      emit("files", together);
      together = [];
    });
  together.push(file.raw);
}
</script>

<template>
  <section class="drop">
    <ElUpload
      drag
      multiple
      :auto-upload="false"
      :show-file-list="false"
      :on-change="picked"
      data-test="files"
    >
      <p>
        <strong>Drop files here, or click to choose them</strong>: sales lines, returns, lookups, as CSV or
        other delimited text, XLSX or Parquet, each also gzipped.
      </p>
    </ElUpload>
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
  text-align: center;
}
.drop p {
  margin: 4px 0;
}
.done {
  color: var(--favourable);
  font-weight: 700;
}
</style>
