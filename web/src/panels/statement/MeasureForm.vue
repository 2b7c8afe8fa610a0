<script setup lang="ts">
/** A measure of one's own: its name, the expression it is computed by, and how it is read. */
import type { InputInstance } from "element-plus";
import Count from "@/parts/Count.vue";
import Option from "@/parts/Option.vue";
import { POLARITIES, UNITS } from "@/contract/vocabulary";
import { computed, ref } from "vue";
import type { DefinedMeasure } from "@/contract";

const props = defineProps<{ defined?: DefinedMeasure | undefined; names?: string[] }>();
const emit = defineEmits<{ define: [defined: DefinedMeasure]; remove: [] }>();

const name = ref(props.defined?.name ?? "");
const expression = ref(props.defined?.expression ?? "");
const unit = ref<DefinedMeasure["unit"]>(props.defined?.unit ?? "currency");
const decimals = ref(props.defined?.decimals ?? 2);
const polarity = ref<DefinedMeasure["polarity"]>(props.defined?.polarity ?? "more_is_favourable");
const box = ref<InputInstance | null>(null);

const plain = computed(() =>
  name.value
    .trim()
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "_")
    .replace(/^_+|_+$/g, ""),
);
/** The word that is being written, and what it may become. */
const completions = computed(() => {
  const word = /[a-z_]+$/.exec(expression.value)?.[0] ?? "";
  if (!word) return [];
  return (props.names ?? []).filter((each) => each.startsWith(word) && each !== word).slice(0, 5);
});

function complete(word: string): void {
  expression.value = expression.value.replace(/[a-z_]+$/, word);
  box.value?.focus();
}

function define(): void {
  if (!plain.value || !expression.value.trim()) return;
  emit("define", {
    name: plain.value,
    expression: expression.value.trim(),
    unit: unit.value,
    decimals: decimals.value,
    polarity: polarity.value,
  });
}
</script>

<template>
  <form class="own" @submit.prevent="define">
    <label
      >Name <ElInput v-model="name" :disabled="!!defined" placeholder="net per customer" data-test="own-name"
    /></label>
    <label
      >Is
      <ElInput
        ref="box"
        v-model="expression"
        placeholder="net_sales / active_customers"
        spellcheck="false"
        data-test="own-expression"
    /></label>
    <p v-if="completions.length" class="words">
      <ElButton v-for="each in completions" :key="each" link @click="complete(each)">
        {{ each }}
      </ElButton>
    </p>
    <label
      >Counted in
      <ElSelect v-model="unit" data-test="own-unit">
        <Option v-for="(label, key) in UNITS" :key="key" :value="key" :label="label" /> </ElSelect
    ></label>
    <label
      >Decimals <Count v-model="decimals" :min="0" :max="9" aria-label="Decimals" data-test="own-decimals"
    /></label>
    <label
      >More is
      <ElSelect v-model="polarity" data-test="own-polarity">
        <Option v-for="(label, key) in POLARITIES" :key="key" :value="key" :label="label" /> </ElSelect
    ></label>
    <p class="quiet">Measures by name, + - * / and brackets; x otherwise y where x is undefined.</p>
    <ElButton native-type="submit" data-test="define">{{ defined ? "Change it" : "Show it" }}</ElButton>
    <ElButton v-if="defined" link data-test="undefine" @click="emit('remove')"> Remove it </ElButton>
  </form>
</template>

<style scoped>
.own {
  display: grid;
  gap: 5px;
  padding: 6px 8px;
}
label {
  display: flex;
  gap: 8px;
  justify-content: space-between;
  align-items: center;
}
.words {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 0;
}
</style>
