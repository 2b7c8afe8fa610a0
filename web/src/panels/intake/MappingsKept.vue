<script setup lang="ts">
/** The mappings that files take by themselves: saved as files, taken from files, forgotten. */
import { useNumbers } from "@/composables/numbers";
import { ref } from "vue";
import type { KeptMapping, KeptMappings, Mapping } from "@/contract";
import { KINDS } from "@/words/intake";

const { count } = useNumbers();

defineProps<{ mappings: KeptMappings; busy: boolean; forgotten: boolean }>();
const emit = defineEmits<{
  save: [kept: KeptMapping];
  forget: [shape: string];
  back: [];
  take: [exported: unknown];
}>();

/** The mapping about which it is asked whether it is to be forgotten. */
const asked = ref("");

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
  <table v-if="mappings.rows.length">
    <tbody>
      <tr v-for="each in mappings.rows" :key="each.shape" data-test="kept-mapping">
        <th scope="row">{{ each.mapping.name }}</th>
        <td>{{ KINDS[each.mapping.kind] }}</td>
        <td>{{ kept(each.mapping) }}</td>
        <td>
          <ElButton link @click="emit('save', each)">Save as a file</ElButton>
          <ElButton
            link
            :disabled="busy"
            :data-test="`forget-mapping-${each.mapping.name}`"
            @click="asked = asked === each.shape ? '' : each.shape"
          >
            Forget
          </ElButton>
          <span v-if="asked === each.shape" role="alertdialog">
            The next such file will be read from scratch.
            <ElButton
              link
              data-test="really-forget-mapping"
              @click="((asked = ''), emit('forget', each.shape))"
            >
              Forget it
            </ElButton>
            <ElButton link @click="asked = ''">Keep it</ElButton>
          </span>
        </td>
      </tr>
    </tbody>
  </table>
  <p v-for="each in mappings.unreadable" :key="each.name" data-test="unreadable-mapping">
    A mapping is not understood by this version: {{ each.why }}. Files of its shape are read from scratch.
    <ElButton link :disabled="busy" @click="emit('forget', each.name)">Forget it</ElButton>
  </p>
  <p v-if="forgotten" data-test="mapping-forgotten">
    The mapping is forgotten.
    <ElButton link data-test="take-mapping-back" @click="emit('back')"> Take it back </ElButton>
  </p>
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
