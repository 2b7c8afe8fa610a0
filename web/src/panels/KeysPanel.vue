<script setup lang="ts">
/** The page that lists the keys. */
import type { ButtonInstance } from "element-plus";
import { onMounted, ref } from "vue";
import { KEYS, keyText } from "@/model/keys";
import { ACTIONS, TABLE_KEYS } from "@/words/actions";

const emit = defineEmits<{ close: [] }>();
const closer = ref<ButtonInstance | null>(null);
const listed = [...new Set(KEYS.map((each) => each.action))].map((action) => ({
  words: ACTIONS[action] ?? action,
  keys: KEYS.filter((each) => each.action === action).map(keyText),
}));
onMounted(() => closer.value?.ref?.focus());
</script>

<template>
  <div class="veil" @click.self="emit('close')">
    <section
      class="keys"
      role="dialog"
      aria-modal="true"
      aria-label="Keys"
      data-test="keys"
      @keydown.esc.stop="emit('close')"
    >
      <header>
        <h2>Keys</h2>
        <ElButton ref="closer" link aria-label="Close the keys" @click="emit('close')"> ✕ </ElButton>
      </header>
      <dl>
        <div v-for="each in listed" :key="each.words">
          <dt>
            <template v-for="(key, at) in each.keys" :key="key"
              ><template v-if="at"> or </template><kbd>{{ key }}</kbd></template
            >
          </dt>
          <dd>{{ each.words }}</dd>
        </div>
        <div v-for="[key, words] in TABLE_KEYS" :key="key">
          <dt>
            <kbd>{{ key }}</kbd>
          </dt>
          <dd>{{ words }}</dd>
        </div>
      </dl>
    </section>
  </div>
</template>

<style scoped>
.keys {
  width: min(980px, 94vw);
  max-height: 88vh;
  overflow: auto;
  background: var(--sheet);
  border: 1px solid var(--line);
  border-top: 4px solid var(--wood);
  padding: 12px 18px;
}
header {
  display: flex;
  justify-content: space-between;
}
h2 {
  margin: 0 0 8px;
  font-size: 1rem;
}
dl {
  columns: 2;
  column-gap: 28px;
  margin: 0;
}
dl div {
  display: grid;
  grid-template-columns: 130px 1fr;
  gap: 10px;
  break-inside: avoid;
  padding: 3px 0;
}
dd {
  margin: 0;
}
</style>
