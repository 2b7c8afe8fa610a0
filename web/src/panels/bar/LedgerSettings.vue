<script setup lang="ts">
/** The settings of a ledger in a drawer. */
import type { LedgerDescription, LedgerSettings } from "@/contract";
import LedgerSettingsPanel from "@/panels/bar/LedgerSettingsPanel.vue";
import { useLedgers } from "@/state/ledgers";

defineProps<{ ledger: LedgerDescription; settings: LedgerSettings }>();
const emit = defineEmits<{ close: [] }>();
const ledgers = useLedgers();
</script>

<template>
  <ElDrawer
    :model-value="true"
    :title="`Settings of ${ledger.name}`"
    size="min(760px, 92vw)"
    append-to-body
    @close="emit('close')"
  >
    <LedgerSettingsPanel
      :ledger="ledger"
      :settings="settings"
      :save="ledgers.changeSettings"
      @close="emit('close')"
    />
  </ElDrawer>
</template>
