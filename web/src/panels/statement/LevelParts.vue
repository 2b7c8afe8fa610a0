<script setup lang="ts">
/** Levels down the rows and across, from the outside in. */
import type { LedgerDescription, RowLevel, Statement } from "@/contract";
import { moved } from "@/model/limits";
import * as edit from "@/model/statement";
import RowChoice from "@/panels/statement/RowChoice.vue";
import Part from "@/parts/Part.vue";
import type { Pieces } from "@/words/told";

const props = defineProps<{ statement: Statement; ledger: LedgerDescription; said: Pieces }>();
const emit = defineEmits<{ change: [statement: Statement] }>();

const SIDES = [
  { side: "rows", part: "row", first: "by", more: "then by" },
  { side: "across", part: "across", first: "across", more: "then across" },
] as const;

function set(side: "rows" | "across", levels: RowLevel[]): void {
  emit("change", edit.setLevels(props.statement, side, levels));
}

function told(level: RowLevel): string | undefined {
  return props.ledger.dimensions.find((each) => each.name === level)?.description;
}
</script>

<template>
  <template v-for="{ side, part, first, more } in SIDES" :key="side">
    <span class="list"
      ><template v-if="statement[side].length"
        >, {{ first }}
        <template v-for="(level, at) in statement[side]" :key="at">
          <template v-if="at"> then </template>
          <Part
            :name="`${part}-${at}`"
            :label="said.of(side, at)"
            :about="told(level)"
            :kind="side"
            :at="at"
            removes
            @remove="
              set(
                side,
                statement[side].filter((_, other) => other !== at),
              )
            "
            @move="(from, to) => set(side, moved(statement[side], from, to))"
          >
            <template #default="{ close }">
              <RowChoice
                :side="side"
                :statement="statement"
                :ledger="ledger"
                :at="at"
                @change="(levels) => (set(side, levels), close())"
              />
            </template>
          </Part>
        </template>
      </template>
      <Part :name="`add-${part}`" :label="`+ ${statement[side].length ? more : first}`" adds>
        <template #default="{ close }">
          <RowChoice
            :side="side"
            :statement="statement"
            :ledger="ledger"
            :at="null"
            @change="(levels) => (set(side, levels), close())"
          />
        </template> </Part
    ></span>
  </template>
</template>
