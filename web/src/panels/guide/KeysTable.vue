<script setup lang="ts">
/** All keys with what they do. */
import { KEYS, keyText } from "@/model/keys";
import { ACTIONS, TABLE_KEYS } from "@/words/actions";

const listed = [...new Set(KEYS.map((each) => each.action))].map((action) => ({
  words: ACTIONS[action] ?? action,
  keys: KEYS.filter((each) => each.action === action).map(keyText),
}));
</script>

<template>
  <dl data-test="keys">
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
</template>

<style scoped>
dl {
  columns: 2 320px;
  column-gap: 28px;
  margin: 0;
}
dl div {
  display: grid;
  grid-template-columns: 120px 1fr;
  gap: 10px;
  break-inside: avoid;
  padding: 3px 0;
}
dd {
  margin: 0;
}
</style>
