<script setup lang="ts">
import { NButton, NProgress } from 'naive-ui';

defineProps<{ says: string; done: number; total: number; cancel: () => void }>();
</script>

<template>
  <div class="busy" role="status">
    <span>{{ says }}</span>
    <NProgress
      class="bar"
      type="line"
      :height="8"
      :show-indicator="false"
      :percentage="Math.round((100 * done) / Math.max(1, total))"
    />
    <NButton size="small" @click="cancel">Cancel</NButton>
  </div>
</template>

<style scoped>
.busy {
  position: fixed;
  bottom: 90px;
  left: 50%;
  z-index: 55;
  display: flex;
  gap: 14px;
  align-items: center;
  max-width: calc(100vw - 40px);
  padding: 10px 14px;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--page);
  transform: translateX(-50%);
}

.busy > span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.bar {
  flex: none;
  width: 200px;
}
</style>
