<script setup lang="ts">
/** A new ledger: its name, currency, time zone, and what its lines stand for. */
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
    <input
      v-model="name"
      placeholder="Name of the ledger"
      aria-label="Name of the ledger"
      maxlength="80"
      required
      data-test="new-ledger-name"
    />
    <input v-model="currency" size="4" maxlength="3" aria-label="Currency" required />
    <input v-model="zone" size="14" aria-label="Time zone" required />
    <select v-model="grain" aria-label="What its lines stand for" data-test="new-ledger-grain">
      <option v-for="(label, key) in LINE_GRAINS" :key="key" :value="key">lines are {{ label }}</option>
    </select>
    <button type="submit" data-test="make-ledger">Make it</button>
    <button type="button" class="plain" @click="emit('close')">Cancel</button>
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
