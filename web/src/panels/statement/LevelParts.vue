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

const WAYS = [
  { way: "rows", part: "row", first: "by", more: "then by" },
  { way: "across", part: "across", first: "across", more: "then across" },
] as const;

function set(way: "rows" | "across", levels: RowLevel[]): void {
  emit("change", edit.setLevels(props.statement, way, levels));
}

function told(level: RowLevel): string | undefined {
  return props.ledger.dimensions.find((each) => each.name === level)?.description;
}
</script>

<template>
  <template v-for="{ way, part, first, more } in WAYS" :key="way">
    <span class="list"
      ><template v-if="statement[way].length"
        >, {{ first }}
        <template v-for="(level, at) in statement[way]" :key="at">
          <template v-if="at"> then </template>
          <Part
            :name="`${part}-${at}`"
            :label="said.of(way, at)"
            :about="told(level)"
            :kind="way"
            :at="at"
            removes
            @remove="
              set(
                way,
                statement[way].filter((_, other) => other !== at),
              )
            "
            @move="(from, to) => set(way, moved(statement[way], from, to))"
          >
            <template #default="{ close }">
              <RowChoice
                :way="way"
                :statement="statement"
                :ledger="ledger"
                :at="at"
                @change="(levels) => (set(way, levels), close())"
              />
            </template>
          </Part>
        </template>
      </template>
      <Part :name="`add-${part}`" :label="`+ ${statement[way].length ? more : first}`" adds>
        <template #default="{ close }">
          <RowChoice
            :way="way"
            :statement="statement"
            :ledger="ledger"
            :at="null"
            @change="(levels) => (set(way, levels), close())"
          />
        </template> </Part
    ></span>
  </template>
</template>
