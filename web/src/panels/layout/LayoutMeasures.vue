<script setup lang="ts">
/** How the figures of single measures are written: their decimals, negative figures and zeros. */
import Field from "@/parts/Field.vue";
import Option from "@/parts/Option.vue";
import { capital, measureName } from "@/words/names";
import { computed } from "vue";
import type { Answer, Layout } from "@/contract";

const props = defineProps<{ answer: Answer; layout: Layout }>();
const emit = defineEmits<{ lay: [layout: Layout] }>();

const measures = computed(() => [...new Set(props.answer.columns.map((each) => each.measure))]);

function set<Name extends keyof Layout>(name: Name, value: Layout[Name]): void {
  emit("lay", { ...props.layout, [name]: value });
}

function write(measure: string, part: Layout["written"][string]): void {
  const { [measure]: before, ...others } = props.layout.written;
  const own = { ...before, ...part };
  set("written", own.negatives || own.zeros ? { ...others, [measure]: own } : others);
}

function decimals(measure: string, text: string): void {
  const others = Object.fromEntries(
    Object.entries(props.layout.decimals).filter(([name]) => name !== measure),
  );
  const places = /^\d$/.test(text.trim()) ? { [measure]: Number(text) } : {};
  set("decimals", { ...others, ...places });
}
</script>

<template>
  <p v-for="each in measures" :key="each" class="line">
    {{ capital(measureName(each)) }}
    <span>
      <Field
        style="width: 7ch"
        :value="layout.decimals[each] ?? ''"
        placeholder="own"
        :aria-label="`Decimals of ${measureName(each)}`"
        :data-test="`decimals-${each}`"
        @change="decimals(each, $event)"
      />
      <ElSelect
        :model-value="layout.written[each]?.negatives ?? ''"
        :aria-label="`Negative figures of ${measureName(each)}`"
        :data-test="`negatives-${each}`"
        @change="write(each, { negatives: ($event || null) as Layout['negatives'] })"
      >
        <Option value="" label="as all" />
        <Option value="minus" label="−12" />
        <Option value="brackets" label="(12)" />
      </ElSelect>
      <ElSelect
        :model-value="layout.written[each]?.zeros ?? ''"
        :aria-label="`Zeros of ${measureName(each)}`"
        :data-test="`zeros-${each}`"
        @change="write(each, { zeros: ($event || null) as Layout['zeros'] })"
      >
        <Option value="" label="as all" />
        <Option value="figure" label="0" />
        <Option value="dash" label="-" />
        <Option value="blank" label="blank" />
      </ElSelect>
    </span>
  </p>
</template>

<style scoped>
.line {
  margin: 0;
  padding: 2px 0;
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: center;
}
.line .el-select {
  width: 86px;
}
</style>
