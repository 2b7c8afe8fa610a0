<script setup lang="ts">
/** The files that are to be posted: what is found in each, what its columns stand for, where the lines are placed. */
import { useNumbers } from "@/composables/numbers";
import { storeToRefs } from "pinia";
import { computed, ref } from "vue";
import type { BatchRecord, Mapping } from "@/contract";
import { saveFile } from "@/model/saving";
import FileChoice from "@/panels/intake/FileChoice.vue";
import FileFacts from "@/panels/intake/FileFacts.vue";
import FindingsList from "@/panels/intake/FindingsList.vue";
import MappingPanel from "@/panels/intake/MappingPanel.vue";
import ReplacementChoice from "@/panels/intake/ReplacementChoice.vue";
import ReadingChoice from "@/panels/intake/ReadingChoice.vue";
import Busy from "@/parts/Busy.vue";
import Trouble from "@/parts/Trouble.vue";
import { useIntake } from "@/state/intake";

const { count, grouped } = useNumbers();
defineProps<{ batches: BatchRecord[] }>();
const emit = defineEmits<{ post: []; aside: [] }>();
const intake = useIntake();
const { staging, check, replacement, preview, doing, busy } = storeToRefs(intake);
const shown = ref(0);
const files = computed(() => staging.value?.files ?? []);
const file = computed(() => files.value[shown.value] ?? files.value[0] ?? null);
const fileCheck = computed(() => check.value?.files[shown.value] ?? null);
const ready = computed(() => check.value?.ready && !busy.value);
const stretch = computed(() => {
  const days = (check.value?.files ?? []).flatMap((each) =>
    each.first_day && each.last_day ? [each.first_day, each.last_day] : [],
  );
  days.sort();
  return days.length ? { first: days[0] ?? "", last: days.at(-1) ?? "" } : null;
});

function change(next: Partial<Mapping>): void {
  if (file.value?.mapping) void intake.map(shown.value, { ...file.value.mapping, ...next });
}

async function leaveOut(at: number): Promise<void> {
  shown.value = 0;
  await intake.leaveOut(at);
}

async function saveUnreadable(): Promise<void> {
  saveFile("unreadable.csv", "text/csv", await intake.unreadable(shown.value));
}
</script>

<template>
  <section v-if="staging" class="staged" aria-label="Files to be posted">
    <h2><span>1</span> What came</h2>
    <FileChoice v-model="shown" :files="files" :check="check" :busy="!!busy" @leave="leaveOut" />
    <Trouble v-if="file?.error" :message="file.error" />
    <template v-else-if="file?.mapping">
      <FileFacts
        v-if="fileCheck"
        :file="file"
        :check="fileCheck"
        @expect="(expected) => intake.expect(shown, expected)"
      />
      <ReadingChoice
        :file="file"
        :reading="file.mapping.reading"
        @change="(reading) => intake.read(shown, reading)"
      />
      <h2><span>2</span> What it means</h2>
      <FindingsList
        v-if="fileCheck"
        :key="`${staging.id} ${shown}`"
        :file="file"
        :check="fileCheck"
        :mapping="file.mapping"
        :read-rows="(finding, member, offset) => intake.rows(shown, finding, member, offset)"
        @change="change"
        @correct="(correction) => intake.correct(shown, correction)"
        @save="saveUnreadable"
      />
      <MappingPanel :file="file" :mapping="file.mapping" @change="change" />
    </template>
    <h2><span>3</span> What it will change</h2>
    <ReplacementChoice
      v-if="check"
      :replacement="replacement"
      :preview="preview"
      :batches="batches"
      :stretch="stretch"
      @change="intake.place"
    />
    <div class="confirm">
      <ElButton type="primary" :disabled="!ready" data-test="post" @click="emit('post')">
        Post {{ count(files.length, "file")
        }}<template v-if="check"
          >, {{ count(check.lines, "line") }}, {{ grouped(check.amount) }} net</template
        >
      </ElButton>
      <ElButton
        link
        title="They wait here, with what you decided, until you come back to them"
        :disabled="!!busy"
        data-test="aside"
        @click="emit('aside')"
      >
        Leave for later
      </ElButton>
      <ElButton link :disabled="!!busy" data-test="discard" @click="intake.discard(staging.id)">
        Throw away
      </ElButton>
      <Busy v-if="busy" :words="busy" :doing="doing" @stop="intake.stop" />
    </div>
  </section>
</template>

<style scoped>
.staged {
  background: var(--sheet);
  border: 1px solid var(--line);
  padding: 10px 14px;
}
h2 {
  display: flex;
  gap: 8px;
  align-items: baseline;
  margin: 14px 0 6px;
  font: 600 var(--size-heading) / 1.3 var(--serif);
}
h2:first-child {
  margin-top: 0;
}
h2 span {
  display: grid;
  place-items: center;
  width: 22px;
  height: 22px;
  border-radius: 11px;
  background: var(--wood);
  color: #fff;
  font: 600 var(--size-note) / 1 var(--sans);
}
.confirm {
  position: sticky;
  bottom: -12px;
  /* What is scrolled under it has layers of its own: fields of the table among them. */
  z-index: 2;
  background: var(--sheet);
  border-top: 1px solid var(--line);
  padding: 4px 0;
  display: flex;
  gap: 14px;
  align-items: center;
  margin-top: 10px;
}
</style>
