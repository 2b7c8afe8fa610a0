<script setup lang="ts">
/** What can be put on a brief: a kept statement or a common question, read as a kind of block; or a block without figures. */
import Option from "@/parts/Option.vue";
import { computed, ref } from "vue";
import type { Block, BlockKind, SavedStatement } from "@/contract";
import { PLAIN } from "@/contract/vocabulary";
import { figureBlock, kindRefusal } from "@/model/brief";
import { whole } from "@/model/statement";
import { wholeLayout } from "@/model/layout";
import { BLOCK_KINDS, OTHER_BLOCKS } from "@/words/briefs";
import { useStatements } from "@/state/statements";
import { storeToRefs } from "pinia";

const props = defineProps<{ ledger: string }>();
const emit = defineEmits<{ add: [block: Block] }>();
const statements = useStatements();
const { found } = storeToRefs(statements);
const shown = ref(false);
const name = ref("");
const kind = ref<BlockKind>("table");

async function opened(): Promise<void> {
  await statements.refresh(props.ledger);
  name.value ||= [...found.value.saved, ...found.value.offered][0]?.name ?? "";
}
const groups = computed(() =>
  [
    ["Kept", found.value.saved],
    ["Common questions", found.value.offered],
  ].filter((each): each is [string, SavedStatement[]] => each[1]!.length > 0),
);
const taken = computed<SavedStatement | null>(
  () => [...found.value.saved, ...found.value.offered].find((each) => each.name === name.value) ?? null,
);
const refusal = (each: BlockKind): string | null =>
  taken.value ? kindRefusal(each, whole(taken.value.statement)) : "Choose a statement.";

function add(): void {
  if (!taken.value || refusal(kind.value)) return;
  const { statement, opened: rows, layout, id, saved_at } = taken.value;
  const laid = layout ? wholeLayout(layout) : PLAIN;
  // A statement that is kept is followed by its number; one that is offered is put down as it is.
  const question = { statement: whole(statement), opened: rows };
  const title = saved_at ? "" : taken.value.name;
  emit(
    "add",
    figureBlock(kind.value, question, laid, kind.value === "headline" ? "" : title, saved_at ? id : 0),
  );
  shown.value = false;
}

function addOther(other: "text" | "restated" | "break"): void {
  emit("add", other === "text" ? { kind: "text", text: "Write here.", width: "full" } : { kind: other });
  shown.value = false;
}
</script>

<template>
  <ElPopover v-model:visible="shown" trigger="click" placement="left-start" :width="400" @show="opened">
    <template #reference>
      <ElButton type="primary" data-test="add-block">Add a block</ElButton>
    </template>
    <div class="add">
      <div class="from">
        From
        <ElSelect
          v-model="name"
          :teleported="false"
          filterable
          aria-label="Statement"
          data-test="block-statement"
        >
          <ElOptionGroup v-for="[title, list] in groups" :key="title" :label="title">
            <Option v-for="each in list" :key="each.name" :value="each.name" :label="each.name" />
          </ElOptionGroup>
        </ElSelect>
      </div>
      <ElRadioGroup v-model="kind" class="kinds" aria-label="As">
        <ElRadio
          v-for="(words, each) in BLOCK_KINDS"
          :key="each"
          :value="each"
          :disabled="!!refusal(each)"
          :data-test="`kind-${each}`"
          >{{ words.name }} <small>{{ refusal(each) ?? words.about }}</small></ElRadio
        >
      </ElRadioGroup>
      <ElButton type="primary" :disabled="!!refusal(kind)" data-test="put-down" @click="add"
        >Put it down</ElButton
      >
      <p class="others">
        or
        <ElButton
          v-for="(words, each) in OTHER_BLOCKS"
          :key="each"
          link
          :title="words.about"
          :data-test="`add-${each}`"
          @click="addOther(each)"
          >{{ words.name }}</ElButton
        >
      </p>
    </div>
  </ElPopover>
</template>

<style scoped>
.add {
  display: grid;
  gap: 8px;
  justify-items: start;
}
.from {
  display: flex;
  gap: 8px;
  align-items: center;
  width: 100%;
}
.from :deep(.el-select) {
  flex: 1;
  width: auto;
}
.kinds {
  display: grid;
  justify-items: start;
}
.kinds :deep(.el-radio) {
  height: auto;
  min-height: 26px;
  white-space: normal;
  margin: 0;
}
small {
  color: var(--quiet);
  margin-left: 4px;
}
.others {
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0 10px;
}
.others :deep(.el-button) {
  margin: 0;
}
</style>
