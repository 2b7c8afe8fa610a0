<script setup lang="ts">
/** A chapter of the guide as it is read; links to questions open them on a ledger that is there. */
import { useRouter } from "vue-router";
import KeysTable from "@/panels/guide/KeysTable.vue";
import { useLedgers } from "@/state/ledgers";
import { useStatements } from "@/state/statements";
import { toAddress } from "@/model/address";
import type { Chapter } from "@/model/guide";
import { wholeLayout } from "@/model/layout";
import { whole } from "@/model/statement";

defineProps<{ chapter: Chapter }>();
const emit = defineEmits<{ left: [] }>();
const router = useRouter();
const ledgers = useLedgers();
const statements = useStatements();

/** Links of Markdown are plain ones: those within the application are followed without leaving it. */
async function followed(event: MouseEvent): Promise<void> {
  const link = (event.target as HTMLElement).closest("a");
  const [kind = "", rest = ""] = (link?.getAttribute("href") ?? "").split(/:(.*)/s);
  if (kind !== "question" && kind !== "guide") return;
  event.preventDefault();
  if (kind === "guide") await router.push(`/guide/${rest}`);
  else await openQuestion(decodeURIComponent(rest));
}

async function openQuestion(name: string): Promise<void> {
  await ledgers.refresh();
  const ledger = ledgers.open?.lines ? ledgers.open : ledgers.active.find((each) => each.lines);
  if (!ledger) return;
  await statements.refresh(ledger.name);
  const found = statements.found.offered.find((each) => each.name === name);
  if (!found) return;
  const question = {
    ledger: String(ledger.id),
    statement: whole(found.statement),
    opened: found.opened,
  };
  const layout = wholeLayout(found.layout ?? {});
  emit("left");
  await router.push({
    path: `/${layout.page}`,
    query: toAddress({ question, selected: null, layout }),
  });
}
</script>

<template>
  <!-- Made of our own files alone, without HTML in them. -->
  <!-- eslint-disable-next-line vue/no-v-html -->
  <article class="guide-text" @click="followed" v-html="chapter.html" />
  <KeysTable v-if="chapter.name === 'keys'" />
</template>

<style>
.guide-text {
  max-width: 46rem;
  line-height: 1.55;
}
.guide-text h1 {
  font: 600 1.6rem/1.25 var(--serif);
  margin: 0 0 0.6rem;
}
.guide-text h2 {
  font: 600 1.2rem/1.3 var(--serif);
  margin: 1.6rem 0 0.4rem;
  scroll-margin-top: 1rem;
}
.guide-text img {
  max-width: 100%;
  border: 1px solid var(--line);
}
.guide-text code,
.guide-text pre {
  font-size: 0.85em;
  background: var(--soft);
  border-radius: 3px;
}
.guide-text code {
  padding: 0 3px;
}
.guide-text pre {
  padding: 10px 14px;
  overflow: auto;
}
.guide-text a {
  color: var(--window-text-0);
}
.guide-text a[href="keys:all"] {
  display: none;
}
</style>
