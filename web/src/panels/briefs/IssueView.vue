<script setup lang="ts">
/** A published issue as it is, with the proofs of its figures, its files, and the ways on to the living page. */
import { ref, shallowRef, watch } from "vue";
import { useRouter } from "vue-router";
import { provideNumbers } from "@/composables/numbers";
import type { IssueOpened, Proof } from "@/contract";
import { toAddress } from "@/model/address";
import { whole } from "@/model/statement";
import BriefSheet from "@/panels/briefs/BriefSheet.vue";
import IssueTools from "@/panels/briefs/IssueTools.vue";
import ProofWords from "@/panels/briefs/ProofWords.vue";
import Trouble from "@/parts/Trouble.vue";
import { openIssue, pageOf, useBriefs, type BriefFigure } from "@/state/briefs";
import { useReader } from "@/state/reader";
import { createSheet, provideSheet } from "@/state/sheet/sheet";
import { useLedgers } from "@/state/ledgers";

const props = defineProps<{ issue: number; place: number; reads?: boolean }>();
const emit = defineEmits<{ place: [place: number] }>();
const briefs = useBriefs();
const ledgers = useLedgers();
const router = useRouter();
const reader = useReader();
provideNumbers(() => reader.marks);
provideSheet(createSheet(null, () => reader.marks));
const opened = shallowRef<IssueOpened | null>(null);
const trouble = ref("");
const proof = shallowRef<{ proof: Proof; title: string; block: number } | null>(null);

watch(
  () => [props.issue, props.place],
  async () => {
    [trouble.value, proof.value, opened.value] = ["", null, null];
    try {
      opened.value = await openIssue(props.issue, props.place);
    } catch (error) {
      trouble.value = error instanceof Error ? error.message : String(error);
    }
  },
  { immediate: true },
);

async function prove(figure: BriefFigure): Promise<void> {
  const shown = opened.value;
  if (!shown) return;
  const found = await briefs.proofOf(shown.ledger, shown.blocks, figure, shown.record.version);
  trouble.value = briefs.refused;
  const block = shown.blocks[figure.block];
  proof.value = found && { proof: found, title: block?.title || block?.caption || "", block: figure.block };
}

/** The figures of a block as they are by now: their reader may change whatever the author released. */
function living(at: number): void {
  const block = opened.value?.blocks[at];
  if (!opened.value || !block) return;
  const question = {
    ledger: ledgers.addressOf(opened.value.ledger),
    statement: whole(block.statement),
    opened: block.opened,
  };
  const page =
    { movers: "movers", bridge: "movers", scorecard: "scorecard" }[block.kind as string] ?? "figures";
  const layout = { ...block.layout, page } as never;
  void router.push({ path: `/${page}`, query: toAddress({ question, selected: null, layout }) });
}
</script>

<template>
  <div class="issue" :class="{ proving: proof, reads }">
    <section class="paper" aria-label="The issue">
      <IssueTools
        v-if="opened"
        :opened="opened"
        :place="place"
        :reads="reads"
        @living="living"
        @place="(next) => emit('place', next)"
        @trouble="(words) => (trouble = words)"
      />
      <Trouble v-if="trouble" :message="trouble" />
      <div v-if="opened" class="scroll" tabindex="0" role="group" aria-label="The issue as it was published">
        <BriefSheet
          :src="pageOf(issue, place)"
          :title="opened.record.title"
          :wide="reads ? 0 : 900"
          @prove="prove"
        />
      </div>
    </section>
    <aside v-if="proof && opened" class="side">
      <ProofWords
        :proof="proof.proof"
        :title="proof.title"
        :version="opened.record.version"
        @close="proof = null"
      >
        <ElButton size="small" data-test="proof-living" @click="living(proof.block)"
          >Open the living page</ElButton
        >
      </ProofWords>
    </aside>
  </div>
</template>

<style scoped>
.issue {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 14px;
  min-height: 0;
}
.issue.proving {
  grid-template-columns: minmax(0, 1fr) 330px;
}
.paper {
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-height: 0;
}
.scroll,
.side {
  overflow: hidden auto;
  min-height: 0;
}
.scroll {
  flex: 1;
}
/* For readers the page scrolls as a whole. */
.issue.reads,
.reads .scroll {
  flex: none;
  overflow: visible;
}
@media (width < 700px) {
  .issue.proving {
    grid-template-columns: minmax(0, 1fr);
  }
  .issue.proving .side {
    order: -1;
    max-height: 46vh;
  }
}
</style>
