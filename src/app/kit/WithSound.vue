<script setup lang="ts">
import { AudioLines } from '@lucide/vue';

/** A recording lies beside it. */
defineProps<{ name: string }>();
</script>

<template>
  <span class="with-sound" role="img" :aria-label="`with ${name}`" :title="`with ${name}`">
    <AudioLines :size="14" />
  </span>
</template>

<style scoped>
.with-sound {
  display: inline-flex;
  margin-left: 6px;
  color: var(--ink-2);
  vertical-align: -2px;
}
</style>
