<script setup lang="ts">
import { NButton } from 'naive-ui';
import DialogCard from '../kit/DialogCard.vue';
import { saveFile } from '../storage/save-file';
import { useJob } from '../stores/job';
import { useShelf } from '../stores/shelf';

/** Asked before a job is left whose last changes the browser does not keep. */
const emit = defineEmits<{ leave: []; stay: [] }>();
const job = useJob();
const shelf = useShelf();

async function save() {
  if (!job.record) return;
  saveFile(await shelf.exportJob(job.record), `${job.record.title}.quilljob`, 'application/zip');
  emit('leave');
}
</script>

<template>
  <DialogCard title="The last changes are not kept" :width="520" @close="emit('stay')">
    <p class="serif">{{ job.saveProblem }} Leave now, and they are gone.</p>
    <div class="buttons">
      <NButton type="primary" @click="save">Save the job as a file, and leave</NButton>
      <NButton @click="emit('leave')">Leave without them</NButton>
      <NButton quaternary @click="emit('stay')">Stay</NButton>
    </div>
  </DialogCard>
</template>

<style scoped>
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin-top: 16px;
}
</style>
