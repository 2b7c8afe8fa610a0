<script setup lang="ts">
/** A ledger in which nothing is posted yet: the two ways on, a file of one's own or the demo. */
import { computed } from "vue";
import { useRoute } from "vue-router";
import type { LedgerDescription } from "@/contract";
import { useLedgers } from "@/state/ledgers";

const props = defineProps<{ ledger: LedgerDescription }>();
const ledgers = useLedgers();
const route = useRoute();
/** A ledger with lines, to be looked at meanwhile. */
const other = computed(() => ledgers.active.find((each) => each.lines && each.id !== props.ledger.id));
</script>

<template>
  <ElEmpty class="empty" :image-size="80">
    <template #description>
      <p>Nothing is posted in {{ ledger.name }} yet.</p>
      <p class="quiet">
        Bring a file of sales lines: its columns are read and explained, and nothing is posted until you
        confirm it.
      </p>
    </template>
    <RouterLink :to="{ path: '/intake', query: { ledger: String(ledger.id) } }"
      >Post files at Intake</RouterLink
    >
    <RouterLink
      v-if="other"
      :to="{ path: route.path, query: { ledger: String(other.id) } }"
      data-test="try-other"
      >Try it on {{ other.name }}</RouterLink
    >
  </ElEmpty>
</template>

<style scoped>
.empty {
  padding: 60px;
}
p {
  margin: 0 0 6px;
}
a {
  margin: 0 10px;
}
</style>
