<script setup lang="ts">
import { NButton } from 'naive-ui';
import { useJob } from '../stores/job';
import { useUpdates } from '../stores/updates';

/** A newer version is there: it waits for a click. */
const updates = useUpdates();
const job = useJob();
</script>

<template>
  <p class="update" role="status">
    A newer version of Wary Quill is ready. Your jobs stay as they are.
    <NButton size="tiny" :disabled="updates.loading || job.atRisk" @click="updates.load()">
      Load it
    </NButton>
    <NButton size="tiny" quaternary @click="updates.waiting = null">Later</NButton>
  </p>
</template>

<style scoped>
.update {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 5px 14px;
  border-top: 1px solid var(--line);
  background: var(--quill-wash);
}
</style>
