<script setup lang="ts">
/** Files become posted lines: drop, map, check, post. */
import { storeToRefs } from "pinia";
import { computed, onMounted, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { Mapping } from "@/contract";
import { grouped } from "@/model/numbers";
import CheckPanel from "@/panels/CheckPanel.vue";
import BatchList from "@/panels/BatchList.vue";
import PostedRods from "@/panels/PostedRods.vue";
import MappingPanel from "@/panels/MappingPanel.vue";
import Trouble from "@/parts/Trouble.vue";
import { useIntake } from "@/state/intake";
import { useLedgers } from "@/state/ledgers";
import { count, KINDS } from "@/words/words";

const route = useRoute();
const router = useRouter();
const ledgers = useLedgers();
const intake = useIntake();
const { list, open } = storeToRefs(ledgers);
const { staging, check, job, batches, months, replacing, busy, failure } = storeToRefs(intake);
const over = ref(false);
const making = ref(false);
const newName = ref("");
const newCurrency = ref("EUR");
const trouble = ref("");
const shown = ref(0);
const ready = computed(() => check.value?.ready && !busy.value);
const file = computed(() => staging.value?.files[shown.value] ?? null);

onMounted(async () => {
  try {
    await ledgers.choose(
      typeof route.query.ledger === "string" ? route.query.ledger : (open.value?.name ?? null),
    );
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error);
  }
});
watch(
  () => open.value?.name,
  (name) => {
    if (name) void intake.readBatches(name);
  },
  { immediate: true },
);

async function choose(name: string): Promise<void> {
  await intake.discard();
  await ledgers.choose(name);
}

async function make(): Promise<void> {
  trouble.value = "";
  try {
    await ledgers.make(newName.value, newCurrency.value.toUpperCase());
    making.value = false;
    newName.value = "";
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error);
  }
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

async function post(): Promise<void> {
  await intake.post();
  if (!open.value || failure.value) return;
  await ledgers.refresh();
  await ledgers.choose(open.value.name);
  await intake.readBatches(open.value.name);
}

async function takeOut(batch: number, leaveHole: boolean): Promise<void> {
  if (!open.value) return;
  await intake.withdraw(open.value.name, batch, leaveHole);
  await ledgers.choose(open.value.name);
}

async function takeIn(batch: number): Promise<void> {
  if (!open.value) return;
  await intake.restore(open.value.name, batch);
  await ledgers.choose(open.value.name);
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
      <button v-if="!making" type="button" class="plain" data-test="new-ledger" @click="making = true">
        Make a new ledger
      </button>
      <form v-else @submit.prevent="make">
        <input
          v-model="newName"
          placeholder="Name of the ledger"
          aria-label="Name of the ledger"
          maxlength="80"
          required
          data-test="new-ledger-name"
        />
        <input v-model="newCurrency" size="4" maxlength="3" aria-label="Currency" required />
        <button type="submit" data-test="make-ledger">Make it</button>
        <button type="button" class="plain" @click="making = false">Cancel</button>
      </form>
    </div>
    <Trouble v-if="trouble || failure" :message="trouble || failure?.message || ''" />

    <p v-if="replacing" class="replacing" role="status" data-test="replacing">
      The next files take the place of <strong>{{ replacing.file }}</strong> ({{
        count(replacing.lines, "line")
      }}, {{ grouped(replacing.amount) }}).
      <button type="button" class="plain" @click="replacing = null">Do not replace</button>
    </p>

    <section
      v-if="!staging"
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
      <p class="quiet">Nothing is posted until you confirm it.</p>
      <p v-if="busy" role="status">{{ busy }} …</p>
      <p v-if="job?.state === 'done' && job.result" class="done" role="status" data-test="posted">
        Posted {{ count(job.result.lines, "line") }}, {{ grouped(job.result.amount) }} net, as version
        {{ job.result.version }}.
        <button type="button" class="plain" data-test="to-figures" @click="toFigures">See the figures</button>
      </p>
    </section>

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
      </div>
      <div v-if="file" class="file">
        <Trouble v-if="file.error" :message="file.error" />
        <template v-else-if="file.mapping">
          <CheckPanel
            v-if="check?.files[shown]"
            :check="check.files[shown]!"
            :mapping="file.mapping"
            @change="change"
          />
          <MappingPanel
            :file="file"
            :mapping="file.mapping"
            @change="change"
            @sheet="(name) => intake.chooseSheet(shown, name)"
          />
        </template>
      </div>
      <div class="confirm">
        <button type="button" class="post" :disabled="!ready" data-test="post" @click="post">
          Post {{ count(staging.files.length, "file")
          }}<template v-if="check">, {{ count(check.lines, "line") }}</template>
        </button>
        <button type="button" class="plain" :disabled="!!busy" @click="intake.discard()">Discard</button>
        <span v-if="busy" role="status">
          {{ job?.state === "running" ? job.doing : busy }} …
          <progress
            v-if="job?.state === 'running' && job.total"
            :value="job.done"
            :max="job.total"
            :aria-label="job.doing"
          />
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
          :busy="!!busy"
          @withdraw="takeOut"
          @restore="takeIn"
          @replace="(batch) => (replacing = batch)"
        />
      </template>
    </section>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  padding: 12px 18px;
  display: flex;
  flex-direction: column;
  gap: 12px;
  overflow-y: auto;
}
.bar {
  display: flex;
  gap: 16px;
  align-items: center;
}
.bar form {
  display: flex;
  gap: 6px;
}
.drop {
  border: 2px dashed #a58f6c;
  background: var(--sheet);
  text-align: center;
  padding: 22px;
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
</style>
