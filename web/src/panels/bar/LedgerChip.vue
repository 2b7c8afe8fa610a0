<script setup lang="ts">
/** The ledger that is open: opens the list of ledgers, from which another one is taken on the same page. */
import { CaretBottom } from "@element-plus/icons-vue";
import { storeToRefs } from "pinia";
import { computed, ref } from "vue";
import { useRoute } from "vue-router";
import { useNumbers } from "@/composables/numbers";
import { useLedgers } from "@/state/ledgers";

/** Ledgers that are listed without a field to search them. */
const FEW = 7;

const { count } = useNumbers();
const ledgers = useLedgers();
const { open, active } = storeToRefs(ledgers);
const route = useRoute();
const shown = ref(false);
const text = ref("");
const found = computed(() => {
  const wanted = text.value.trim().toLocaleLowerCase();
  return active.value.filter((each) => each.name.toLocaleLowerCase().includes(wanted));
});
/** A page of one ledger stays the page of the other one; a page to print has no list. */
const page = computed(() => (/^\/(intake|calendar|figures)/.test(route.path) ? route.path : "/figures"));

function opening(): void {
  text.value = "";
  void ledgers.refresh();
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
        v-if="active.length > FEW"
        v-model="text"
        placeholder="Find a ledger"
        aria-label="Find a ledger"
        clearable
        data-test="find-ledger"
      />
      <nav aria-label="Ledgers">
        <RouterLink
          v-for="each in found"
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
      </nav>
      <ElEmpty v-if="!found.length" :image-size="40" :description="`No ledger is called “${text}”.`" />
    </div>
  </ElPopover>
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
