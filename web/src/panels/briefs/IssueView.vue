<script setup lang="ts">
/** A published issue as it is, with the proofs of its figures, its files, and the ways on to the living page. */
import { onScopeDispose, ref, shallowRef, watch } from "vue";
import { useRouter } from "vue-router";
import { provideNumbers } from "@/composables/numbers";
import type { IssueOpened, MailLog, Proof } from "@/contract";
import { toAddress } from "@/model/address";
import { whole } from "@/model/statement";
import BriefSheet from "@/panels/briefs/BriefSheet.vue";
import IssueFiles from "@/panels/briefs/IssueFiles.vue";
import MailTable from "@/panels/briefs/MailTable.vue";
import ProofWords from "@/panels/briefs/ProofWords.vue";
import Trouble from "@/parts/Trouble.vue";
import { handOut, openIssue, pageOf, useBriefs, watchMails, type BriefFigure } from "@/state/briefs";
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

const log = shallowRef<MailLog | null>(null);
let stop: (() => void) | undefined;
watch(
  opened,
  (found) => {
    stop?.();
    if (found && !props.reads)
      stop = watchMails(found.ledger, found.record.id, (mails) => (log.value = mails));
  },
  { immediate: true },
);
onScopeDispose(() => stop?.());
const said = ref("");
async function hand(): Promise<void> {
  trouble.value = said.value = "";
  try {
    const count = await handOut(props.issue, null);
    said.value = count ? `${count} on the way.` : "Everybody has it already.";
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error);
  }
}
</script>

<template>
  <div class="issue" :class="{ proving: proof, reads }">
    <section class="paper" aria-label="The issue">
      <div v-if="opened" class="tools">
        <ElDropdown trigger="click" @command="living">
          <ElButton data-test="living-page">Open the living page</ElButton>
          <template #dropdown>
            <ElDropdownMenu>
              <ElDropdownItem
                v-for="(block, at) in opened.blocks"
                :key="at"
                :command="at"
                :data-test="`living-${at}`"
                >{{ block.title || block.caption }}</ElDropdownItem
              >
            </ElDropdownMenu>
          </template>
        </ElDropdown>
        <IssueFiles :issue="issue" :place="place" />
        <ElSelect
          v-if="opened.record.copies.length > 1"
          :model-value="place"
          class="copies"
          aria-label="Whose copy"
          data-test="issue-copy"
          @change="(next: number) => emit('place', next)"
        >
          <ElOption
            v-for="each in opened.record.copies"
            :key="each.place"
            :value="each.place"
            :label="each.place ? each.label : 'the whole'"
          />
        </ElSelect>
        <span class="checksum" :title="`The content agrees with its checksum ${opened.record.checksum}`"
          >✓ as published, {{ opened.record.checksum.slice(0, 12) }}</span
        >
        <span v-if="said" role="status">{{ said }}</span>
        <ElPopover v-if="!reads" trigger="click" :width="460" placement="bottom-end">
          <template #reference><ElButton data-test="issue-mails">Hand out</ElButton></template>
          <ElButton type="primary" size="small" data-test="hand-out" @click="hand"
            >Send it to its people</ElButton
          >
          <MailTable :log="log" />
        </ElPopover>
      </div>
      <Trouble v-if="trouble" :message="trouble" />
      <div v-if="opened" class="scroll">
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
.tools {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
.copies {
  width: 170px;
}
.checksum {
  margin-left: auto;
  color: var(--quiet);
  font-size: var(--size-note);
}
.scroll,
.side {
  overflow: hidden auto;
  min-height: 0;
}
.scroll {
  flex: 1;
}
@media (width < 700px) {
  .issue.proving {
    grid-template-columns: minmax(0, 1fr);
  }
  .issue.proving .side {
    order: -1;
    max-height: 46vh;
  }
  .checksum {
    margin-left: 0;
  }
}
</style>
