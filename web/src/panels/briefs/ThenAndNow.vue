<script setup lang="ts">
/** What later postings changed of an issue: each figure then and now, and what caused the difference. */
import { computed, ref } from "vue";
import { useDays } from "@/composables/dates";
import type { RestatedFigure, Restatement } from "@/contract";

const props = defineProps<{ found: Restatement | null }>();
const shown = defineModel<boolean>({ required: true });
const { dayText } = useDays();
const text = ref("");
const listed = computed(() => {
  const wanted = text.value.trim().toLocaleLowerCase();
  return (props.found?.figures ?? []).filter((each) =>
    `${each.title} ${each.row} ${each.heading}`.toLocaleLowerCase().includes(wanted),
  );
});

function causes(figure: RestatedFigure): string[] {
  return figure.effects.map((each) => {
    const when = each.made_at ? `, ${dayText(each.made_at.slice(0, 10))}` : "";
    return `${each.what}${when}${each.amount ? ` (${each.amount})` : ""}`;
  });
}
</script>

<template>
  <ElDialog v-model="shown" title="Then and now" width="min(1100px, 94vw)" data-test="restated-dialog">
    <template v-if="found">
      <p class="lead">{{ found.words || "Nothing was restated." }}</p>
      <p v-for="each in found.trouble" :key="each" class="warn">{{ each }}</p>
      <p v-if="found.new_rows" class="quiet">
        {{ found.new_rows }} {{ found.new_rows === 1 ? "row" : "rows" }} would be new in its tables.
      </p>
      <ElInput
        v-if="found.figures.length > 12"
        v-model="text"
        clearable
        placeholder="Find a figure"
        aria-label="Find a figure"
        class="find"
      />
      <ElTable v-if="found.count" :data="listed" max-height="52vh" size="small" data-test="restated-table">
        <ElTableColumn label="Block" prop="title" min-width="150" />
        <ElTableColumn label="Row" min-width="110">
          <template #default="{ row }">{{ (row as RestatedFigure).row || "all" }}</template>
        </ElTableColumn>
        <ElTableColumn label="Figure" prop="heading" min-width="150" />
        <ElTableColumn label="Then" prop="then" align="right" width="105" />
        <ElTableColumn label="Now" prop="now" align="right" width="105" />
        <ElTableColumn label="Difference" prop="difference" align="right" width="105" />
        <ElTableColumn label="Because of" min-width="220">
          <template #default="{ row }">
            <div v-for="each in causes(row as RestatedFigure)" :key="each">{{ each }}</div>
          </template>
        </ElTableColumn>
      </ElTable>
      <p v-if="found.count > found.figures.length" class="quiet">
        The first {{ found.figures.length }} of {{ found.count }} figures are listed.
      </p>
    </template>
  </ElDialog>
</template>

<style scoped>
p {
  margin: 0 0 8px;
}
.lead {
  font: 1rem/1.4 var(--serif);
}
.warn {
  background: var(--warn);
  padding: 4px 8px;
}
.find {
  width: 260px;
  margin-bottom: 6px;
}
</style>
