<script setup lang="ts">
/** The blocks of the draft: their order, one more, and the one that is chosen. */
import { storeToRefs } from "pinia";
import { computed } from "vue";
import type { Block, LedgerDescription, Statement } from "@/contract";
import * as edit from "@/model/brief";
import BlockAdd from "@/panels/briefs/BlockAdd.vue";
import BlockForm from "@/panels/briefs/BlockForm.vue";
import BlockList from "@/panels/briefs/BlockList.vue";
import { useBriefs } from "@/state/briefs";

const props = defineProps<{ ledger: LedgerDescription }>();
const chosen = defineModel<number | null>("chosen", { required: true });
const briefs = useBriefs();
const { brief, draft } = storeToRefs(briefs);
const block = computed(() => (chosen.value === null ? null : (brief.value?.blocks[chosen.value] ?? null)));
const captions = computed(() => draft.value?.blocks.map((each) => each.title || each.caption) ?? []);
const policy = computed(() => (brief.value?.as_of ?? { kind: "last_posted" }) as Statement["as_of"]);

function change(next: Block): void {
  if (brief.value && chosen.value !== null)
    void briefs.change(edit.changedBlock(brief.value, chosen.value, next));
}
function move(from: number, to: number): void {
  if (!brief.value) return;
  chosen.value = to;
  void briefs.change(edit.movedBlock(brief.value, from, to));
}
function remove(at: number): void {
  if (!brief.value) return;
  chosen.value = null;
  void briefs.change(edit.withoutBlock(brief.value, at));
}
/** A new block comes after the one that is chosen, else at the end. */
function add(next: Block): void {
  if (!brief.value) return;
  const at = chosen.value === null ? brief.value.blocks.length : chosen.value + 1;
  chosen.value = at;
  void briefs.change(edit.withBlock(brief.value, next, at));
}
defineExpose({ add });
</script>

<template>
  <BlockList
    v-if="brief"
    :blocks="brief.blocks"
    :chosen="chosen"
    :captions="captions"
    @choose="(at) => (chosen = at === chosen ? null : at)"
    @move="move"
    @remove="remove"
  />
  <p><BlockAdd :ledger="props.ledger.name" @add="add" /></p>
  <BlockForm
    v-if="block && chosen !== null"
    :key="chosen"
    :block="block"
    :ledger="ledger"
    :as-of="policy"
    :day="draft?.as_of ?? ''"
    @change="change"
  />
</template>

<style scoped>
p {
  margin: 10px 0;
}
</style>
