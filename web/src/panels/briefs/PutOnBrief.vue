<script setup lang="ts">
/** What is on screen put on a brief: which brief, and as what kind of block. */
import Option from "@/parts/Option.vue";
import { storeToRefs } from "pinia";
import { computed, onMounted, ref } from "vue";
import { useRouter } from "vue-router";
import type { BlockKind, Layout, LedgerDescription } from "@/contract";
import { emptyBrief, figureBlock, kindRefusal, withBlock } from "@/model/brief";
import type { Question } from "@/model/statement";
import Trouble from "@/parts/Trouble.vue";
import { useBriefs } from "@/state/briefs";
import { BLOCK_KINDS } from "@/words/briefs";

const props = defineProps<{ question: Question; layout: Layout; ledger: LedgerDescription; title: string }>();
const emit = defineEmits<{ close: [] }>();
const briefs = useBriefs();
const { list, refused } = storeToRefs(briefs);
const router = useRouter();
const NEW = 0;
const chosen = ref<number>(NEW);
const PAGES: Record<string, BlockKind> = { movers: "movers", scorecard: "scorecard" };
const kind = ref<BlockKind>(PAGES[props.layout.page] ?? (props.layout.chart ? "chart" : "table"));
onMounted(async () => {
  await briefs.refresh(props.ledger.name);
  chosen.value = list.value.briefs[0]?.kept.id ?? NEW;
});
const refusal = computed(() => kindRefusal(kind.value, props.question.statement));

async function put(): Promise<void> {
  const block = figureBlock(kind.value, props.question, props.layout, props.title);
  if (chosen.value === NEW) {
    const made = await briefs.added(withBlock(emptyBrief(`${props.title} brief`), block));
    if (!made) return;
  } else {
    briefs.open(chosen.value);
    if (!briefs.brief) return;
    await briefs.change(withBlock(briefs.brief, block));
    if (refused.value) return;
  }
  emit("close");
  void router.push({ path: "/briefs", query: { ledger: String(props.ledger.id), brief: String(briefs.id) } });
}
</script>

<template>
  <ElDialog
    :model-value="true"
    title="Put it on a brief"
    width="430px"
    data-test="put-on-brief"
    @close="emit('close')"
  >
    <ElForm label-position="top" @submit.prevent="put">
      <ElFormItem label="Brief">
        <ElSelect v-model="chosen" aria-label="Brief" data-test="which-brief">
          <Option
            v-for="each in list.briefs"
            :key="each.kept.id"
            :value="each.kept.id"
            :label="each.kept.brief.name"
          />
          <Option :value="NEW" label="a new brief" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="As">
        <ElSelect v-model="kind" aria-label="As" data-test="which-kind">
          <Option
            v-for="(words, each) in BLOCK_KINDS"
            :key="each"
            :value="each"
            :label="words.name"
            :disabled="!!kindRefusal(each, question.statement)"
          />
        </ElSelect>
      </ElFormItem>
    </ElForm>
    <Trouble v-if="refused || refusal" :message="refused || refusal || ''" />
    <template #footer>
      <ElButton @click="emit('close')">Leave it</ElButton>
      <ElButton type="primary" :disabled="!!refusal" data-test="put-it" @click="put">Put it there</ElButton>
    </template>
  </ElDialog>
</template>
