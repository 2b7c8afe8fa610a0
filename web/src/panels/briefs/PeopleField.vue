<script setup lang="ts">
/** To whom issues go: addresses, each with the copies that they get. */
import Option from "@/parts/Option.vue";
import { ref } from "vue";
import type { CopyMember, Person } from "@/contract";
import Trouble from "@/parts/Trouble.vue";

const props = defineProps<{ people: Person[]; copies: string; members: CopyMember[] }>();
const emit = defineEmits<{ change: [people: Person[]]; test: [address: string] }>();
const address = ref("");
const name = ref("");
const trouble = ref("");

function add(): void {
  trouble.value = "";
  if (!/^[^@\s]+@[^@\s]+$/.test(address.value.trim())) {
    trouble.value = "Write an address such as name@example.com.";
    return;
  }
  const person = { address: address.value.trim(), name: name.value.trim(), copies: [] };
  emit("change", [...props.people, person]);
  [address.value, name.value] = ["", ""];
}
function set(at: number, person: Person | null): void {
  emit(
    "change",
    props.people.flatMap((each, place) => (place === at ? (person ? [person] : []) : [each])),
  );
}
</script>

<template>
  <div class="people">
    <div v-for="(person, at) in people" :key="person.address" class="person" data-test="person">
      <span
        >{{ person.name || person.address }}<small v-if="person.name"> {{ person.address }}</small></span
      >
      <ElSelect
        v-if="copies"
        :model-value="person.copies as string[]"
        multiple
        collapse-tags
        placeholder="the whole"
        :aria-label="`Copies for ${person.address}`"
        @change="(chosen: string[]) => set(at, { ...person, copies: chosen })"
      >
        <Option v-for="each in members" :key="String(each.key)" :value="each.key ?? ''" :label="each.label" />
      </ElSelect>
      <ElButton link :aria-label="`Take ${person.address} away`" @click="set(at, null)">✕</ElButton>
    </div>
    <div class="person">
      <ElInput
        v-model="address"
        placeholder="name@example.com"
        aria-label="Address"
        data-test="new-address"
      />
      <ElInput v-model="name" placeholder="name" aria-label="Name" data-test="new-name" />
      <ElButton data-test="add-person" @click="add">Add</ElButton>
    </div>
    <Trouble v-if="trouble" :message="trouble" />
    <ElButton
      v-if="people.length || address"
      link
      data-test="test-mail"
      @click="emit('test', address.trim() || (people[0]?.address ?? ''))"
      >Send a test to {{ address.trim() || people[0]?.address }}</ElButton
    >
  </div>
</template>

<style scoped>
.people {
  display: grid;
  gap: 4px;
  width: 100%;
  justify-items: start;
}
.person {
  display: flex;
  gap: 6px;
  align-items: center;
  justify-content: space-between;
  line-height: 1.3;
  width: 100%;
}
small {
  color: var(--quiet);
  margin-left: 4px;
}
.person > span {
  min-width: 0;
  overflow-wrap: anywhere;
}
</style>
