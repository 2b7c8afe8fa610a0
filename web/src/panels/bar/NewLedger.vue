<script setup lang="ts">
/** A new ledger: its name, currency, time zone, and how exactly the days of its lines are known. */
import Option from "@/parts/Option.vue";
import { computed, ref } from "vue";
import type { LedgerSettings } from "@/contract";
import { useLedgers } from "@/state/ledgers";
import { LINE_GRAINS } from "@/words/intake";
import { fieldTroubles } from "@/words/ledger";

type Grain = LedgerSettings["line_grain"];
const emit = defineEmits<{ made: [ledger: number]; close: [] }>();

const ledgers = useLedgers();
const name = ref("");
const currency = ref("EUR");
const zone = ref(Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC");
const grain = ref<Grain>("day");
const trouble = ref("");

/** What is wrong is told at its field, once it was tried. */
const tried = ref(false);
const wrong = computed(() => fieldTroubles({ name: name.value, currency: currency.value, zone: zone.value }));

async function confirm(): Promise<void> {
  tried.value = true;
  trouble.value = "";
  if (Object.values(wrong.value).some(Boolean)) return;
  try {
    const made = await ledgers.make(name.value, currency.value.toUpperCase(), zone.value, grain.value);
    emit("made", made.id);
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error);
  }
}
</script>

<template>
  <ElDialog :model-value="true" title="A new ledger" width="460" append-to-body @close="emit('close')">
    <ElForm label-width="150" label-position="left" @submit.prevent="confirm">
      <ElFormItem label="Name" required :error="tried ? wrong.name : ''">
        <ElInput
          v-model="name"
          placeholder="My sales"
          aria-label="Name of the ledger"
          maxlength="80"
          data-test="new-ledger-name"
        />
      </ElFormItem>
      <ElFormItem label="Currency" required :error="tried ? wrong.currency : ''">
        <ElInput
          v-model="currency"
          style="width: 9ch"
          maxlength="3"
          aria-label="Currency"
          data-test="new-ledger-currency"
        />
      </ElFormItem>
      <ElFormItem label="Time zone" required :error="tried ? wrong.zone : ''">
        <ElInput v-model="zone" aria-label="Time zone" />
      </ElFormItem>
      <ElFormItem label="Each line is known">
        <ElSelect
          v-model="grain"
          aria-label="How exactly the day of a line is known"
          data-test="new-ledger-grain"
        >
          <Option v-for="(label, key) in LINE_GRAINS" :key="key" :value="key" :label="label" />
        </ElSelect>
      </ElFormItem>
      <p v-if="trouble" class="adverse" role="alert" data-test="new-ledger-trouble">{{ trouble }}</p>
      <ElButton native-type="submit" type="primary" data-test="make-ledger">Make it</ElButton>
      <ElButton link @click="emit('close')">Cancel</ElButton>
    </ElForm>
  </ElDialog>
</template>
