<script setup lang="ts">
/** What went wrong, in the server's own sentence. */
defineProps<{ message: string }>();
</script>

<template>
  <div class="trouble" role="alert" data-test="trouble">
    <strong>{{ message }}</strong>
    <div><slot /></div>
  </div>
</template>
