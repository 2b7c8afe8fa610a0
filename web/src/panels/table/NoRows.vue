<script setup lang="ts">
/** Why no row is listed, and the way out. */
defineProps<{ search: string; asked: boolean }>();
</script>

<template>
  <p v-if="search" class="nothing">No row is called “{{ search }}”.</p>
  <p v-else-if="asked" class="nothing">
    No posted line falls into these windows. Move the as-of date, or remove a filter.
  </p>
</template>
