<script setup lang="ts">
/** An address names a ledger that is not there: it is said, with what is near and what there is. */
import { storeToRefs } from "pinia";
import { useRoute } from "vue-router";
import Trouble from "@/parts/Trouble.vue";
import { useLedgers } from "@/state/ledgers";

const route = useRoute();
const { missing, near } = storeToRefs(useLedgers());
</script>

<template>
  <Trouble v-if="missing" :message="`There is no ledger “${missing}”.`">
    <template v-if="near.length">Open instead: </template>
    <RouterLink
      v-for="each in near"
      :key="each.id"
      class="near"
      :to="{ path: route.path, query: { ledger: String(each.id) } }"
      :data-test="`near-${each.name}`"
      >{{ each.name }}</RouterLink
    >
  </Trouble>
</template>

<style scoped>
.near {
  margin-right: 12px;
}
</style>
