<script setup lang="ts">
/** What can be opened in one step: kept statements by folder, and the common questions; and the one on screen, to be kept. */
import { PART_NAMES } from "@/contract/vocabulary";
import { storeToRefs } from "pinia";
import { computed, ref, shallowRef, watch, toRefs } from "vue";
import type { Said, SavedStatement } from "@/contract";
import { whole, type Question } from "@/model/statement";
import Part from "@/parts/Part.vue";
import { useSheet } from "@/state/sheet/sheet";
import { useStatements } from "@/state/statements";
import { sentenceChanges } from "@/words/sentence";
import { dayText } from "@/model/days";

const props = defineProps<{ question: Question }>();
const emit = defineEmits<{ open: [saved: Pick<SavedStatement, "statement" | "opened" | "layout">] }>();

const statements = useStatements();
const sheet = useSheet();
const { found, refused, forgotten } = storeToRefs(statements);
/** The statement about which it is asked whether it is to be forgotten. */
const asked = ref("");
const name = ref("");
const folder = ref("");
const description = ref("");
/** The kept statement whose earlier versions are shown. */
const compared = ref("");
const { layout } = toRefs(sheet);

function listed(now: boolean): void {
  if (now) void statements.refresh(props.question.ledger);
}
const folders = computed(() => {
  const byFolder = new Map<string, SavedStatement[]>();
  for (const each of [...found.value.saved, ...found.value.offered])
    byFolder.set(each.folder, [...(byFolder.get(each.folder) ?? []), each]);
  return [...byFolder];
});

/** The one that was opened last, and whether what is on screen is still that. */
const opened = shallowRef<SavedStatement | null>(null);
const same = (one: SavedStatement): boolean =>
  JSON.stringify(whole(one.statement)) === JSON.stringify(props.question.statement);
const known = computed(
  () => [...found.value.saved, ...found.value.offered].find(same) ?? opened.value ?? undefined,
);
const called = computed(() => known.value?.name ?? "");
const changed = computed(() => !!known.value && !same(known.value));
watch(
  () => props.question.ledger,
  () => (opened.value = null),
);

function take(saved: SavedStatement): void {
  opened.value = saved;
  if (saved.saved_at) {
    name.value = saved.name;
    folder.value = saved.folder;
    description.value = saved.description;
  }
  emit("open", saved);
}

async function keep(close: () => void): Promise<void> {
  if (await statements.save(props.question, layout.value, name.value, folder.value, description.value))
    close();
}

type Version = Pick<SavedStatement, "statement" | "opened" | "layout">;

/** The versions that are compared, each as it is read. */
const told = shallowRef(new Map<Version, Said[]>());
watch(compared, async (name) => {
  const kept = found.value.saved.find((each) => each.name === name);
  if (!kept) return;
  const versions: Version[] = [kept, ...kept.earlier];
  const previews = await sheet.previews(versions.map((each) => whole(each.statement)));
  told.value = new Map(versions.map((each, at) => [each, previews[at]?.parts ?? []]));
});

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

function about(saved: SavedStatement): string {
  const kept = saved.saved_at ? `kept ${dayText(saved.saved_at.slice(0, 10))} ${saved.saved_by}` : "";
  return [saved.description, kept].filter(Boolean).join(" · ");
}
</script>

<template>
  <Part v-slot="{ close }" name="statements" :label="called || 'Statements'" tool framed @open="listed">
    <div class="menu">
      <section v-for="[title, list] in folders" :key="title" :aria-label="title || 'Kept'">
        <h2>{{ title || "Kept" }}</h2>
        <p v-for="each in list" :key="each.name">
          <ElButton class="open" :data-test="`open-${each.name}`" @click="(close(), take(each))">
            {{ each.name }} <small v-if="about(each)">{{ about(each) }}</small>
          </ElButton>
          <ElButton
            v-if="each.earlier.length"
            link
            :aria-expanded="compared === each.name"
            :data-test="`compare-${each.name}`"
            @click="compared = compared === each.name ? '' : each.name"
          >
            versions
          </ElButton>
          <ElButton
            v-if="each.saved_at"
            link
            :aria-label="`Duplicate ${each.name}`"
            :data-test="`duplicate-${each.name}`"
            @click="statements.duplicate(question.ledger, each)"
          >
            duplicate
          </ElButton>
          <ElButton
            v-if="each.saved_at"
            link
            :aria-label="`Forget ${each.name}`"
            :data-test="`forget-${each.name}`"
            @click="asked = asked === each.name ? '' : each.name"
          >
            forget
          </ElButton>
          <span v-if="asked === each.name" class="asked" role="alertdialog">
            Forget it?
            <ElButton
              link
              :data-test="`really-forget-${each.name}`"
              @click="((asked = ''), statements.forget(question.ledger, each))"
            >
              Yes, forget it
            </ElButton>
            <ElButton link @click="asked = ''">No</ElButton>
          </span>
        </p>
        <template v-for="each in list" :key="`${each.name} versions`">
          <ul v-if="compared === each.name" class="versions" data-test="versions">
            <li v-for="(earlier, at) in each.earlier" :key="earlier.saved_at">
              <ElButton link @click="(close(), take({ ...each, ...earlier, saved_at: null }))">
                {{ dayText(earlier.saved_at.slice(0, 10)) }} {{ earlier.saved_by }}
              </ElButton>
              <small>then changed:</small>
              <dl>
                <div
                  v-for="change in differences(earlier, at ? each.earlier[at - 1] : each)"
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
      </section>
      <p v-for="each in found.unreadable" :key="each.name" data-test="unreadable-statement">
        {{ each.name }} is not understood by this version: {{ each.why }}.
      </p>
      <p v-if="forgotten" class="asked" data-test="forgotten">
        “{{ forgotten }}” is forgotten.
        <ElButton link data-test="take-back" @click="statements.takeBack(question.ledger)">
          Take it back
        </ElButton>
      </p>
      <form @submit.prevent="keep(close)">
        <h2>Keep what is on screen</h2>
        <ElInput
          v-model="name"
          placeholder="name"
          aria-label="Name of the statement"
          data-test="statement-name"
        />
        <ElInput v-model="folder" placeholder="folder" aria-label="Folder" data-test="statement-folder" />
        <ElInput v-model="description" placeholder="what it is for" aria-label="What it is for" />
        <ElButton native-type="submit" :disabled="!name.trim()" data-test="keep-statement">
          {{ found.saved.some((each) => each.name === name.trim()) ? "Keep in its place" : "Keep" }}
        </ElButton>
        <p v-if="refused" role="alert" class="refused" data-test="statement-refused">{{ refused }}</p>
      </form>
    </div>
  </Part>
  <small v-if="changed" class="changed" data-test="changed"
    >changed since {{ known?.saved_at ? "kept" : "opened" }}</small
  >
</template>

<style scoped>
.changed {
  margin-left: 4px;
  white-space: nowrap;
}
.menu {
  width: 330px;
}
h2 {
  font-size: 13px;
  margin: 8px 0 2px;
}
p {
  display: flex;
  justify-content: space-between;
  gap: 6px;
  margin: 0;
}
.open {
  flex: 1;
  text-align: left;
  border: 0;
  background: none;
  padding: 4px 8px;
  cursor: pointer;
}
.open:hover {
  background: var(--soft);
}
small {
  display: block;
  color: var(--quiet);
}
form {
  display: grid;
  gap: 4px;
  border-top: 1px solid var(--line);
  margin-top: 8px;
}
.asked {
  background: var(--warn);
  padding: 2px 6px;
}
.refused {
  color: var(--adverse);
}
.versions {
  margin: 0 0 6px;
  padding-left: 18px;
}
.versions small {
  display: block;
  color: var(--quiet);
}
.versions dl {
  margin: 2px 0 4px;
  font-size: 12px;
}
.versions dt {
  font-weight: 700;
}
.versions dd {
  margin: 0 0 0 8px;
}
del {
  color: var(--quiet);
}
ins {
  text-decoration: none;
}
</style>
