<script setup lang="ts">
import { computed } from 'vue';
import { saveFile } from '../storage/save-file';
import { useHandover } from '../stores/handover';
import { useJob } from '../stores/job';
import { usePlaying } from '../stores/playing';
import { useShelf } from '../stores/shelf';

const job = useJob();
const shelf = useShelf();
const playing = usePlaying();
const handover = useHandover();
const notices = computed(() => [job.problem, playing.problem, handover.problem].filter(Boolean));

async function save() {
  if (!job.record) return;
  saveFile(await shelf.exportJob(job.record), `${job.record.title}.quilljob`, 'application/zip');
}
</script>

<template>
  <div class="notices">
    <p v-if="job.readOnly" class="notice" role="status">
      This job is open in another tab. Here it can be read and heard, but not changed.
    </p>
    <p v-if="job.saveProblem" class="notice bad" role="alert">
      {{ job.saveProblem }}
      <button class="link" type="button" @click="save">Save the job as a file</button>
    </p>
    <p v-for="says in notices" :key="says!" class="notice bad" role="alert">{{ says }}</p>
  </div>
</template>

<style scoped>
.notice {
  padding: 7px 14px;
  border-bottom: 1px solid var(--line);
  background: var(--ochre-wash);
  font: 400 14px/1.4 var(--serif);
}

.bad {
  border-left: 5px solid var(--wax);
  background: var(--page);
}
</style>
