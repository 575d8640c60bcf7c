<script setup lang="ts">
import { NModal } from 'naive-ui';
import { X } from '@lucide/vue';
import { useId } from 'vue';
import InTurn from './InTurn.vue';

/** A dialog over the desk: named by its title, closed by Esc, by its cross, or beside it. */
withDefaults(defineProps<{ title: string; width?: number }>(), { width: 560 });
const emit = defineEmits<{ close: [] }>();
const id = useId();
</script>

<template>
  <NModal show @update:show="(show: boolean) => !show && emit('close')">
    <div
      class="card"
      role="dialog"
      aria-modal="true"
      :aria-labelledby="id"
      :style="{ width: `min(${width}px, 92vw)` }"
    >
      <header>
        <h2 :id="id">{{ title }}</h2>
        <button class="icon" type="button" aria-label="Close" @click="emit('close')">
          <X :size="18" />
        </button>
      </header>
      <InTurn><slot /></InTurn>
    </div>
  </NModal>
</template>

<style scoped>
.card {
  max-height: 86vh;
  padding: 18px 22px 22px;
  overflow: auto;
  border: 1px solid var(--line);
  border-radius: 7px;
  background: var(--page);
  color: var(--ink);
}

header {
  display: flex;
  gap: 12px;
  align-items: center;
  justify-content: space-between;
  margin-bottom: 12px;
}

h2 {
  overflow-wrap: anywhere;
  font-size: 20px;
}
</style>
