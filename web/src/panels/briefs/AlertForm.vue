<script setup lang="ts">
/** What an alert looks for, and who is told. */
import Option from "@/parts/Option.vue";
import { computed, ref } from "vue";
import type { Alert, Answer, LedgerDescription } from "@/contract";
import Count from "@/parts/Count.vue";
import Trouble from "@/parts/Trouble.vue";

const props = defineProps<{
  alert: Alert;
  id: number | null;
  ledger: LedgerDescription;
  refused: string;
  /** The answer to its statement: its columns can be chosen from. */
  answer?: Answer | null;
}>();
const emit = defineEmits<{ keep: [alert: Alert, id: number | null]; close: [] }>();
const next = ref<Alert>(JSON.parse(JSON.stringify(props.alert)));
const people = ref(next.value.people.map((each) => each.address).join(", "));
const columns = computed(() =>
  (props.answer?.columns ?? []).map((each, at) => ({
    id: each.id,
    words: props.answer?.told.columns[at]?.plain ?? each.id,
    unit: each.unit === "percent" ? "%" : each.unit === "points" ? "points" : "",
  })),
);
const unit = computed(() => columns.value.find((each) => each.id === next.value.column)?.unit ?? "");

function keep(): void {
  const addresses = people.value.split(/[\s,;]+/).filter(Boolean);
  const named = addresses.map((address) => ({ address, name: "", copies: [] }));
  emit("keep", { ...next.value, people: named }, props.id);
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="id === null ? 'A new alert' : alert.name"
    width="460px"
    append-to-body
    data-test="alert-form"
    @close="emit('close')"
  >
    <ElForm label-position="top" @submit.prevent="keep">
      <ElFormItem label="Called">
        <ElInput v-model="next.name" aria-label="Called" data-test="alert-name" />
      </ElFormItem>
      <template v-if="next.kind === 'feed_behind'">
        <ElFormItem label="When this feed">
          <ElSelect v-model="next.feed" aria-label="Feed">
            <Option value="" label="any feed" />
            <Option v-for="each in ledger.feeds" :key="each.feed" :value="each.feed" :label="each.feed" />
          </ElSelect>
        </ElFormItem>
        <ElFormItem label="is more than so many days behind">
          <Count v-model="next.days" :min="0" :max="1000" aria-label="Days behind" />
        </ElFormItem>
      </template>
      <template v-else>
        <ElFormItem v-if="columns.length" label="When any row’s">
          <ElSelect v-model="next.column" aria-label="Figure" data-test="alert-column">
            <Option v-for="each in columns" :key="each.id" :value="each.id" :label="each.words" />
          </ElSelect>
        </ElFormItem>
        <ElFormItem label="is">
          <div class="line">
            <ElSelect v-model="next.comparison" aria-label="Comparison" data-test="alert-comparison">
              <Option value="below" label="below" />
              <Option value="above" label="above" />
            </ElSelect>
            <ElInput v-model="next.figure" aria-label="Limit" data-test="alert-figure">
              <template v-if="unit" #suffix>{{ unit }}</template>
            </ElInput>
          </div>
        </ElFormItem>
      </template>
      <ElFormItem label="Tell by mail (it is told on this page, too)">
        <ElInput
          v-model="people"
          placeholder="name@example.com, other@example.com"
          aria-label="People"
          data-test="alert-people"
        />
      </ElFormItem>
    </ElForm>
    <Trouble v-if="refused" :message="refused" />
    <template #footer>
      <ElButton @click="emit('close')">Leave it</ElButton>
      <ElButton type="primary" data-test="keep-alert" @click="keep">Keep</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.line {
  display: flex;
  gap: 8px;
  width: 100%;
}
</style>
