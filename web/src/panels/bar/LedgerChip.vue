<script setup lang="ts">
/** The ledger that is open: opens the list of ledgers, from which another one is taken on the same page, made, or settled. */
import { CaretBottom, Plus, Setting } from "@element-plus/icons-vue";
import { storeToRefs } from "pinia";
import { computed, defineAsyncComponent, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { useNumbers } from "@/composables/numbers";
import type { LedgerSettings as Settings } from "@/contract";
import { useLedgers } from "@/state/ledgers";

/** Ledgers that are listed without a field to search them. */
const FEW = 7;

const { count } = useNumbers();
const ledgers = useLedgers();
const NewLedger = defineAsyncComponent(() => import("@/panels/bar/NewLedger.vue"));
const LedgerSettings = defineAsyncComponent(() => import("@/panels/bar/LedgerSettings.vue"));
const { open, list } = storeToRefs(ledgers);
const route = useRoute();
const router = useRouter();
const making = ref(false);
const settings = ref<Settings | null>(null);
const shown = ref(false);
const text = ref("");
const found = computed(() => {
  const wanted = text.value.trim().toLocaleLowerCase();
  return list.value.filter((each) => each.name.toLocaleLowerCase().includes(wanted));
});
/** Those that are set aside stand below the others, under a heading of their own. */
const groups = computed(() => [
  { title: "", ledgers: found.value.filter((each) => !each.archived_at) },
  { title: "Archived", ledgers: found.value.filter((each) => each.archived_at) },
]);
/** A page of one ledger stays the page of the other one; a page to print has no list. */
const page = computed(() =>
  /^\/(intake|calendar|figures|movers|scorecard)/.test(route.path) ? route.path : "/figures",
);

function opening(): void {
  text.value = "";
  void ledgers.refresh();
}

async function openSettings(): Promise<void> {
  shown.value = false;
  settings.value = await ledgers.settings();
}

function openNew(): void {
  shown.value = false;
  making.value = true;
}

/** A new ledger is empty: its files come next. */
async function made(ledger: number): Promise<void> {
  making.value = false;
  await router.push({ path: "/intake", query: { ledger: String(ledger) } });
}

/** Settings may have renamed the ledger, or it is gone: the address says the one that is open. */
async function settled(): Promise<void> {
  settings.value = null;
  if (open.value)
    await router.replace({ path: route.path, query: { ...route.query, ledger: String(open.value.id) } });
}
</script>

<template>
  <ElPopover
    v-if="open"
    v-model:visible="shown"
    trigger="click"
    placement="bottom-end"
    :width="340"
    :show-arrow="false"
    :persistent="false"
    @before-enter="opening"
  >
    <template #reference>
      <ElButton class="chip" data-test="ledger-chip" :aria-expanded="shown">
        <span class="hidden">Ledger: </span>{{ open.name }}
        <CaretBottom class="icon" aria-hidden="true" />
      </ElButton>
    </template>
    <div class="ledgers" @keydown.esc.stop="shown = false">
      <ElInput
        v-if="list.length > FEW"
        v-model="text"
        placeholder="Find a ledger"
        aria-label="Find a ledger"
        clearable
        data-test="find-ledger"
      />
      <nav aria-label="Ledgers">
        <template v-for="group in groups" :key="group.title">
          <h2 v-if="group.title && group.ledgers.length">{{ group.title }}</h2>
          <RouterLink
            v-for="each in group.ledgers"
            :key="each.id"
            :to="{ path: page, query: { ledger: String(each.id) } }"
            :class="{ chosen: each.id === open.id }"
            :aria-current="each.id === open.id"
            :data-test="`ledger-${each.name}`"
            @click="shown = false"
          >
            {{ each.name }}
            <small>{{ count(each.lines, "line") }} · {{ each.currency }} · version {{ each.version }}</small>
          </RouterLink>
        </template>
      </nav>
      <ElEmpty v-if="!found.length" :image-size="40" :description="`No ledger is called “${text}”.`" />
      <p class="acts">
        <ElButton text :icon="Plus" data-test="new-ledger" @click="openNew">New ledger</ElButton>
        <ElButton text :icon="Setting" data-test="open-settings" @click="openSettings">
          Settings, name, archive
        </ElButton>
      </p>
    </div>
  </ElPopover>
  <NewLedger v-if="making" @made="made" @close="making = false" />
  <LedgerSettings v-if="settings && open" :ledger="open" :settings="settings" @close="settled" />
</template>

<style scoped>
.chip {
  display: flex;
  align-items: center;
  gap: 6px;
  max-width: 300px;
  min-height: 28px;
  padding: 2px 12px;
  border: 0;
  border-radius: 14px;
  background: var(--slate-soft);
  color: var(--on-slate);
  cursor: pointer;
  white-space: nowrap;
  overflow: hidden;
}
.icon {
  width: 12px;
  flex: none;
}
.ledgers {
  display: grid;
  gap: 8px;
}
h2 {
  margin: 8px 8px 2px;
  font-size: var(--size-note);
  color: var(--quiet);
}
.acts {
  display: flex;
  margin: 0;
  border-top: 1px solid var(--line);
  padding-top: 6px;
}
nav {
  display: grid;
  max-height: 60vh;
  overflow-y: auto;
}
a {
  padding: 6px 8px;
  border-radius: 4px;
  color: var(--ink);
  text-decoration: none;
  overflow-wrap: anywhere;
}
a:hover {
  background: var(--soft);
}
.chosen {
  background: var(--window-soft-0);
  font-weight: 600;
}
small {
  display: block;
  color: var(--quiet);
  font-weight: 400;
  font-size: var(--size-note);
}
</style>
