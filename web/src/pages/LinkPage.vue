<script setup lang="ts">
/** A short link: the whole address that stands behind it, as it was when it was copied. */
import { onMounted, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import Trouble from "@/parts/Trouble.vue";
import { addressOf } from "@/state/links";

const route = useRoute();
const router = useRouter();
const trouble = ref("");

onMounted(async () => {
  try {
    await router.replace(await addressOf(String(route.params.id)));
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error);
  }
});
</script>

<template>
  <Trouble v-if="trouble" :message="trouble"
    ><RouterLink to="/figures">Go to the figures</RouterLink></Trouble
  >
</template>
