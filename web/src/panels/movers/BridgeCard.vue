<script setup lang="ts">
/** The way from the base to now on a card: which level is looked at, step by kind or member by member, and that it adds up. */
import { useNumbers } from "@/composables/numbers";
import { computed, ref } from "vue";
import type { Layout, MemberKey, Movers, MoversAsked, Step } from "@/contract";
import { columnOf, placed } from "@/model/movers";
import BridgePicture from "@/panels/movers/BridgePicture.vue";
import { dimensionName } from "@/words/names";

const props = defineProps<{ movers: Movers; how: Layout["bridge"] }>();
const emit = defineEmits<{
  how: [how: Layout["bridge"]];
  go: [path: MemberKey[]];
  /** Only members of some kind. */
  kind: [kinds: MoversAsked["kinds"]];
  prove: [path: MemberKey[], column: string];
}>();
const { cell: cellText } = useNumbers();
const bridge = ref<InstanceType<typeof BridgePicture> | null>(null);
defineExpose({ picture: () => bridge.value?.picture() ?? "" });

/** The way down to this level: what was opened, and the level that is seen. */
const way = computed(() => [
  { name: "All", path: [] as MemberKey[] },
  ...props.movers.labels.map((name, at) => ({ name, path: props.movers.path.slice(0, at + 1) })),
]);
const change = computed(() => {
  const { difference } = props.movers.total.shown;
  return difference ? cellText(difference, columnOf(props.movers, "difference"), props.movers.decimals) : "";
});

/** Whether the rods do not begin at 0. */
const broken = computed(() => placed(props.how === "each" ? props.movers.each : props.movers.steps).broken);

const KINDS: Record<string, MoversAsked["kinds"]> = {
  lost: ["lost"],
  new: ["new"],
  kept_up: ["kept"],
  kept_down: ["kept"],
  returns_only: ["returns_only"],
};

/** A member's step leads into it; a step of a kind leaves only who is of it. */
function openStep(step: Step): void {
  const kinds = KINDS[step.kind];
  if (kinds) emit("kind", kinds);
  else if (step.path && step.path.length < props.movers.levels.length) emit("go", step.path);
}
</script>

<template>
  <h2>From {{ movers.told.base }} to {{ movers.told.current }}</h2>
  <p class="quiet way">
    <template v-for="(each, at) in way" :key="at"
      ><ElButton v-if="at < way.length - 1" link :data-test="`way-${at}`" @click="emit('go', each.path)">{{
        each.name
      }}</ElButton
      ><strong v-else>{{ each.name }}</strong> ›
    </template>
    <strong>by {{ dimensionName(movers.level) }}</strong>
    <ElRadioGroup
      :model-value="how"
      size="small"
      aria-label="Steps"
      @change="emit('how', $event as Layout['bridge'])"
    >
      <ElRadioButton value="kinds" data-test="bridge-kinds">by kind</ElRadioButton>
      <ElRadioButton value="each" data-test="bridge-each">{{ `each ${movers.told.level}` }}</ElRadioButton>
    </ElRadioGroup>
  </p>
  <BridgePicture
    v-if="movers.steps.length"
    ref="bridge"
    :movers="movers"
    :each="how === 'each'"
    @open="openStep"
    @prove="(path, column) => emit('prove', path, column)"
  />
  <p v-else class="quiet">
    The change of {{ movers.told.measure }} is no sum of its members' changes: no bridge leads over it.
  </p>
  <p v-if="movers.adds_up !== null" class="adds" :class="{ wrong: !movers.adds_up }" data-test="adds-up">
    {{ movers.adds_up ? "✓ The steps add up to" : "✗ The steps do not add up to" }}
    {{ change }} exactly<template v-if="broken"> · a broken rod does not begin at 0</template>
  </p>
</template>

<style scoped>
h2 {
  margin: 0;
  font: 600 0.9375rem var(--sans);
}
p {
  margin: 0 0 4px;
  font-size: 0.78rem;
}
.way {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 6px;
  align-items: center;
}
.way .el-radio-group {
  margin-left: auto;
}
.adds {
  margin: 8px -14px -10px;
  padding: 5px 14px;
  background: var(--agrees);
  color: var(--agrees-text);
}
.adds.wrong {
  background: var(--wrong);
  color: var(--adverse);
}
</style>
