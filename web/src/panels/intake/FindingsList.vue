<script setup lang="ts">
/** What stands in the way of a posting comes first; what is worth a look is folded with its count; what was decided can be taken back. */
import { computed, ref } from "vue";
import { useNumbers } from "@/composables/numbers";
import type { Correction, FileCheck, Finding, Mapping, RowsPage, StagedFile } from "@/contract";
import FindingItem from "@/panels/intake/FindingItem.vue";

const { count } = useNumbers();

const props = defineProps<{
  file: StagedFile;
  check: FileCheck;
  mapping: Mapping;
  readRows: (finding: Finding, member: string | null, offset: number) => Promise<RowsPage>;
}>();
const emit = defineEmits<{
  change: [next: Partial<Mapping>];
  correct: [correction: Correction];
  save: [];
}>();

/** What must be dealt with, and what is worth a look; unfolded by their names. */
const groups = computed(() => ({
  stop: props.check.findings.filter((each) => each.weight === "stop"),
  look: props.check.findings.filter((each) => each.weight === "look"),
}));
const unfolded = ref<string[]>([]);
const decided = computed(() => [
  ...props.mapping.corrections.map((each) => ({
    words: `${each.column}: “${each.text}” is read as “${each.to}”, remembered`,
    undo: () => emit("change", { corrections: props.mapping.corrections.filter((other) => other !== each) }),
  })),
  ...props.file.corrections.map((each) => ({
    words: `row ${each.row}, ${each.column}: “${each.text}” is read as “${each.to}”`,
    undo: () => emit("correct", { ...each, to: each.text }),
  })),
  ...props.mapping.merges.map((each) => ({
    words: `${each.dimension}: ${each.member} is posted as ${each.into}, remembered`,
    undo: () => emit("change", { merges: props.mapping.merges.filter((other) => other !== each) }),
  })),
]);
</script>

<template>
  <div class="check" data-test="check">
    <ul v-if="check.blocking.length" class="trouble">
      <li v-for="sentence in check.blocking" :key="sentence" data-test="blocking">{{ sentence }}</li>
    </ul>
    <ul v-if="groups.stop.length" class="findings">
      <FindingItem
        v-for="finding in groups.stop"
        :key="`${finding.code}-${finding.about}`"
        :finding="finding"
        :mapping="mapping"
        :read-rows="readRows"
        @change="(next) => emit('change', next)"
        @correct="(correction) => emit('correct', correction)"
        @save="emit('save')"
      />
    </ul>
    <p v-for="each in decided" :key="each.words" class="decided" data-test="decided">
      ✓ {{ each.words }}
      <ElButton link @click="each.undo">Take back</ElButton>
    </p>
    <ElCollapse v-if="groups.look.length" v-model="unfolded" class="looks">
      <ElCollapseItem
        name="look"
        :title="`${count(groups.look.length, 'thing')} worth a look`"
        data-test="looks"
      >
        <ul class="findings">
          <FindingItem
            v-for="finding in groups.look"
            :key="`${finding.code}-${finding.about}`"
            :finding="finding"
            :mapping="mapping"
            :read-rows="readRows"
            @change="(next) => emit('change', next)"
            @correct="(correction) => emit('correct', correction)"
            @save="emit('save')"
          />
        </ul>
      </ElCollapseItem>
    </ElCollapse>
  </div>
</template>

<style scoped>
.trouble {
  margin: 6px 0;
  padding-left: 28px;
}
.findings {
  margin: 4px 0;
  padding: 0;
}
.decided {
  margin: 2px 0;
}
.looks {
  margin: 6px 0;
}
</style>
