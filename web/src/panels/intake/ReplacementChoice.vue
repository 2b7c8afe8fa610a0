<script setup lang="ts">
/** How files are placed beside what is posted: appended, in the place of batches, or of a stretch of days; and what that changes. */
import Day from "@/parts/Day.vue";
import { useNumbers } from "@/composables/numbers";
import { computed, ref, watch } from "vue";
import type { BatchRecord, Replacement, PostingPreview } from "@/contract";
import { monthName, rangeText } from "@/model/days";

const { count, grouped, whole } = useNumbers();

const props = defineProps<{
  replacement: Replacement;
  preview: PostingPreview | null;
  batches: BatchRecord[];
  stretch: { first: string; last: string } | null;
}>();
const emit = defineEmits<{ change: [replacement: Replacement] }>();

type Way = "append" | "batches" | "days";
const way = ref<Way>("append");
watch(
  () => props.replacement,
  (replacement) => {
    way.value = replacement.replaces.length ? "batches" : replacement.first_day ? "days" : way.value;
    if (!replacement.replaces.length && !replacement.first_day && way.value === "days") way.value = "append";
  },
  { immediate: true },
);
const active = computed(() =>
  props.batches.filter((each) => each.active && each.kind !== "lookup").reverse(),
);

function take(next: Way): void {
  way.value = next;
  if (next === "days" && props.stretch)
    emit("change", { replaces: [], first_day: props.stretch.first, last_day: props.stretch.last });
  else if (next === "append") emit("change", { replaces: [], first_day: null, last_day: null });
}

function turn(batch: number): void {
  const now = props.replacement.replaces;
  const replaces = now.includes(batch) ? now.filter((each) => each !== batch) : [...now, batch];
  emit("change", { replaces, first_day: null, last_day: null });
}

function day(which: "first_day" | "last_day", value: string): void {
  if (value) emit("change", { ...props.replacement, replaces: [], [which]: value });
}

function month(key: string): string {
  return `${monthName(`${key}-01`)} ${key.slice(0, 4)}`;
}
</script>

<template>
  <section class="replacement" aria-label="How they are posted">
    <div class="ways" role="group" aria-label="Placed">
      <ElButton
        :aria-pressed="way === 'append'"
        :class="{ on: way === 'append' }"
        data-test="place-append"
        @click="take('append')"
      >
        Append
      </ElButton>
      <ElButton
        :aria-pressed="way === 'batches'"
        :class="{ on: way === 'batches' }"
        :disabled="!active.length"
        data-test="place-batches"
        @click="take('batches')"
      >
        Replace posted files
      </ElButton>
      <ElButton
        :aria-pressed="way === 'days'"
        :class="{ on: way === 'days' }"
        :disabled="!active.length || !stretch"
        data-test="place-days"
        @click="take('days')"
      >
        Replace days
      </ElButton>
      <span v-if="way === 'days' && replacement.first_day" class="days">
        lines of the same feeds from
        <Day
          :model-value="replacement.first_day"
          aria-label="First day to be replaced"
          data-test="place-first"
          @change="day('first_day', $event)"
        />
        to
        <Day
          :model-value="replacement.last_day"
          aria-label="Last day to be replaced"
          data-test="place-last"
          @change="day('last_day', $event)"
        />
        go out
      </span>
    </div>
    <div v-if="way === 'batches'" class="old" tabindex="0" aria-label="Files to be replaced">
      <ElCheckbox
        v-for="each in active"
        :key="each.id"
        :model-value="replacement.replaces.includes(each.id)"
        :data-test="`old-${each.file}`"
        @change="turn(each.id)"
        >{{ each.file }} · {{ count(each.lines, "line") }}, {{ grouped(each.amount) }}
        <template v-if="each.first_day && each.last_day">
          · {{ rangeText(each.first_day, each.last_day) }}</template
        ></ElCheckbox
      >
    </div>
    <template v-if="preview && preview.months.length">
      <p data-test="preview">
        <strong>{{ count(preview.lines_in, "line") }}</strong> come in ({{
          grouped(preview.amount_in)
        }})<template v-if="preview.lines_out"
          >, <strong>{{ count(preview.lines_out, "line") }}</strong> go out ({{
            grouped(preview.amount_out)
          }})</template
        ><template v-if="preview.first_day && preview.last_day"
          >; their days: {{ rangeText(preview.first_day, preview.last_day) }}</template
        >.
      </p>
      <div class="months" tabindex="0" aria-label="Months before and after">
        <table>
          <thead>
            <tr>
              <th>Month</th>
              <th class="number">Lines before</th>
              <th class="number">after</th>
              <th class="number">Net total before</th>
              <th class="number">after</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="each in preview.months" :key="each.month" :data-test="`month-${each.month}`">
              <td>{{ month(each.month) }}</td>
              <td class="number">{{ whole(each.lines_before) }}</td>
              <td class="number">{{ whole(each.lines_after) }}</td>
              <td class="number">{{ grouped(each.amount_before) }}</td>
              <td class="number">{{ grouped(each.amount_after) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
  </section>
</template>

<style scoped>
.replacement {
  border-top: 1px solid var(--line);
  margin-top: 8px;
  padding-top: 6px;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
.ways button {
  border: 1px solid var(--line);
  background: none;
  border-radius: 3px;
  padding: 3px 10px;
  cursor: pointer;
}
.ways .on {
  background: var(--soft);
  border-color: var(--wood);
  font-weight: 700;
}
.ways button:disabled {
  color: var(--quiet);
  cursor: not-allowed;
}
.old {
  max-height: 120px;
  overflow-y: auto;
  margin: 4px 0;
}
.old label {
  display: block;
}
p {
  margin: 6px 0 2px;
}
.months {
  max-height: 150px;
  overflow-y: auto;
}
table {
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--quiet);
  font-size: 11px;
}
th.number {
  text-align: right;
}
td,
th {
  padding: 1px 16px 1px 0;
}
</style>
