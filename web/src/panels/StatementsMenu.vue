<script setup lang="ts">
/** What can be opened in one step: kept statements by folder, and the common questions; and the one on screen, to be kept. */
import { ElButton } from "element-plus";
import "element-plus/es/components/button/style/css";
import { storeToRefs } from "pinia";
import { computed, ref } from "vue";
import type { SavedStatement } from "@/contract";
import { whole, type Question } from "@/model/statement";
import Part from "@/parts/Part.vue";
import { useStatements } from "@/state/statements";
import { useView } from "@/state/view";
import { sentenceChanges } from "@/words/sentence";
import { PART_NAMES } from "@/words/words";
import { dayText } from "@/model/days";

const props = defineProps<{ question: Question }>();
const emit = defineEmits<{ open: [saved: Pick<SavedStatement, "statement" | "opened" | "layout">] }>();

const statements = useStatements();
const { found, refused, forgotten } = storeToRefs(statements);
/** The statement about which it is asked whether it is to be forgotten. */
const asked = ref("");
const name = ref("");
const folder = ref("");
const description = ref("");
/** The kept statement whose earlier versions are shown. */
const compared = ref("");
const { layout } = storeToRefs(useView());

function listed(now: boolean): void {
  if (now) void statements.refresh(props.question.ledger);
}
const folders = computed(() => {
  const byFolder = new Map<string, SavedStatement[]>();
  for (const each of [...found.value.saved, ...found.value.offered])
    byFolder.set(each.folder, [...(byFolder.get(each.folder) ?? []), each]);
  return [...byFolder];
});

function take(saved: SavedStatement): void {
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

/** What a later version of a statement says otherwise, part by part. */
function differences(earlier: Version, later: Version | undefined): ReturnType<typeof sentenceChanges> {
  if (!later) return [];
  const beside = (["layout", "opened"] as const).filter(
    (part) => JSON.stringify(earlier[part]) !== JSON.stringify(later[part]),
  );
  return [
    ...sentenceChanges(whole(earlier.statement), whole(later.statement)),
    ...beside.map((part) => ({ part, before: "", after: "" })),
  ];
}

function about(saved: SavedStatement): string {
  const kept = saved.saved_at ? `kept ${dayText(saved.saved_at.slice(0, 10))} ${saved.saved_by}` : "";
  return [saved.description, kept].filter(Boolean).join(" · ");
}
</script>

<template>
  <Part v-slot="{ close }" name="statements" label="Statements" adds @open="listed">
    <div class="menu">
      <section v-for="[title, list] in folders" :key="title" :aria-label="title || 'Kept'">
        <h2>{{ title || "Kept" }}</h2>
        <p v-for="each in list" :key="each.name">
          <button type="button" class="open" :data-test="`open-${each.name}`" @click="(close(), take(each))">
            {{ each.name }} <small v-if="about(each)">{{ about(each) }}</small>
          </button>
          <button
            v-if="each.earlier.length"
            type="button"
            class="plain"
            :aria-expanded="compared === each.name"
            :data-test="`compare-${each.name}`"
            @click="compared = compared === each.name ? '' : each.name"
          >
            versions
          </button>
          <button
            v-if="each.saved_at"
            type="button"
            class="plain"
            :aria-label="`Duplicate ${each.name}`"
            :data-test="`duplicate-${each.name}`"
            @click="statements.duplicate(question.ledger, each)"
          >
            duplicate
          </button>
          <button
            v-if="each.saved_at"
            type="button"
            class="plain"
            :aria-label="`Forget ${each.name}`"
            :data-test="`forget-${each.name}`"
            @click="asked = asked === each.name ? '' : each.name"
          >
            forget
          </button>
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
              <button
                type="button"
                class="plain"
                @click="(close(), take({ ...each, ...earlier, saved_at: null }))"
              >
                {{ dayText(earlier.saved_at.slice(0, 10)) }} {{ earlier.saved_by }}
              </button>
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
      <p v-if="forgotten" class="asked" data-test="forgotten">
        “{{ forgotten }}” is forgotten.
        <ElButton link data-test="take-back" @click="statements.takeBack(question.ledger)">
          Take it back
        </ElButton>
      </p>
      <form @submit.prevent="keep(close)">
        <h2>Keep what is on screen</h2>
        <input
          v-model="name"
          placeholder="name"
          aria-label="Name of the statement"
          data-test="statement-name"
        />
        <input v-model="folder" placeholder="folder" aria-label="Folder" data-test="statement-folder" />
        <input v-model="description" placeholder="what it is for" aria-label="What it is for" />
        <button type="submit" :disabled="!name.trim()" data-test="keep-statement">
          {{ found.saved.some((each) => each.name === name.trim()) ? "Keep in its place" : "Keep" }}
        </button>
        <p v-if="refused" role="alert" class="refused" data-test="statement-refused">{{ refused }}</p>
      </form>
    </div>
  </Part>
</template>

<style scoped>
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
