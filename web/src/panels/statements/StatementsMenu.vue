<script setup lang="ts">
/** What can be opened in one step: kept statements by folder, and the common questions; and the one on screen, to be kept. */
import { storeToRefs } from "pinia";
import { computed, shallowRef, toRefs, watch } from "vue";
import type { SavedStatement } from "@/contract";
import { whole, type Question } from "@/model/statement";
import KeepForm from "@/panels/statements/KeepForm.vue";
import KeptRow from "@/panels/statements/KeptRow.vue";
import Part from "@/parts/Part.vue";
import { useSheet } from "@/state/sheet/sheet";
import { useStatements } from "@/state/statements";

const props = defineProps<{ question: Question }>();
const emit = defineEmits<{ open: [saved: Pick<SavedStatement, "statement" | "opened" | "layout">] }>();

const statements = useStatements();
const { found, refused, forgotten } = storeToRefs(statements);
const { layout } = toRefs(useSheet());

function listed(now: boolean): void {
  if (now) void statements.refresh(props.question.ledger);
}
const folders = computed(() => {
  const byFolder = new Map<string, SavedStatement[]>();
  for (const each of [...found.value.saved, ...found.value.offered])
    byFolder.set(each.folder, [...(byFolder.get(each.folder) ?? []), each]);
  return [...byFolder];
});

/** The one that was opened last, and whether what is on screen is still that. */
const opened = shallowRef<SavedStatement | null>(null);
const same = (one: SavedStatement): boolean =>
  JSON.stringify(whole(one.statement)) === JSON.stringify(props.question.statement);
const known = computed(
  () => [...found.value.saved, ...found.value.offered].find(same) ?? opened.value ?? undefined,
);
const changed = computed(() => !!known.value && !same(known.value));
watch(
  () => props.question.ledger,
  () => (opened.value = null),
);

function take(saved: SavedStatement): void {
  opened.value = saved;
  emit("open", saved);
}

async function keep(
  kept: { name: string; folder: string; description: string },
  close: () => void,
): Promise<void> {
  if (await statements.save(props.question, layout.value, kept.name, kept.folder, kept.description)) close();
}
</script>

<template>
  <Part v-slot="{ close }" name="statements" :label="known?.name ?? 'Statements'" tool framed @open="listed">
    <div class="menu">
      <section v-for="[title, list] in folders" :key="title" :aria-label="title || 'Kept'">
        <h2>{{ title || "Kept" }}</h2>
        <KeptRow
          v-for="each in list"
          :key="each.name"
          :saved="each"
          @take="(saved) => (close(), take(saved))"
          @duplicate="statements.duplicate(question.ledger, each)"
          @delete="statements.forget(question.ledger, each)"
        />
      </section>
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
  width: 330px;
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
