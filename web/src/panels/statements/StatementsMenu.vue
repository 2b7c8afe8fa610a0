<script setup lang="ts">
/** What can be opened in one step: kept statements by folder, and the common questions; and the one on screen, to be kept. */
import { storeToRefs } from "pinia";
import { computed, ref, shallowRef, toRefs, watch } from "vue";
import type { SavedStatement } from "@/contract";
import { whole, type Question } from "@/model/statement";
import KeepForm from "@/panels/statements/KeepForm.vue";
import KeptRow from "@/panels/statements/KeptRow.vue";
import Part from "@/parts/Part.vue";
import { useSheet } from "@/state/sheet/sheet";
import { useStatements } from "@/state/statements";

const props = defineProps<{ question: Question }>();
const emit = defineEmits<{ open: [saved: SavedStatement] }>();

const statements = useStatements();
const { found, opened, refused, forgotten } = storeToRefs(statements);
const sheet = useSheet();
const { layout } = toRefs(sheet);

/** What the questions that are offered come to by now: their windows in words, by name. */
const told = shallowRef(new Map<string, string>());
async function listed(now: boolean): Promise<void> {
  if (!now) return;
  text.value = "";
  await statements.refresh(props.question.ledger);
  const { offered } = found.value;
  const previews = await sheet.previews(offered.map((each) => whole(each.statement)));
  const words = previews.map((each) => each.windows.map((window) => window.words).join("; against "));
  told.value = new Map(offered.map((each, at) => [each.name, words[at] ?? ""]));
}

const text = ref("");
function byFolder(list: SavedStatement[]): [string, SavedStatement[]][] {
  const folders = new Map<string, SavedStatement[]>();
  const wanted = text.value.trim().toLocaleLowerCase();
  for (const each of list)
    if (each.name.toLocaleLowerCase().includes(wanted))
      folders.set(each.folder, [...(folders.get(each.folder) ?? []), each]);
  return [...folders];
}
const kept = computed(() => byFolder(found.value.saved));
const offered = computed(() => byFolder(found.value.offered));
const tab = ref("kept");
/** Until something is kept, the questions that are offered come first. */
watch(
  [kept, offered],
  () => {
    const tabs = [...(kept.value.length ? ["kept"] : []), ...offered.value.map((_, at) => `offered-${at}`)];
    if (tabs[0] && !tabs.includes(tab.value)) tab.value = tabs[0];
  },
  { immediate: true },
);

/** Whether what is on screen is still the one that was opened last. */
const same = (one: SavedStatement): boolean =>
  JSON.stringify(whole(one.statement)) === JSON.stringify(props.question.statement);
const known = computed(
  () =>
    // Of several that say the same, it is the one that was opened.
    [...(opened.value ? [opened.value] : []), ...found.value.saved, ...found.value.offered].find(same) ??
    opened.value ??
    undefined,
);
const changed = computed(() => !!known.value && !same(known.value));
watch(
  () => props.question.ledger,
  () => (opened.value = null),
);

async function keep(
  kept: { name: string; folder: string; description: string },
  close: () => void,
): Promise<void> {
  if (!(await statements.save(props.question, layout.value, kept.name, kept.folder, kept.description)))
    return;
  opened.value = found.value.saved.find((each) => each.name === kept.name.trim()) ?? null;
  close();
}
</script>

<template>
  <Part v-slot="{ close }" name="statements" :label="known?.name ?? 'Statements'" tool framed @open="listed">
    <div class="menu">
      <ElInput
        v-model="text"
        clearable
        placeholder="Find a statement or a question"
        aria-label="Find a statement or a question"
        data-test="find-statement"
      />
      <ElTabs v-model="tab">
        <ElTabPane v-if="found.saved.length" label="Kept" name="kept">
          <section v-for="[title, list] in kept" :key="title" :aria-label="title || 'Kept'">
            <h2 v-if="title">{{ title }}</h2>
            <KeptRow
              v-for="each in list"
              :key="each.name"
              :saved="each"
              @take="(saved) => (close(), emit('open', saved))"
              @duplicate="statements.duplicate(question.ledger, each)"
              @delete="statements.forget(question.ledger, each)"
            />
          </section>
        </ElTabPane>
        <ElTabPane v-for="([title, list], at) in offered" :key="title" :label="title" :name="`offered-${at}`">
          <KeptRow
            v-for="each in list"
            :key="each.name"
            :saved="{ ...each, description: told.get(each.name) ?? '' }"
            @take="(saved) => (close(), emit('open', saved))"
          />
        </ElTabPane>
      </ElTabs>
      <p v-for="each in found.unreadable" :key="each.name" data-test="unreadable-statement">
        {{ each.name }} is not understood by this version: {{ each.why }}.
      </p>
      <p v-if="forgotten" class="gone" data-test="deleted">
        “{{ forgotten }}” is deleted.
        <ElButton link data-test="take-back" @click="statements.takeBack(question.ledger)">
          Take it back
        </ElButton>
      </p>
    </div>
  </Part>
  <small v-if="changed" class="changed" data-test="changed"
    >changed since {{ known?.saved_at ? "kept" : "opened" }}</small
  >
  <Part v-slot="{ close }" name="keep" label="Keep" tool @open="listed">
    <KeepForm
      :opened="opened?.saved_at ? opened : null"
      :taken="found.saved.map((each) => each.name)"
      :refused="refused"
      @keep="(kept) => keep(kept, close)"
    />
  </Part>
</template>

<style scoped>
.changed {
  margin-left: 4px;
  white-space: nowrap;
  color: var(--quiet);
}
.menu {
  width: 440px;
}
.menu > .el-input {
  width: 100%;
}
h2 {
  font-size: var(--size-note);
  color: var(--quiet);
  margin: 8px 0 2px;
}
p {
  margin: 0;
}
.gone {
  background: var(--warn);
  padding: 2px 8px;
}
</style>
