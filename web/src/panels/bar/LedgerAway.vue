<script setup lang="ts">
/** A ledger set aside, taken back, or deleted for good: what is lost is told in numbers, and its name is typed. */
import { useNumbers } from "@/composables/numbers";
import { computed, ref } from "vue";
import type { LedgerDescription, LedgerHoldings } from "@/contract";
import { useLedgers } from "@/state/ledgers";

const { count } = useNumbers();

const props = defineProps<{ ledger: LedgerDescription }>();
const emit = defineEmits<{ gone: []; failed: [message: string] }>();

const ledgers = useLedgers();
const holdings = ref<LedgerHoldings | null>(null);
const typed = ref("");
const archived = computed(() => !!ledgers.list.find((each) => each.id === props.ledger.id)?.archived_at);
const lost = computed(() => {
  const held = holdings.value;
  if (!held) return "";
  const parts = [
    count(held.lines, "line"),
    count(held.files, "posted file"),
    count(held.versions, "version"),
    count(held.statements, "kept statement"),
    count(held.mappings, "mapping"),
    count(held.briefs, "brief"),
    count(held.issues, "published issue"),
  ];
  return `${parts.slice(0, -1).join(", ")} and ${parts.at(-1) ?? ""}`;
});

async function attempt(work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    emit("failed", error instanceof Error ? error.message : String(error));
  }
}

function askToDelete(): Promise<void> {
  return attempt(async () => {
    holdings.value = await ledgers.holdings(props.ledger.name);
  });
}

function remove(): Promise<void> {
  return attempt(async () => {
    await ledgers.remove(props.ledger.name, typed.value);
    emit("gone");
  });
}
</script>

<template>
  <div class="away">
    <p>
      <ElButton
        size="small"
        data-test="archive"
        @click="attempt(() => ledgers.archive(ledger.name, !archived))"
        >{{ archived ? "Take it out of the archive" : "Archive this ledger" }}</ElButton
      >
      <ElButton v-if="!holdings" size="small" data-test="delete-ledger" @click="askToDelete"
        >Delete it …</ElButton
      >
      <small class="quiet">{{
        archived
          ? "It is archived: it can be read, and takes no lines."
          : "An archived ledger is set aside: it can be read, and takes no lines."
      }}</small>
    </p>
    <div v-if="holdings" class="delete" data-test="what-is-lost">
      <p>Lost for good: {{ lost }}. To delete them, type the ledger's name.</p>
      <ElInput
        v-model="typed"
        size="small"
        :placeholder="ledger.name"
        :aria-label="`Type ${ledger.name} to delete it`"
        data-test="typed-name"
      />
      <ElButton
        type="danger"
        size="small"
        :disabled="typed !== ledger.name"
        data-test="delete-for-good"
        @click="remove"
        >Delete {{ ledger.name }}</ElButton
      >
      <ElButton size="small" @click="holdings = null">Keep it</ElButton>
    </div>
  </div>
</template>

<style scoped>
.delete {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.delete .el-input {
  width: 240px;
}
p {
  margin: 4px 0;
}
</style>
