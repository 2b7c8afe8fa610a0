<script setup lang="ts">
/** Where a posted line comes from: file, row and batch, what was given; and its correction. */
import { computed } from "vue";
import { useDays } from "@/composables/dates";
import { dimensionName } from "@/words/names";
import { useNumbers } from "@/composables/numbers";
import type { LineChange, LinesPage } from "@/contract";
import LineCorrection from "@/panels/proof/LineCorrection.vue";

const { grouped } = useNumbers();
const { dayText } = useDays();

const props = defineProps<{
  line: LinesPage["lines"][number];
  ledger: string;
  correcting: boolean;
  correct: (line: number, change: LineChange | null, reason: string) => Promise<string>;
}>();
const emit = defineEmits<{ turn: [] }>();
/** Figures and days of the ledger's own that the line has. */
const own = computed(() => [
  ...Object.entries(props.line.figures ?? {}).flatMap(([name, value]) =>
    value === null ? [] : [`${dimensionName(name)} ${grouped(value)}`],
  ),
  ...Object.entries(props.line.days ?? {}).flatMap(([name, day]) =>
    day === null ? [] : [`${dimensionName(name)} ${dayText(day)}`],
  ),
]);
</script>

<template>
  <div class="from" data-test="line-source" :title="line.members.customer">
    <span
      ><RouterLink
        :to="{ path: '/intake', query: { ledger, batch: String(line.batch) } }"
        title="To the batch that it came with"
        data-test="line-batch"
        >{{ line.file }}</RouterLink
      >, row {{ line.row }}<template v-if="line.side === 'return'"> · return</template
      ><template v-if="line.quantity">
        · {{ grouped(line.quantity) }} {{ /^-?1(\.0+)?$/.test(line.quantity) ? "unit" : "units" }}</template
      ><template v-if="line.given">
        · given as {{ grouped(line.given.amount) }} {{ line.given.currency }} at
        {{ line.given.rate }}</template
      ><template v-for="each in own" :key="each"> · {{ each }}</template
      ><template v-if="line.members.customer"> · {{ line.members.customer }}</template></span
    ><ElButton
      link
      :aria-expanded="correcting"
      :aria-label="`Correct ${line.file}, row ${line.row}`"
      data-test="line-correct"
      @click="emit('turn')"
    >
      correct
    </ElButton>
  </div>
  <LineCorrection v-if="correcting" :line="line" :correct="correct" @close="emit('turn')" />
</template>

<style scoped>
.from {
  display: flex;
  justify-content: space-between;
  gap: 6px;
  font-size: 0.75rem;
  color: var(--quiet);
}
.from span {
  overflow: hidden;
  text-overflow: ellipsis;
}
.from a {
  color: inherit;
}
.from button {
  flex: none;
  padding: 0 2px 0 0;
}
</style>
