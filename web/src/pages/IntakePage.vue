<script setup lang="ts">
/** Files become posted lines: drop, read, map, check, place, post. */
import { storeToRefs } from "pinia";
import { computed, onMounted, onUnmounted, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { BatchRecord, KeptMapping, LedgerSettings, Mapping } from "@/contract";
import { saveFile } from "@/model/saving";
import { grouped } from "@/model/numbers";
import BatchList from "@/panels/intake/BatchList.vue";
import CheckPanel from "@/panels/intake/CheckPanel.vue";
import DatabaseForm from "@/panels/intake/DatabaseForm.vue";
import MappingPanel from "@/panels/intake/MappingPanel.vue";
import MappingsKept from "@/panels/intake/MappingsKept.vue";
import NewLedger from "@/panels/intake/NewLedger.vue";
import PlacingChoice from "@/panels/intake/PlacingChoice.vue";
import PostedRods from "@/panels/intake/PostedRods.vue";
import ReadingChoice from "@/panels/intake/ReadingChoice.vue";
import VersionList from "@/panels/intake/VersionList.vue";
import WaitingList from "@/panels/intake/WaitingList.vue";
import LedgerSettingsPanel from "@/panels/LedgerSettingsPanel.vue";
import Trouble from "@/parts/Trouble.vue";
import { useIntake } from "@/state/intake";
import { useLedgers } from "@/state/ledgers";
import { usePerson } from "@/state/person";
import { usePostings } from "@/state/postings";
import { KINDS } from "@/words/intake";
import { count } from "@/words/words";

const LOOK_AGAIN = 5000;
const route = useRoute();
const router = useRouter();
const ledgers = useLedgers();
const intake = useIntake();
const postings = usePostings();
const person = usePerson();
const { list, open } = storeToRefs(ledgers);
const { waiting, staging, check, placing, preview, doing, posted, busy, failure } = storeToRefs(intake);
const {
  batches,
  months,
  versions,
  mappings,
  forgotten,
  busy: changing,
  failure: refused,
} = storeToRefs(postings);
const over = ref(false);
const making = ref(false);
const settings = ref<LedgerSettings | null>(null);
const fromDatabase = ref(false);
const trouble = ref("");
const shown = ref(0);
const ready = computed(() => check.value?.ready && !busy.value);
const file = computed(() => staging.value?.files[shown.value] ?? null);
const fileCheck = computed(() => check.value?.files[shown.value] ?? null);
const sentence = computed(() => trouble.value || failure.value?.message || refused.value?.message || "");
const stretch = computed(() => {
  const days = (check.value?.files ?? []).flatMap((each) =>
    each.first_day && each.last_day ? [each.first_day, each.last_day] : [],
  );
  days.sort();
  return days.length ? { first: days[0] ?? "", last: days.at(-1) ?? "" } : null;
});
let looking: ReturnType<typeof setInterval> | undefined;

onMounted(async () => {
  try {
    await ledgers.choose(
      typeof route.query.ledger === "string" ? route.query.ledger : (open.value?.name ?? null),
    );
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error);
  }
  looking = setInterval(() => {
    if (open.value && !staging.value && !busy.value) void intake.readWaiting(open.value.name);
  }, LOOK_AGAIN);
});
onUnmounted(() => clearInterval(looking));
watch(
  () => open.value?.name,
  (name) => {
    if (!name) return;
    settings.value = null;
    void postings.refresh(name);
    void intake.readWaiting(name);
  },
  { immediate: true },
);

async function choose(name: string): Promise<void> {
  intake.putAside();
  await ledgers.choose(name);
}

async function openSettings(): Promise<void> {
  settings.value = settings.value ? null : await ledgers.settings();
}

async function take(files: FileList | null | undefined): Promise<void> {
  over.value = false;
  if (!files?.length || !open.value) return;
  shown.value = 0;
  await intake.drop(open.value.name, [...files]);
}

async function picked(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  await take(input.files);
  input.value = "";
}

function change(next: Partial<Mapping>): void {
  if (file.value?.mapping) void intake.map(shown.value, { ...file.value.mapping, ...next });
}

async function leaveOut(at: number): Promise<void> {
  shown.value = 0;
  await intake.leaveOut(at);
}

async function putAside(): Promise<void> {
  intake.putAside();
  if (open.value) await intake.readWaiting(open.value.name);
}

async function saveUnreadable(): Promise<void> {
  saveFile("unreadable.csv", "text/csv", await intake.unreadable(shown.value));
}

async function post(): Promise<void> {
  await intake.post();
  if (!open.value || failure.value) return;
  await refresh();
  await intake.readWaiting(open.value.name);
}

/** Everything that a new version changes on this page. */
async function refresh(): Promise<void> {
  if (!open.value) return;
  await ledgers.refresh();
  await ledgers.choose(open.value.name);
  await postings.refresh(open.value.name);
}

async function takeOut(batch: number, leaveHole: boolean): Promise<void> {
  if (!open.value) return;
  await postings.withdraw(open.value.name, batch, leaveHole);
  await refresh();
}

async function takeIn(batch: number): Promise<void> {
  if (!open.value) return;
  await postings.restore(open.value.name, batch);
  await refresh();
}

function replace(batch: BatchRecord): void {
  void intake.place({ replaces: [batch.id], first_day: null, last_day: null });
}

async function saveMapping(kept: KeptMapping): Promise<void> {
  const text = await postings.exportMapping(open.value?.name ?? "", kept.shape);
  saveFile(`${kept.mapping.name}.mapping.json`, "application/json", text);
}

function toFigures(): void {
  if (open.value) void router.push({ path: "/figures", query: { ledger: open.value.name } });
}
</script>

<template>
  <div class="page">
    <h1 class="hidden">Intake</h1>
    <div class="bar">
      <label>
        Post to
        <select
          :value="open?.name"
          data-test="intake-ledger"
          @change="choose(($event.target as HTMLSelectElement).value)"
        >
          <option v-for="each in list" :key="each.name" :value="each.name">{{ each.name }}</option>
        </select>
      </label>
      <label
        >as <input v-model="person.name" maxlength="80" placeholder="your name" data-test="person"
      /></label>
      <button type="button" class="plain" data-test="open-settings" @click="openSettings">Settings</button>
      <button v-if="!making" type="button" class="plain" data-test="new-ledger" @click="making = true">
        Make a new ledger
      </button>
      <NewLedger v-else :make="ledgers.make" @close="making = false" />
    </div>
    <Trouble v-if="sentence" :message="sentence" />
    <LedgerSettingsPanel
      v-if="settings && open"
      :ledger="open"
      :settings="settings"
      :save="ledgers.changeSettings"
      @close="settings = null"
    />

    <template v-if="!staging">
      <p v-if="placing.replaces.length" class="replacing" role="status" data-test="replacing">
        The next files take the place of
        <strong v-for="each in batches.filter((one) => placing.replaces.includes(one.id))" :key="each.id"
          >{{ each.file }} ({{ count(each.lines, "line") }}, {{ grouped(each.amount) }})</strong
        >.
        <button type="button" class="plain" @click="intake.putAside()">Do not replace</button>
      </p>
      <section
        class="drop"
        :class="{ over }"
        @dragover.prevent="over = true"
        @dragleave="over = false"
        @drop.prevent="take($event.dataTransfer?.files)"
      >
        <p>
          <strong>Drop files here</strong>, one or several: sales lines, returns, lookups, as CSV or other
          delimited text, XLSX or Parquet, each also gzipped.
        </p>
        <label class="pick"
          >Choose files<input type="file" multiple class="hidden" data-test="files" @change="picked"
        /></label>
        <button type="button" class="plain" data-test="from-database" @click="fromDatabase = !fromDatabase">
          Read from a database
        </button>
        <DatabaseForm
          v-if="fromDatabase"
          :busy="!!busy"
          :look="intake.previewDatabase"
          @fetch="(url, query) => open && intake.fetchDatabase(open.name, url, query)"
        />
        <p class="quiet">Nothing is posted until you confirm it.</p>
        <p v-if="busy" role="status">
          {{ doing?.doing ?? busy }} …
          <progress v-if="doing?.total" :value="doing.done" :max="doing.total" :aria-label="doing.doing" />
          <button v-if="doing" type="button" class="plain" data-test="stop" @click="intake.stop()">
            Stop
          </button>
        </p>
        <p v-if="posted" class="done" role="status" data-test="posted">
          Posted {{ count(posted.lines, "line") }}, {{ grouped(posted.amount) }} net, as version
          {{ posted.version }}.
          <button type="button" class="plain" data-test="to-figures" @click="toFigures">
            See the figures
          </button>
        </p>
      </section>
      <WaitingList
        v-if="waiting.length && !busy"
        :waiting="waiting"
        @open="(each) => ((shown = 0), intake.open(each))"
        @discard="intake.discard"
      />
    </template>

    <section v-else class="staged" aria-label="Files to be posted">
      <div class="files" role="group" aria-label="Files">
        <button
          v-for="(each, at) in staging.files"
          :key="at"
          type="button"
          :class="{ on: at === shown, stop: check?.files[at]?.blocking.length }"
          :aria-pressed="at === shown"
          @click="shown = at"
        >
          {{ each.name
          }}<small
            >{{ each.mapping ? KINDS[each.mapping.kind] : "cannot be read" }} · {{ count(each.rows, "row")
            }}<template v-if="check?.files[at]?.blocking.length"> · ! to do</template></small
          >
        </button>
        <button
          v-if="staging.files.length > 1"
          type="button"
          class="leave"
          :disabled="!!busy"
          data-test="leave-file"
          @click="leaveOut(shown)"
        >
          Leave {{ file?.name }} out
        </button>
      </div>
      <div v-if="file" class="file">
        <Trouble v-if="file.error" :message="file.error" />
        <template v-else-if="file.mapping">
          <CheckPanel
            v-if="fileCheck"
            :file="file"
            :check="fileCheck"
            :mapping="file.mapping"
            :read-rows="(finding, member, offset) => intake.rows(shown, finding, member, offset)"
            @change="change"
            @correct="(correction) => intake.correct(shown, correction)"
            @expect="(expected) => intake.expect(shown, expected)"
            @save="saveUnreadable"
          />
          <ReadingChoice
            :file="file"
            :reading="file.mapping.reading"
            @change="(reading) => intake.read(shown, reading)"
          />
          <MappingPanel :file="file" :mapping="file.mapping" @change="change" />
        </template>
      </div>
      <PlacingChoice
        v-if="check"
        :placing="placing"
        :preview="preview"
        :batches="batches"
        :stretch="stretch"
        @change="intake.place"
      />
      <div class="confirm">
        <button type="button" class="post" :disabled="!ready" data-test="post" @click="post">
          Post {{ count(staging.files.length, "file")
          }}<template v-if="check"
            >, {{ count(check.lines, "line") }}, {{ grouped(check.amount) }} net</template
          >
        </button>
        <button type="button" class="plain" :disabled="!!busy" data-test="aside" @click="putAside">
          Put aside
        </button>
        <button type="button" class="plain" :disabled="!!busy" @click="intake.discard(staging.id)">
          Discard
        </button>
        <span v-if="busy" role="status">
          {{ doing?.doing ?? busy }} …
          <progress v-if="doing?.total" :value="doing.done" :max="doing.total" :aria-label="doing.doing" />
          <button v-if="doing" type="button" class="plain" data-test="stop" @click="intake.stop()">
            Stop
          </button>
        </span>
      </div>
    </section>

    <section class="batches" aria-label="Posted files">
      <h2>Posted to {{ open?.name }}</h2>
      <p v-if="!batches.length" class="quiet">Nothing yet.</p>
      <template v-else>
        <PostedRods :months="months" />
        <BatchList
          :batches="batches"
          :busy="!!busy || changing"
          :sought="Number(route.query.batch) || null"
          @withdraw="takeOut"
          @restore="takeIn"
          @replace="replace"
        />
        <details>
          <summary>Versions: who changed what, and when</summary>
          <VersionList :versions="versions" />
        </details>
      </template>
      <details>
        <summary>Mappings that files take by themselves</summary>
        <MappingsKept
          :mappings="mappings"
          :busy="changing"
          :forgotten="!!forgotten"
          @back="postings.takeBackMapping(open?.name ?? '')"
          @save="saveMapping"
          @forget="(shape) => postings.forgetMapping(open?.name ?? '', shape)"
          @take="(exported) => postings.importMapping(open?.name ?? '', exported)"
        />
      </details>
    </section>
  </div>
</template>

<style scoped>
.page {
  position: relative;
  scroll-padding-bottom: 64px;
  height: 100%;
  padding: 12px 18px;
  display: flex;
  flex-direction: column;
  gap: 12px;
  overflow-y: auto;
}
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
}
.drop {
  border: 2px dashed #a58f6c;
  background: var(--sheet);
  text-align: center;
  padding: 14px 22px;
  border-radius: 6px;
}
.drop p {
  margin: 4px 0;
}
.over {
  background: #e1eceb;
}
.pick,
.post {
  display: inline-block;
  background: var(--window-0);
  color: #fff;
  border: 0;
  border-radius: 3px;
  padding: 6px 14px;
  cursor: pointer;
  margin: 6px 0;
}
.pick:focus-within {
  outline: 2px solid var(--ink);
}
.post:disabled {
  background: #a9aca8;
  cursor: not-allowed;
  color: #2b2f31;
}
.done {
  color: var(--favourable);
  font-weight: 700;
}
.staged {
  background: var(--sheet);
  border: 1px solid var(--line);
  padding: 10px 14px;
}
.files {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  max-height: 130px;
  overflow-y: auto;
}
.files button {
  border: 1px solid var(--line);
  background: none;
  border-radius: 3px;
  padding: 3px 8px;
  cursor: pointer;
  text-align: left;
}
.files .on {
  background: var(--soft);
  border-color: var(--wood);
  font-weight: 700;
}
.files .stop {
  border-left: 4px solid var(--adverse);
}
.files .leave {
  border-style: dashed;
  color: var(--quiet);
}
.files small {
  display: block;
  color: var(--quiet);
  font-weight: 400;
}
.confirm {
  position: sticky;
  bottom: -12px;
  background: var(--sheet);
  padding: 4px 0;
  display: flex;
  gap: 14px;
  align-items: center;
  margin-top: 10px;
}
h2 {
  font-size: 14px;
  margin: 4px 0;
}
.batches {
  flex: 1;
  min-height: 260px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.replacing {
  margin: 0;
  background: var(--warn);
  padding: 6px 12px;
}
summary {
  cursor: pointer;
  color: var(--quiet);
}
</style>
