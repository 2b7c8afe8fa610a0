<script setup lang="ts">
/** The mappings that files take by themselves: saved as files, taken from files, forgotten. */
import type { KeptMapping, Mapping } from "@/contract";
import { count, KINDS } from "@/words/words";

defineProps<{ mappings: KeptMapping[]; busy: boolean }>();
const emit = defineEmits<{ save: [kept: KeptMapping]; forget: [shape: string]; take: [exported: unknown] }>();

async function picked(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const text = await input.files?.[0]?.text();
  input.value = "";
  if (text === undefined) return;
  try {
    emit("take", JSON.parse(text));
  } catch {
    emit("take", text);
  }
}

function kept(mapping: Mapping): string {
  const parts = [count(mapping.columns.length, "column")];
  if (mapping.corrections.length) parts.push(count(mapping.corrections.length, "correction"));
  if (mapping.merges.length) parts.push(count(mapping.merges.length, "merge"));
  return parts.join(", ");
}
</script>

<template>
  <table v-if="mappings.length">
    <tbody>
      <tr v-for="each in mappings" :key="each.shape" data-test="kept-mapping">
        <th scope="row">{{ each.mapping.name }}</th>
        <td>{{ KINDS[each.mapping.kind] }}</td>
        <td>{{ kept(each.mapping) }}</td>
        <td>
          <button type="button" class="plain" @click="emit('save', each)">Save as a file</button>
          <button type="button" class="plain" :disabled="busy" @click="emit('forget', each.shape)">
            Forget
          </button>
        </td>
      </tr>
    </tbody>
  </table>
  <label class="take"
    >Take one from a file<input
      type="file"
      accept=".json"
      class="hidden"
      data-test="take-mapping"
      @change="picked"
  /></label>
</template>

<style scoped>
th,
td {
  text-align: left;
  padding: 2px 14px 2px 0;
}
.take {
  text-decoration: underline;
  text-decoration-color: var(--line);
  cursor: pointer;
}
.take:focus-within {
  outline: 2px solid var(--window-0);
}
</style>
