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
        aria-label="Put this message away"
        @click="shelf.problems.splice(i, 1)"
      >
        <X :size="16" />
      </button>
    </div>
  </div>
</template>

<style scoped>
.problems {
  position: fixed;
  right: 14px;
  bottom: 78px;
  z-index: 60;
  display: grid;
  gap: 8px;
  width: min(520px, 80vw);
  max-height: 60vh;
  overflow: auto;
}

.problem {
  display: flex;
  gap: 8px;
  align-items: flex-start;
  padding: 10px 10px 10px 14px;
  border: 1px solid var(--wax);
  border-left-width: 5px;
  border-radius: 5px;
  background: var(--page);
}

.problem p {
  flex: 1;
  padding-top: 2px;
  overflow-wrap: anywhere;
}
</style>
