<script setup lang="ts">
/** Which of the files that are to be posted is looked at; one of several is left out. */
import { computed } from "vue";
import { useNumbers } from "@/composables/numbers";
import type { Staging, StagingCheck } from "@/contract";
import { KINDS } from "@/words/intake";

const props = defineProps<{ files: Staging["files"]; check: StagingCheck | null; busy: boolean }>();
const emit = defineEmits<{ leave: [at: number] }>();
const shown = defineModel<number>({ required: true });
const { count } = useNumbers();
const file = computed(() => props.files[shown.value] ?? props.files[0]);
</script>

<template>
  <div class="files" role="group" aria-label="Files">
    <ElButton
      v-for="(each, at) in files"
      :key="at"
      class="name"
      :class="{ on: at === shown, stop: check?.files[at]?.blocking.length }"
      :aria-pressed="at === shown"
      @click="shown = at"
    >
      <span
        >{{ each.name
        }}<small
          >{{ each.mapping ? KINDS[each.mapping.kind] : "cannot be read" }} · {{ count(each.rows, "row")
          }}<template v-if="check?.files[at]?.blocking.length"> · ! to do</template></small
        ></span
      >
    </ElButton>
    <ElButton
      v-if="files.length > 1"
      link
      :disabled="busy"
      data-test="leave-file"
      @click="emit('leave', shown)"
    >
      Leave {{ file?.name }} out
    </ElButton>
  </div>
</template>

<style scoped>
.files {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
.name {
  height: auto;
  padding: 4px 10px;
  text-align: left;
}
.name.on {
  background: var(--soft);
  border-color: var(--wood);
}
.name.stop {
  border-left: 4px solid var(--adverse);
}
small {
  display: block;
  margin: 0;
  color: var(--quiet);
  font-weight: 400;
}
</style>
