<script setup lang="ts">
/** The guide: its chapters, searched, with questions that open on a ledger that is there. */
import { computed, nextTick, ref, watch } from "vue";
import { useRoute } from "vue-router";
import GuideText from "@/panels/guide/GuideText.vue";
import { CHAPTERS, findPlaces } from "@/words/guide";

/** Places that are listed at once. */
const MOST = 8;
const route = useRoute();
const text = ref("");
const name = computed(() => String(route.params.chapter || CHAPTERS[0]?.name));
const chapter = computed(() => CHAPTERS.find((each) => each.name === name.value));
const found = computed(() => (text.value.trim() ? findPlaces(text.value).slice(0, MOST) : []));

watch(
  () => route.fullPath,
  async () => {
    text.value = "";
    await nextTick();
    const anchor = String(route.params.place || "");
    const target = anchor ? document.getElementById(anchor) : document.querySelector(".guide-text");
    target?.scrollIntoView();
  },
  { immediate: true, flush: "post" },
);
</script>

<template>
  <div class="page" data-guide="figures">
    <nav aria-label="Guide">
      <ElInput
        v-model="text"
        clearable
        placeholder="Search the guide"
        aria-label="Search the guide"
        data-test="guide-search"
      />
      <ul v-if="text.trim()" data-test="guide-found">
        <li v-for="each in found" :key="each.id">
          <RouterLink :to="`/guide/${each.chapter}/${each.anchor}`"
            >{{ each.title }}<small>{{ each.text.slice(0, 90) }} …</small></RouterLink
          >
        </li>
        <li v-if="!found.length" class="quiet">Nothing is written about “{{ text }}”.</li>
      </ul>
      <ul v-else>
        <li v-for="each in CHAPTERS" :key="each.name">
          <RouterLink
            :to="`/guide/${each.name}`"
            :class="{ on: each.name === name }"
            :aria-current="each.name === name ? 'page' : undefined"
            >{{ each.title }}</RouterLink
          >
        </li>
      </ul>
    </nav>
    <div class="text" tabindex="0" role="region" aria-label="Chapter">
      <GuideText v-if="chapter" :chapter="chapter" />
      <ElEmpty v-else :image-size="60" :description="`The guide has no chapter “${name}”.`" />
    </div>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: 260px minmax(0, 1fr);
  gap: 32px;
  height: 100%;
  padding: 18px;
}
.text {
  overflow: auto;
  background: var(--sheet);
  border: 1px solid var(--line);
  padding: 22px 30px;
}
.el-input {
  width: 100%;
}
ul {
  list-style: none;
  margin: 12px 0 0;
  padding: 0;
}
a {
  display: block;
  padding: 6px 10px;
  border-left: 3px solid transparent;
  color: var(--ink);
  text-decoration: none;
}
a:hover,
.on {
  background: var(--soft);
  border-color: var(--wood);
}
small {
  display: block;
  color: var(--quiet);
}
</style>
