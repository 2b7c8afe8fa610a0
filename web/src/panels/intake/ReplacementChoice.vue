<script setup lang="ts">
/** How files are placed beside what is posted: appended, in the place of batches, or of a stretch of days; and what that changes. */
import { useDays } from "@/composables/dates";
import Day from "@/parts/Day.vue";
import { useNumbers } from "@/composables/numbers";
import { computed, ref, watch } from "vue";
import type { BatchRecord, Replacement, PostingPreview } from "@/contract";

const { monthName, rangeText } = useDays();

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

const ways = computed(() => [
  { way: "append", label: "Append", off: false },
  { way: "batches", label: "Replace posted files", off: !active.value.length },
  { way: "days", label: "Replace days", off: !active.value.length || !props.stretch },
]);

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
    <div class="ways">
      <ElRadioGroup
        :model-value="way"
        aria-label="How they are placed"
        @change="(next: string | number | boolean | undefined) => take(next as Way)"
      >
        <ElRadioButton v-for="each in ways" :key="each.way" :value="each.way" :disabled="each.off">
          <span :data-test="`place-${each.way}`">{{ each.label }}</span>
        </ElRadioButton>
      </ElRadioGroup>
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
      <ElTable
        :data="preview.months"
        row-key="month"
        size="small"
        max-height="170"
        class="months"
        aria-label="Months before and after"
      >
        <ElTableColumn v-slot="{ row }" label="Month" width="110">{{ month(row.month) }}</ElTableColumn>
        <ElTableColumn v-slot="{ row }" label="Lines before" width="110" align="right">
          {{ whole(row.lines_before) }}
        </ElTableColumn>
        <ElTableColumn v-slot="{ row }" label="after" width="100" align="right">{{
          whole(row.lines_after)
        }}</ElTableColumn>
        <ElTableColumn v-slot="{ row }" label="Net total before" min-width="130" align="right">
          {{ grouped(row.amount_before) }}
        </ElTableColumn>
        <ElTableColumn v-slot="{ row }" label="after" min-width="130" align="right">
          <span :data-test="`month-${row.month}`">{{ grouped(row.amount_after) }}</span>
        </ElTableColumn>
      </ElTable>
    </template>
  </section>
</template>

<style scoped>
.replacement {
  margin: 0;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
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
  max-width: 760px;
}
</style>
