<script setup lang="ts">
/** The journal: every version, who made it and how, and what it holds. */
import { useNumbers } from "@/composables/numbers";
import type { VersionRecord } from "@/contract";
import { dayText } from "@/model/days";

const { grouped, whole } = useNumbers();

defineProps<{ versions: VersionRecord[] }>();
</script>

<template>
  <div class="list" tabindex="0" aria-label="Versions">
    <table>
      <thead>
        <tr>
          <th class="number">Version</th>
          <th>What</th>
          <th>Who</th>
          <th>When</th>
          <th class="number">Lines</th>
          <th class="number">Net total</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="each in versions" :key="each.version" data-test="version">
          <td class="number">{{ each.version }}</td>
          <td class="what">{{ each.what }}</td>
          <td>{{ each.made_by }}</td>
          <td :title="each.made_at">{{ dayText(each.made_at.slice(0, 10)) }}</td>
          <td class="number">{{ whole(each.lines) }}</td>
          <td class="number">{{ grouped(each.amount) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.list {
  max-height: 220px;
  overflow: auto;
}
table {
  border-collapse: collapse;
}
th,
td {
  text-align: left;
  padding: 2px 14px 2px 0;
  border-bottom: 1px solid var(--line);
}
td.number,
th.number {
  text-align: right;
}
.what {
  max-width: 520px;
}
</style>
