<script setup lang="ts">
import { X } from '@lucide/vue';
import { useShelf } from '../stores/shelf';

const shelf = useShelf();
</script>

<template>
  <div v-if="shelf.problems.length > 0" class="problems" role="alert">
    <div v-for="(says, i) in shelf.problems" :key="`${i} ${says}`" class="problem">
      <p class="serif">{{ says }}</p>
      <button
        class="icon"
        type="button"
        aria-label="Dismiss this message"
        @click="shelf.problems.splice(i, 1)"
      >
        <X :size="16" />
      </button>
    </div>
  </div>
</template>

<style scoped>
/* It stands at the bottom and covers nothing: what is above it gives way. */
.problems {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 1px;
  max-height: 30vh;
  overflow: auto;
  border-top: 1px solid var(--wax);
  background: var(--line);
}

.problem {
  display: flex;
  gap: 8px;
  align-items: flex-start;
  padding: 6px 14px 6px 11px;
  border-left: 5px solid var(--wax);
  background: var(--page);
}

.problem p {
  flex: 1;
  padding-top: 2px;
  overflow-wrap: anywhere;
}
</style>
