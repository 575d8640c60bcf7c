<script setup lang="ts">
import { ref } from 'vue';

/** What is folded away under its title: it is made when it is opened, and stays from then on. */
defineProps<{ title: string; open?: boolean }>();
const asked = ref(false);
</script>

<template>
  <details :open="open" @toggle="asked = true">
    <summary>{{ title }}</summary>
    <slot v-if="open || asked" />
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
}
</style>
