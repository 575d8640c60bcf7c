<script setup lang="ts">
import { computed } from 'vue';
import { saveFile } from '../storage/save-file';
import { useHandover } from '../stores/handover';
import { useJob } from '../stores/job';
import { usePlaying } from '../stores/playing';
import { useShelf } from '../stores/shelf';
import { useTargets } from '../stores/targets';

const job = useJob();
const shelf = useShelf();
const playing = usePlaying();
const handover = useHandover();
const targets = useTargets();
void targets.load();
/** The shelf has another target of that id than the one that this job was given. */
const newer = computed(() => {
  const pinned = job.target;
  const onShelf = pinned && targets.find(pinned.id);
  return onShelf && JSON.stringify(onShelf) !== JSON.stringify(pinned) ? onShelf : null;
});
const notices = computed(() =>
  [job.failure ? null : job.problem, playing.problem, handover.problem].filter(Boolean),
);
const reload = () => location.reload();

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
    <p v-if="newer && !job.readOnly" class="notice" role="status">
      {{ newer.name }} was changed on the shelf since this job took it up ({{ job.plan?.version }},
      now {{ newer.version }}).
      <button class="link" type="button" @click="job.repin(newer)">Use the updated target</button>
    </p>
    <p v-if="job.saveProblem" class="notice bad" role="alert">
      {{ job.saveProblem }}
      <button class="link" type="button" @click="save">Save the job as a file</button>
    </p>
    <p v-if="job.failure" class="notice bad" role="alert">
      {{ job.failure }}
      <button class="link" type="button" @click="save">Save the job as a file</button> ·
      <button class="link" type="button" @click="reload">Load the page again</button>
    </p>
    <p v-if="job.standing === 'stopped' && !job.failure" class="notice" role="status">
      This plan is not proofed: working it out was given up. What is on the sheet is the state
      before.
      <button class="link" type="button" @click="job.proofAgain()">Proof again</button>
    </p>
    <p v-for="says in notices" :key="says!" class="notice bad" role="alert">{{ says }}</p>
  </div>
</template>

<style scoped>
.notice {
  padding: 7px 14px;
  border-top: 1px solid var(--line);
  background: var(--ochre-wash);
  font: 400 14px/1.4 var(--serif);
}

.bad {
  border-left: 5px solid var(--wax);
  background: var(--page);
}
</style>
