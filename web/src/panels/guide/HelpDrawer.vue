<script setup lang="ts">
/** The place of the guide about what has the focus, with the keys below it; the whole guide is a click away. */
import { computed, nextTick, onMounted, ref } from "vue";
import GuideText from "@/panels/guide/GuideText.vue";
import KeysTable from "@/panels/guide/KeysTable.vue";
import { CHAPTERS, TOPICS } from "@/words/guide";

const props = defineProps<{ topic: string }>();
const emit = defineEmits<{ close: [] }>();
const shown = ref(true);
const place = computed(() => TOPICS[props.topic] ?? "first-hour#");
const chapter = computed(() => CHAPTERS.find((each) => place.value.startsWith(`${each.name}#`)));
const text = ref<HTMLElement | null>(null);

onMounted(async () => {
  await nextTick();
  const anchor = place.value.split("#")[1];
  if (anchor) text.value?.querySelector(`#${CSS.escape(anchor)}`)?.scrollIntoView();
});
</script>

<template>
  <ElDrawer
    v-model="shown"
    :title="chapter?.title ?? 'Guide'"
    size="min(640px, 92vw)"
    append-to-body
    @closed="emit('close')"
  >
    <div ref="text" class="help" data-test="help">
      <p>
        <RouterLink :to="`/guide/${place.replace('#', '/')}`" data-test="whole-guide" @click="shown = false"
          >The whole guide</RouterLink
        >
      </p>
      <GuideText v-if="chapter" :chapter="chapter" @left="shown = false" />
      <template v-if="chapter?.name !== 'keys'">
        <h2>Keys</h2>
        <KeysTable />
      </template>
    </div>
  </ElDrawer>
</template>

<style scoped>
p {
  margin: 0 0 10px;
}
h2 {
  font: 600 1.2rem/1.3 var(--serif);
}
</style>
