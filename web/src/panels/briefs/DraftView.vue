<script setup lang="ts">
/** The draft of the next issue: the page as it will be, beside what it is put together from. */
import { useDebounceFn } from "@vueuse/core";
import { storeToRefs } from "pinia";
import { computed, onScopeDispose, ref, shallowRef, watch } from "vue";
import type { CopyMember, LedgerDescription, MailLog, Proof } from "@/contract";
import BlockAdd from "@/panels/briefs/BlockAdd.vue";
import BlocksPane from "@/panels/briefs/BlocksPane.vue";
import BriefForm from "@/panels/briefs/BriefForm.vue";
import BriefSheet from "@/panels/briefs/BriefSheet.vue";
import DraftTools from "@/panels/briefs/DraftTools.vue";
import HandingForm from "@/panels/briefs/HandingForm.vue";
import MailTable from "@/panels/briefs/MailTable.vue";
import ProofWords from "@/panels/briefs/ProofWords.vue";
import PublishDialog from "@/panels/briefs/PublishDialog.vue";
import Trouble from "@/parts/Trouble.vue";
import { useBriefs, watchMails, type BriefFigure } from "@/state/briefs";
import { createSheet, provideSheet } from "@/state/sheet/sheet";
import { useStatements } from "@/state/statements";
import { provideNumbers } from "@/composables/numbers";
import { useReader } from "@/state/reader";

const props = defineProps<{ ledger: LedgerDescription }>();
const emit = defineEmits<{ published: [issue: number]; forget: [] }>();
const briefs = useBriefs();
const { brief, handing, draft, pages, composing, refused, listed, publishing } = storeToRefs(briefs);
const reader = useReader();
provideNumbers(() => reader.marks);
provideSheet(createSheet(null, () => reader.marks));
void useStatements().refresh(props.ledger.name);
/** Pixels of the page at its own size. */
const WIDE = 900;

const tab = ref("blocks");
const chosen = ref<number | null>(null);
const printed = ref(false);
const copy = shallowRef<CopyMember | null>(null);
const members = shallowRef<CopyMember[]>([]);
const blocks = ref<InstanceType<typeof BlocksPane> | null>(null);
const next = computed(() => (listed.value?.issues[0]?.number ?? 0) + 1);

const again = useDebounceFn(() => briefs.compose(props.ledger.version, copy.value, printed.value), 150);
watch([brief, copy, printed, () => props.ledger.version], again, { immediate: true });
watch(
  () => brief.value?.copies,
  async (copies) => {
    copy.value = null;
    members.value = copies ? await briefs.members() : [];
  },
  { immediate: true },
);

function pick(at: number): void {
  chosen.value = at;
  tab.value = "blocks";
}

const proof = shallowRef<{ proof: Proof; title: string } | null>(null);
async function prove(figure: BriefFigure): Promise<void> {
  const shown = draft.value;
  if (!shown) return;
  const found = await briefs.proofOf(props.ledger.name, shown.blocks, figure, shown.version);
  const of = shown.blocks[figure.block];
  proof.value = found && { proof: found, title: of?.title || of?.caption || "" };
}
watch(draft, () => (proof.value = null));

const log = shallowRef<MailLog | null>(null);
onScopeDispose(watchMails(props.ledger.name, null, (found) => (log.value = found)));
const asking = ref(false);
async function publish(day: string | null, handOut: boolean): Promise<void> {
  const issue = await briefs.publish(day, handOut);
  asking.value = false;
  if (issue !== null) emit("published", issue);
}
</script>

<template>
  <div v-if="brief" class="draft">
    <section class="paper" aria-label="The page">
      <DraftTools
        v-model:printed="printed"
        v-model:copy="copy"
        :members="members"
        :composing="composing"
        :next="next"
        :ready="!!draft"
        @publish="asking = true"
      />
      <Trouble v-if="refused" :message="refused" />
      <div
        class="scroll"
        :class="{ composing }"
        tabindex="0"
        role="group"
        aria-label="The page as it will be"
      >
        <ElEmpty v-if="!brief.blocks.length" description="Nothing is on this page yet">
          <BlockAdd :ledger="ledger.name" @add="(next) => blocks?.add(next)" />
        </ElEmpty>
        <template v-else-if="printed">
          <img
            v-for="(each, at) in pages"
            :key="at"
            :src="each"
            class="sheet-of-paper"
            :alt="`Page ${at + 1} of ${pages.length} as it will print`"
            data-test="printed-page"
          />
        </template>
        <BriefSheet
          v-else-if="draft"
          :html="draft.html"
          :title="draft.title"
          :wide="WIDE"
          :chosen="chosen"
          picks
          @pick="pick"
          @prove="prove"
        />
      </div>
    </section>
    <aside class="side" aria-label="What it is put together from" data-guide="briefs">
      <ProofWords
        v-if="proof && draft"
        :proof="proof.proof"
        :title="proof.title"
        :version="draft.version"
        @close="proof = null"
      />
      <ElTabs v-model="tab">
        <ElTabPane label="Blocks" name="blocks">
          <BlocksPane ref="blocks" v-model:chosen="chosen" :ledger="ledger" />
        </ElTabPane>
        <ElTabPane label="Page" name="page" lazy>
          <BriefForm :brief="brief" :ledger="ledger" :as-of="draft?.as_of ?? null" @change="briefs.change" />
          <ElPopconfirm
            title="Keep this brief no more? Its issues stay."
            width="220"
            @confirm="emit('forget')"
          >
            <template #reference
              ><ElButton link data-test="forget-brief">Keep this brief no more</ElButton></template
            >
          </ElPopconfirm>
        </ElTabPane>
        <ElTabPane label="Hand out" name="handing" lazy>
          <HandingForm
            v-if="briefs.id !== null"
            :handing="handing"
            :ledger="ledger"
            :copies="brief.copies"
            :members="members"
            :about="log?.about ?? null"
            :brief="briefs.id"
            @change="briefs.changeHanding"
          />
          <MailTable :log="log" />
        </ElTabPane>
      </ElTabs>
    </aside>
    <PublishDialog
      v-if="draft"
      v-model="asking"
      :number="next"
      :draft="draft"
      :handing="handing"
      :copies="members.length"
      :job="publishing"
      @publish="publish"
      @stop="briefs.stopPublishing"
    />
  </div>
</template>

<style scoped src="./draft.css"></style>
