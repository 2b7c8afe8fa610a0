<script setup lang="ts">
/** Members that a finding is about, with their lines, and what can be done about each. */
import { useNumbers } from "@/composables/numbers";
import type { Finding, Mapping } from "@/contract";
import { dimensionName } from "@/words/names";

const { grouped, whole } = useNumbers();
const props = defineProps<{ finding: Finding; mapping: Mapping }>();
const emit = defineEmits<{ rows: [member: string]; change: [next: Partial<Mapping>] }>();

function merge(from: string, into: string): void {
  const others = props.mapping.merges.filter(
    (each) => each.dimension !== props.finding.about || each.member !== from,
  );
  emit("change", { merges: [...others, { dimension: props.finding.about, member: from, into }] });
}
</script>

<template>
  <table>
    <thead>
      <tr>
        <th>{{ finding.code === "other_currencies" ? "Currency" : dimensionName(finding.about) }}</th>
        <th class="number">Lines</th>
        <th class="number">Net total</th>
        <th v-if="finding.code === 'near_members'">Nearly like</th>
        <th v-if="finding.code !== 'other_currencies'">Do</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="each in finding.members" :key="each.key" data-test="member-found">
        <td>{{ each.key }}</td>
        <td class="number">{{ whole(each.lines) }}</td>
        <td class="number">{{ grouped(each.amount) }}</td>
        <td v-if="finding.code === 'near_members'">{{ each.near }}</td>
        <td>
          <ElButton v-if="each.near" :data-test="`merge-${each.key}`" @click="merge(each.key, each.near)">
            Post as {{ each.near }}
          </ElButton>
          <ElButton
            v-if="
              finding.code !== 'other_currencies' &&
              (mapping.kind !== 'lookup' || finding.code === 'lookup_leaves_out')
            "
            link
            :data-test="`rows-${each.key}`"
            @click="emit('rows', each.key)"
          >
            rows
          </ElButton>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped src="./found.css" />
