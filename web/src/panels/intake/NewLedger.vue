<script setup lang="ts">
/** A new ledger: its name, currency, time zone, and what its lines stand for. */
import Option from "@/parts/Option.vue";
import { ref } from "vue";
import type { LedgerSettings } from "@/contract";
import { LINE_GRAINS } from "@/words/intake";

type Grain = LedgerSettings["line_grain"];
const props = defineProps<{
  make: (name: string, currency: string, timeZone: string, lineGrain: Grain) => Promise<void>;
}>();
const emit = defineEmits<{ close: [] }>();

const name = ref("");
const currency = ref("EUR");
const zone = ref(Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC");
const grain = ref<Grain>("day");
const trouble = ref("");

async function confirm(): Promise<void> {
  trouble.value = "";
  try {
    await props.make(name.value, currency.value.toUpperCase(), zone.value, grain.value);
    emit("close");
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error);
  }
}
</script>

<template>
  <form @submit.prevent="confirm">
    <ElInput
      v-model="name"
      placeholder="Name of the ledger"
      aria-label="Name of the ledger"
      maxlength="80"
      required
      data-test="new-ledger-name"
    />
    <ElInput v-model="currency" style="width: 9ch" maxlength="3" aria-label="Currency" required />
    <ElInput v-model="zone" style="width: 19ch" aria-label="Time zone" required />
    <ElSelect v-model="grain" aria-label="What its lines stand for" data-test="new-ledger-grain">
      <Option v-for="(label, key) in LINE_GRAINS" :key="key" :value="key" :label="`lines are ${label}`" />
    </ElSelect>
    <ElButton native-type="submit" data-test="make-ledger">Make it</ElButton>
    <ElButton link @click="emit('close')">Cancel</ElButton>
    <span v-if="trouble" class="adverse" role="alert" data-test="new-ledger-trouble">{{ trouble }}</span>
  </form>
</template>

<style scoped>
form {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
</style>
