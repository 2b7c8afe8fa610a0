<script setup lang="ts">
/** Who moved: up and down side by side, the way from the base to now, price and volume, how few make it. */
import { useEventListener } from "@vueuse/core";
import { computed, ref, toRefs } from "vue";
import type { Answer, LedgerDescription, LineChange, MemberKey, MoversAsked, Statement } from "@/contract";
import { opened } from "@/model/movers";
import BridgeCard from "@/panels/movers/BridgeCard.vue";
import FewPicture from "@/panels/movers/FewPicture.vue";
import MoversHow from "@/panels/movers/MoversHow.vue";
import MoversLeft from "@/panels/movers/MoversLeft.vue";
import MovementList from "@/panels/movers/MovementList.vue";
import SplitPanel from "@/panels/movers/SplitPanel.vue";
import ToldWords from "@/panels/movers/ToldWords.vue";
import ProofBoard from "@/panels/proof/ProofBoard.vue";
import { useSheet } from "@/state/sheet/sheet";
import type { Steps } from "@/state/sheet/steps";

const props = defineProps<{
  ledger: LedgerDescription;
  view: Steps;
  answer: Answer;
  statement: Statement;
  correct: (line: number, change: LineChange | null, reason: string) => Promise<string>;
}>();
const sheet = useSheet();
const { layout, moved, pageLoading, selected } = toRefs(sheet);
const bridge = ref<InstanceType<typeof BridgeCard> | null>(null);
defineExpose({ picture: () => bridge.value?.picture() ?? "" });

const asked = computed(() => layout.value.movers);
const below = computed(() => props.answer.told.names.slice(1));
/** Where a measure is adverse, less is the good side: it stands first. */
const sides = computed(() => {
  if (!moved.value) return [];
  const up = { side: moved.value.ups, title: "Up" };
  const down = { side: moved.value.downs, title: "Down" };
  return moved.value.polarity === "more_is_adverse" ? [down, up] : [up, down];
});
const about = computed(() => {
  const share = moved.value?.by === "contribution" ? "of the base's total" : "points of share";
  return `change · % · ${share}${moved.value && "share_change" in moved.value.total.shown ? "" : ", where it has one"}`;
});
function ask(next: MoversAsked): void {
  const now = sheet.selected;
  if (now) props.view.unselect();
  props.view.lay({ ...layout.value, movers: next });
}

function go(path: MemberKey[]): void {
  ask(opened(asked.value, path));
}

/** An item of price, volume and mix: who moved in it alone. */
function openItem(keys: MemberKey[]): void {
  const now = sheet.question?.statement;
  const names = moved.value?.split?.dimensions ?? [];
  if (!now) return;
  const limited = names.map((dimension, at) => ({ dimension, members: [keys[at] ?? null], exclude: false }));
  const others = now.filters.filter((each) => !names.includes(each.dimension));
  props.view.change({ ...now, filters: [...others, ...limited] });
}

function prove(path: MemberKey[], column: string): void {
  props.view.select(path, column, false);
}

/** Backspace leads a level up, where nothing is typed. */
useEventListener("keydown", (event: KeyboardEvent) => {
  const writing = (event.target as HTMLElement).matches("input:not([type=checkbox]), textarea");
  if (event.key !== "Backspace" || writing || !asked.value.path.length) return;
  event.preventDefault();
  go(asked.value.path.slice(0, -1));
});
</script>

<template>
  <div v-if="moved" class="movers" :aria-busy="pageLoading" data-test="movers">
    <ToldWords :sentences="moved.told.sentences" :text="moved.told.text" @prove="prove" />
    <MoversHow
      :movers="moved"
      :statement="statement"
      :ledger="ledger"
      :asked="asked"
      :bases="below"
      @ask="ask"
    />
    <ProofBoard
      v-slot="{ proving }"
      :answer="answer"
      :ledger="ledger.name"
      :correct="correct"
      @close="view.unselect"
    >
      <div class="cards" :class="{ proving }">
        <div class="card both" data-guide="movers">
          <MovementList
            v-for="{ side, title } in sides"
            :key="title"
            :movers="moved"
            :side="side"
            :title="title"
            :about="about"
            :selected="selected"
            :data-test="title.toLowerCase()"
            @open="go"
            @prove="prove"
          />
          <MoversLeft :movers="moved" />
        </div>
        <div class="card">
          <BridgeCard
            ref="bridge"
            :movers="moved"
            :how="layout.bridge"
            @how="(bridge) => view.lay({ ...layout, bridge })"
            @go="go"
            @kind="(kinds) => ask({ ...asked, kinds })"
            @prove="prove"
          />
        </div>
        <div class="card"><SplitPanel :movers="moved" @prove="prove" @item="openItem" /></div>
        <div class="card"><FewPicture :movers="moved" /></div>
      </div>
    </ProofBoard>
  </div>
</template>

<style scoped>
.movers {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.cards {
  display: grid;
  grid-template-columns: minmax(0, 1.75fr) minmax(0, 1fr);
  gap: 12px;
  align-content: start;
}
.cards.proving {
  grid-template-columns: minmax(0, 1fr);
}
/* Where there is little room both sides stay beside each other, and the rest stands below. */
@media (max-width: 1180px) {
  .cards {
    grid-template-columns: minmax(0, 1fr);
  }
}
.card {
  position: relative;
  padding: 10px 14px;
  background: var(--sheet);
  border: 1px solid var(--line);
  border-radius: 4px;
  min-width: 0;
}
.both {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(20.5rem, 1fr));
  gap: 4px 24px;
  align-content: start;
}
p {
  margin: 0 0 4px;
  font-size: 0.78rem;
}
</style>
