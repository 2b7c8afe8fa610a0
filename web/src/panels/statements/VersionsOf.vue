<script setup lang="ts">
/** Earlier versions of a kept statement, each with what the next one said otherwise; any of them can be opened. */
import { useDays } from "@/composables/dates";
import { PART_NAMES } from "@/contract/vocabulary";
import { shallowRef, watch } from "vue";
import type { Said, SavedStatement } from "@/contract";
import { whole } from "@/model/statement";
import { useSheet } from "@/state/sheet/sheet";
import { sentenceChanges } from "@/words/sentence";

const { dayText } = useDays();

type Version = Pick<SavedStatement, "statement" | "opened" | "layout">;

const props = defineProps<{ kept: SavedStatement }>();
const emit = defineEmits<{ take: [saved: SavedStatement] }>();
const sheet = useSheet();

/** The versions that are compared, each as it is read. */
const told = shallowRef(new Map<Version, Said[]>());
watch(
  () => props.kept,
  async (kept) => {
    const versions: Version[] = [kept, ...kept.earlier];
    const previews = await sheet.previews(versions.map((each) => whole(each.statement)));
    told.value = new Map(versions.map((each, at) => [each, previews[at]?.parts ?? []]));
  },
  { immediate: true },
);

/** What a later version of a statement says otherwise, part by part. */
function differences(earlier: Version, later: Version | undefined): ReturnType<typeof sentenceChanges> {
  const [said, saidLater] = [told.value.get(earlier), later && told.value.get(later)];
  if (!later || !said || !saidLater) return [];
  const beside = (["layout", "opened"] as const).filter(
    (part) => JSON.stringify(earlier[part]) !== JSON.stringify(later[part]),
  );
  return [
    ...sentenceChanges(whole(earlier.statement), whole(later.statement), [said, saidLater]),
    ...beside.map((part) => ({ part, before: "", after: "" })),
  ];
}
</script>

<template>
  <ul class="versions" data-test="versions">
    <li v-for="(earlier, at) in kept.earlier" :key="earlier.saved_at">
      <ElButton link @click="emit('take', { ...kept, ...earlier, saved_at: null })">
        {{ dayText(earlier.saved_at.slice(0, 10)) }} {{ earlier.saved_by }}
      </ElButton>
      <small>then changed:</small>
      <dl>
        <div
          v-for="change in differences(earlier, at ? kept.earlier[at - 1] : kept)"
          :key="change.part"
          data-test="version-change"
        >
          <dt>{{ PART_NAMES[change.part] ?? change.part }}</dt>
          <dd v-if="change.before">
            <del>{{ change.before }}</del>
          </dd>
          <dd v-if="change.after">
            <ins>{{ change.after }}</ins>
          </dd>
        </div>
      </dl>
    </li>
  </ul>
</template>

<style scoped>
.versions {
  margin: 0 0 6px;
  padding-left: 18px;
}
small {
  display: block;
  color: var(--quiet);
}
dl {
  margin: 2px 0 4px;
  font-size: var(--size-note);
}
dt {
  font-weight: 700;
}
dd {
  margin: 0 0 0 8px;
}
del {
  color: var(--quiet);
}
ins {
  text-decoration: none;
}
</style>
