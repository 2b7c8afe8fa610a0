<script setup lang="ts">
/** What is on screen handed on: put on a brief, or looked at for an alert. */
import { storeToRefs } from "pinia";
import { ElMessage } from "element-plus";
import { computed } from "vue";
import type { Alert, Answer, Layout, LedgerDescription } from "@/contract";
import type { Question } from "@/model/statement";
import AlertForm from "@/panels/briefs/AlertForm.vue";
import PutOnBrief from "@/panels/briefs/PutOnBrief.vue";
import { useAlerts } from "@/state/alerts";

const props = defineProps<{
  what: "brief" | "alert";
  question: Question;
  layout: Layout;
  ledger: LedgerDescription;
  answer: Answer | null;
  title: string;
}>();
const emit = defineEmits<{ close: [] }>();
const alerts = useAlerts();
const { refused } = storeToRefs(alerts);
/** The first change is what is watched most; without one the first figure is. */
const alert = computed<Alert>(() => {
  const columns = props.answer?.columns ?? [];
  const first =
    columns.find((each) => each.kind === "percent_change" || each.kind === "attainment") ?? columns[0];
  return {
    name: props.title,
    kind: "figures",
    statement: props.question.statement,
    opened: props.question.opened,
    column: first?.id ?? "",
    comparison: "below",
    figure: first?.kind === "attainment" ? "95" : "0",
    feed: "",
    days: 0,
    people: [],
  };
});
async function keep(next: Alert): Promise<void> {
  if (!(await alerts.keep(props.ledger.name, next, null))) return;
  ElMessage.success(`The alert “${next.name}” is kept: it is looked at after each posting.`);
  emit("close");
}
</script>

<template>
  <PutOnBrief
    v-if="what === 'brief'"
    :question="question"
    :layout="layout"
    :ledger="ledger"
    :title="title"
    @close="emit('close')"
  />
  <AlertForm
    v-else
    :id="null"
    :alert="alert"
    :ledger="ledger"
    :refused="refused"
    :answer="answer"
    @keep="keep"
    @close="emit('close')"
  />
</template>
