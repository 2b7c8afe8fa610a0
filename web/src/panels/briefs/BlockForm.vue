<script setup lang="ts">
/** The block that is chosen: its title, width, kind, statement and as-of date; or its text. */
import Option from "@/parts/Option.vue";
import { computed, ref } from "vue";
import type { Block, BlockKind, FigureBlock, LedgerDescription, Statement } from "@/contract";
import { isFigures, kindRefusal } from "@/model/brief";
import BlockStatement from "@/panels/briefs/BlockStatement.vue";
import Day from "@/parts/Day.vue";
import Field from "@/parts/Field.vue";
import { useStatements } from "@/state/statements";
import { POLICIES } from "@/words/calendar";
import { BLOCK_KINDS } from "@/words/briefs";

const props = defineProps<{
  block: Block;
  ledger: LedgerDescription;
  asOf: Statement["as_of"];
  day: string;
}>();
const emit = defineEmits<{ change: [block: Block] }>();
const statements = useStatements();
const editing = ref(false);
const figures = computed(() => (isFigures(props.block) ? props.block : null));
const kept = computed(() => statements.found.saved.find((each) => each.id === figures.value?.kept) ?? null);

function set(values: Partial<FigureBlock>): void {
  if (figures.value) emit("change", { ...figures.value, ...values });
}

/** Which as-of date counts: the brief's, a policy of its own, or a day of its own. */
const own = computed(() => {
  const policy = figures.value?.as_of;
  if (!policy) return "brief";
  if (policy.kind === "pinned") return "day";
  return String(POLICIES.findIndex((each) => JSON.stringify(each.policy) === JSON.stringify(policy)));
});
function follow(chosen: string): void {
  if (chosen === "brief") set({ as_of: null });
  else if (chosen === "day") set({ as_of: { kind: "pinned", day: props.day } });
  else set({ as_of: POLICIES[Number(chosen)]?.policy ?? null });
}

function takeStatement(statement: Statement): void {
  editing.value = false;
  // What is changed in place follows no kept statement any more.
  set({ statement, kept: 0, title: figures.value?.title || (kept.value?.name ?? "") });
}
</script>

<template>
  <div class="form" data-test="block-form">
    <template v-if="block.kind === 'text'">
      <Field
        :value="block.text"
        type="textarea"
        :autosize="{ minRows: 5, maxRows: 16 }"
        aria-label="Text in Markdown"
        data-test="block-text"
        @change="(text) => block.kind === 'text' && emit('change', { ...block, text })"
      />
      <small>Markdown: **bold**, *slanted*, lists with -, links. {month} and {as_of} are filled in.</small>
    </template>
    <template v-if="figures">
      <label
        >Title
        <Field
          :value="figures.title"
          :placeholder="kept?.name ?? 'what the statement is called'"
          data-test="block-title"
          @change="(title) => set({ title })"
        />
      </label>
      <label
        >Read as
        <ElSelect
          :model-value="figures.kind"
          aria-label="Read as"
          data-test="block-kind"
          @change="(kind: BlockKind) => set({ kind })"
        >
          <Option
            v-for="(words, each) in BLOCK_KINDS"
            :key="each"
            :value="each"
            :label="words.name"
            :disabled="!!kindRefusal(each, figures.statement)"
          />
        </ElSelect>
      </label>
      <label
        >As of
        <ElSelect :model-value="own" aria-label="As of" data-test="block-as-of" @change="follow">
          <Option value="brief" label="the brief's date" />
          <Option v-for="(each, at) in POLICIES" :key="each.words" :value="String(at)" :label="each.words" />
          <Option value="day" label="a day of its own" />
        </ElSelect>
      </label>
      <Day
        v-if="figures.as_of?.kind === 'pinned'"
        :model-value="figures.as_of.day"
        required
        aria-label="As-of date of this block"
        @change="(day) => day && set({ as_of: { kind: 'pinned', day } })"
      />
      <p v-if="kept" class="quiet">Follows the kept statement “{{ kept.name }}”.</p>
      <ElButton data-test="edit-statement" @click="editing = true">Change its statement</ElButton>
      <BlockStatement
        v-if="editing"
        :block="figures"
        :ledger="ledger"
        :as-of="asOf"
        @take="takeStatement"
        @close="editing = false"
      />
    </template>
    <ElRadioGroup
      v-if="block.kind === 'text' || (figures && figures.kind !== 'headline')"
      :model-value="(block as FigureBlock).width"
      aria-label="Width"
      @change="(width) => emit('change', { ...block, width } as Block)"
    >
      <ElRadioButton value="half" label="half the page" />
      <ElRadioButton value="full" label="whole width" data-test="width-full" />
    </ElRadioGroup>
    <slot />
  </div>
</template>

<style scoped>
.form {
  display: grid;
  gap: 8px;
  justify-items: stretch;
}
label {
  display: grid;
  gap: 2px;
  font-size: var(--size-note);
  color: var(--quiet);
}
p,
small {
  margin: 0;
  color: var(--quiet);
  font-size: var(--size-note);
}
</style>
