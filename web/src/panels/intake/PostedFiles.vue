<script setup lang="ts">
/** What is posted to a ledger by now: files by feed and month, versions, and the mappings that files take by themselves. */
import { storeToRefs } from "pinia";
import type { BatchRecord, KeptMapping } from "@/contract";
import { saveFile } from "@/model/saving";
import BatchList from "@/panels/intake/BatchList.vue";
import MappingsKept from "@/panels/intake/MappingsKept.vue";
import PostedRods from "@/panels/intake/PostedRods.vue";
import VersionList from "@/panels/intake/VersionList.vue";
import { usePostings } from "@/state/postings";

const props = defineProps<{ ledger: string; busy: boolean; sought: number | null }>();
const emit = defineEmits<{ changed: []; replace: [batch: BatchRecord] }>();
const postings = usePostings();
const { batches, months, versions, mappings, forgotten, busy: changing } = storeToRefs(postings);

async function takeOut(batch: number, leaveHole: boolean): Promise<void> {
  await postings.withdraw(props.ledger, batch, leaveHole);
  emit("changed");
}

async function takeIn(batch: number): Promise<void> {
  await postings.restore(props.ledger, batch);
  emit("changed");
}

async function saveMapping(kept: KeptMapping): Promise<void> {
  const text = await postings.exportMapping(props.ledger, kept.shape);
  saveFile(`${kept.mapping.name}.mapping.json`, "application/json", text);
}
</script>

<template>
  <section class="batches" data-guide="posted" aria-label="Posted files">
    <h2>Posted to {{ ledger }}</h2>
    <ElEmpty
      v-if="!batches.length"
      :image-size="60"
      description="Nothing is posted here yet: drop a file above."
    />
    <template v-else>
      <PostedRods :months="months" />
      <BatchList
        :batches="batches"
        :busy="busy || changing"
        :sought="sought"
        @withdraw="takeOut"
        @restore="takeIn"
        @replace="(batch) => emit('replace', batch)"
      />
    </template>
    <ElCollapse>
      <ElCollapseItem v-if="versions.length" name="versions">
        <template #title>Versions: who changed what, and when ({{ versions.length }})</template>
        <VersionList :versions="versions" />
      </ElCollapseItem>
      <ElCollapseItem name="mappings">
        <template #title
          ><span data-test="mappings"
            >Mappings that files take by themselves ({{ mappings.rows.length }})</span
          ></template
        >
        <MappingsKept
          :mappings="mappings"
          :busy="changing"
          :forgotten="!!forgotten"
          @back="postings.takeBackMapping(ledger)"
          @save="saveMapping"
          @forget="(shape) => postings.forgetMapping(ledger, shape)"
          @take="(exported) => postings.importMapping(ledger, exported)"
        />
      </ElCollapseItem>
    </ElCollapse>
  </section>
</template>

<style scoped>
h2 {
  font-size: 0.875rem;
  margin: 4px 0;
}
.batches {
  flex: 1;
  min-height: 260px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
</style>
