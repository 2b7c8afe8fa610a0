<script setup lang="ts">
/** Before an issue is published: what it will be, in numbers, and what is new in it. */
import { ref } from "vue";
import { useDays } from "@/composables/dates";
import type { BlockNews, Draft, Handing, Job } from "@/contract";
import Busy from "@/parts/Busy.vue";
import Day from "@/parts/Day.vue";

const props = defineProps<{
  number: number;
  draft: Draft;
  handing: Handing;
  copies: number;
  job: Job | null;
}>();
const shown = defineModel<boolean>({ required: true });
const emit = defineEmits<{ publish: [day: string | null, handOut: boolean]; stop: [] }>();
const { dayText } = useDays();
const day = ref("");
const handOut = ref(false);
const told = (news: BlockNews): string => news.words.join("; ");
const people = (): number => props.handing.people.length;
</script>

<template>
  <ElDialog v-model="shown" :title="`Publish issue ${number}`" width="560px" data-test="publish-dialog">
    <p>
      “{{ draft.title }}” as of {{ dayText(day || draft.as_of) }}, on version {{ draft.version }}, with
      {{ draft.blocks.length }} blocks of figures<template v-if="copies"> and {{ copies }} copies</template>.
      It never changes afterwards, whatever is posted.
    </p>
    <label class="day"
      >Another as-of date
      <Day v-model="day" aria-label="Another as-of date" data-test="publish-day" />
    </label>
    <ElCheckbox v-model="handOut" :disabled="!people()" data-test="hand-out-now">
      {{
        people()
          ? `Send it to ${people()} ${people() === 1 ? "person" : "people"}`
          : "Nobody is named to send it to"
      }}
    </ElCheckbox>
    <template v-if="draft.news.length">
      <h3>New against issue {{ number - 1 }}</h3>
      <ul data-test="news">
        <li v-for="(each, at) in draft.news" :key="at">
          <strong>{{ each.title }}:</strong> {{ told(each) }}
        </li>
      </ul>
    </template>
    <template #footer>
      <Busy v-if="job" words="Publishing" :doing="job" @stop="emit('stop')" />
      <template v-else>
        <ElButton @click="shown = false">Not yet</ElButton>
        <ElButton type="primary" data-test="publish-now" @click="emit('publish', day || null, handOut)"
          >Publish issue {{ number }}</ElButton
        >
      </template>
    </template>
  </ElDialog>
</template>

<style scoped>
p,
ul {
  margin: 0 0 10px;
}
h3 {
  font-size: var(--size-control);
  margin: 10px 0 4px;
}
.day {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 6px;
}
ul {
  max-height: 34vh;
  overflow: auto;
  padding-left: 18px;
  font-size: var(--size-note);
}
</style>
