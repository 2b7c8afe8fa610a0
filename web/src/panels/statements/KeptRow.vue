<script setup lang="ts">
/** A statement that can be opened: a kept one has its versions, and can be duplicated and deleted. */
import { useDays } from "@/composables/dates";
import { CopyDocument, Delete, Timer } from "@element-plus/icons-vue";
import { computed, ref } from "vue";
import type { SavedStatement } from "@/contract";
import VersionsOf from "@/panels/statements/VersionsOf.vue";

const { dayText } = useDays();

const props = defineProps<{ saved: SavedStatement }>();
const emit = defineEmits<{ take: [saved: SavedStatement]; duplicate: []; delete: [] }>();
const compared = ref(false);
const asked = ref(false);

const about = computed(() => {
  const { description, saved_at, saved_by } = props.saved;
  const kept = saved_at ? `kept ${dayText(saved_at.slice(0, 10))} ${saved_by}` : "";
  return [description, kept].filter(Boolean).join(" · ");
});
</script>

<template>
  <p class="row">
    <ElButton class="open" text :data-test="`open-${saved.name}`" @click="emit('take', saved)">
      <span
        >{{ saved.name }} <small v-if="about">{{ about }}</small></span
      >
    </ElButton>
    <ElButton
      v-if="saved.earlier.length"
      text
      :icon="Timer"
      :title="`Earlier versions of ${saved.name}`"
      :aria-label="`Earlier versions of ${saved.name}`"
      :aria-expanded="compared"
      :data-test="`compare-${saved.name}`"
      @click="compared = !compared"
    />
    <template v-if="saved.saved_at">
      <ElButton
        text
        :icon="CopyDocument"
        :title="`Duplicate ${saved.name}`"
        :aria-label="`Duplicate ${saved.name}`"
        :data-test="`duplicate-${saved.name}`"
        @click="emit('duplicate')"
      />
      <ElButton
        text
        :icon="Delete"
        :title="`Delete ${saved.name}`"
        :aria-label="`Delete ${saved.name}`"
        :data-test="`delete-${saved.name}`"
        @click="asked = !asked"
      />
    </template>
  </p>
  <p v-if="asked" class="asked" role="alertdialog" :aria-label="`Delete ${saved.name}?`">
    Delete it with its {{ saved.earlier.length + 1 }} {{ saved.earlier.length ? "versions" : "version" }}?
    <ElButton link :data-test="`really-delete-${saved.name}`" @click="((asked = false), emit('delete'))">
      Delete it
    </ElButton>
    <ElButton link @click="asked = false">Keep it</ElButton>
  </p>
  <VersionsOf v-if="compared" :kept="saved" @take="(version) => emit('take', version)" />
</template>

<style scoped>
.row {
  display: flex;
  gap: 2px;
  margin: 0;
}
.row .el-button + .el-button {
  margin: 0;
  padding: 4px 6px;
}
.row .open.open {
  flex: 1;
  justify-content: start;
  height: auto;
  min-height: 30px;
  padding: 4px 8px;
  text-align: left;
  white-space: normal;
}
small {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
  color: var(--quiet);
}
.asked {
  margin: 0;
  background: var(--warn);
  padding: 2px 8px;
}
</style>
