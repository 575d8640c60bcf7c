<script setup lang="ts">
import { NButton } from 'naive-ui';
import { computed, ref } from 'vue';
import { findTarget } from '../../core/target/index';
import { listed } from '../../core/target/words';
import { bringBeside } from '../stores/bring-beside';
import { useJob } from '../stores/job';
import { useSettings } from '../stores/settings';
import { readJob } from '../storage/jobs';
import { useSets } from '../stores/sets';
import { useShelf } from '../stores/shelf';
import DialogCard from '../kit/DialogCard.vue';
import { useLeadOn } from '../kit/use-lead-on';
import { ONE_BESIDE } from './sort-dropped';
import type { AskedDrop } from './use-drops';

/**
 * What dropped scores are, asked once: to the job that is open a newer export, further sources or new
 * jobs; several without one a job each, or one job of all.
 */
const props = defineProps<{
  drop: AskedDrop;
  /** Opens a job that was made, with its recording. */
  openWith: (id: string, recording: File) => Promise<void>;
}>();
const emit = defineEmits<{ close: [] }>();
const job = useJob();
const shelf = useShelf();
const sets = useSets();
const settings = useSettings();
const leadOn = useLeadOn();
const busy = ref(false);
const files = computed(() => props.drop.files);
const first = computed(() => files.value[0]!);
const one = computed(() => files.value.length === 1);
const toJob = computed(() => props.drop.ask === 'ask-job');
const newer = (name: string) => name === first.value.name;
/** The source of that name stands first. */
const sources = computed(() =>
  [...job.sourcesNow].sort((a, b) => Number(newer(b.name)) - Number(newer(a.name))),
);
const sameName = computed(() => one.value && job.sourcesNow.some((s) => newer(s.name)));

/** Reads the files, one after the other; what cannot be read is said by the shelf. */
async function withSources(
  use: (read: readonly { sha256: string; name: string }[]) => Promise<void>,
) {
  if (busy.value) return;
  busy.value = true;
  const still = job.still();
  await shelf.gathered(async () => {
    const read: { sha256: string; name: string }[] = [];
    for (const file of files.value) {
      const sha256 = await shelf.takeFile(file);
      if (sha256) read.push({ sha256, name: file.name });
    }
    if (still()) await use(read);
    else if (read.length > 0)
      shelf.problems.push(
        `${read.map((r) => r.name).join(', ')}: the job was left before they were read. Drop them there again.`,
      );
  });
  emit('close');
}

const replace = (key: string) =>
  withSources(async ([read]) => {
    if (read) await job.replaceSource(read.sha256, read.name, undefined, key);
  });
const further = async () => {
  const lead = leadOn();
  await withSources((read) => job.addSources(read));
  if (job.record) await lead(`/job/${job.record.id}/intake`);
};

/** Recordings of the same names go beside their songs; what has none here is said. */
async function besides(made: readonly { id: string; sound: File | null }[]) {
  const { recording } = props.drop.answer;
  if (recording && !toJob.value)
    shelf.problems.push(`${recording.name}: open the job that it belongs to, and drop it there.`);
  await bringBeside(made.flatMap(({ id, sound }) => (sound ? [{ id, file: sound }] : [])));
}

/** A job of each that can be read, and the recording that came with it. */
const madeOfEach = () =>
  shelf.gathered(async () => {
    const made: { id: string; sound: File | null }[] = [];
    for (const file of files.value) {
      const [id] = await shelf.dropFiles([file]);
      const sound = toJob.value ? null : (props.drop.answer.pairs.get(file) ?? null);
      if (id) made.push({ id, sound });
    }
    return made;
  });

async function newJobs() {
  if (busy.value) return;
  busy.value = true;
  const lead = leadOn();
  const made = await madeOfEach();
  emit('close');
  const [only] = made;
  if (made.length === 1 && only!.sound) return props.openWith(only!.id, only!.sound);
  await lead(only && (made.length === 1 || toJob.value) ? `/job/${only.id}/intake` : '/');
  await besides(made);
}

/** A job each, and all of them in one set. */
async function asSet() {
  if (busy.value) return;
  busy.value = true;
  const lead = leadOn();
  const made = await madeOfEach();
  const jobs = (await Promise.all(made.map(({ id }) => readJob(id)))).flatMap((j) => j ?? []);
  const id = await sets.make(`${jobs[0]?.title ?? 'New set'} and others`, jobs);
  emit('close');
  await lead(`/sets/${id}`);
  await besides(made);
}

async function together(as: 'together' | 'file') {
  if (busy.value) return;
  busy.value = true;
  const lead = leadOn();
  const id = await shelf.dropTogether(files.value, as);
  emit('close');
  const { recording, pairs } = props.drop.answer;
  const [sound = null, ...others] = recording ? [recording] : [...pairs.values()];
  if (others.length > 0) shelf.problems.push(`${listed(others.map((f) => f.name))}: ${ONE_BESIDE}`);
  if (id && sound) await props.openWith(id, sound);
  else if (id) await lead(`/job/${id}/intake`);
}

/** The last song was for places that are files: so are these, most likely. */
const inPlaces = computed(() => {
  const seats = findTarget(settings.lastTarget ?? '')?.seats ?? [];
  return seats.length > 0 && seats.every((s) => s.kind === 'file');
});
const names = computed(() => {
  const all = files.value.map((f) => f.name);
  return all.length <= 4
    ? all.join(', ')
    : `${all.slice(0, 3).join(', ')} and ${all.length - 3} more`;
});
const ways = computed(() => {
  const each = { says: 'A job each', does: newJobs };
  const parts = { says: 'One job, the parts of one score', does: () => together('together') };
  const own = { says: 'One job, a file of its own each', does: () => together('file') };
  const set = { says: 'A set, a song each', does: asSet };
  return inPlaces.value ? [own, each, set, parts] : [each, set, parts, own];
});
</script>

<template>
  <DialogCard :title="one ? first.name : `${files.length} files`" @close="emit('close')">
    <p v-if="!toJob" class="serif">{{ names }}. What are they?</p>
    <p v-else class="serif">
      {{
        sameName
          ? 'This job has a source of the same name. Its plan can run again on the newer export.'
          : one
            ? 'What is this to the job that is open?'
            : 'What are these to the job that is open?'
      }}
    </p>
    <div v-if="!toJob" class="choices">
      <NButton
        v-for="(way, i) in ways"
        :key="way.says"
        :type="i === 0 ? 'primary' : 'default'"
        :disabled="busy"
        @click="way.does"
      >
        {{ way.says }}
      </NButton>
      <NButton quaternary @click="emit('close')">Leave them</NButton>
    </div>
    <div v-else class="choices">
      <template v-if="one">
        <NButton
          v-for="source in sources"
          :key="source.key"
          :type="sameName && newer(source.name) ? 'primary' : 'default'"
          :disabled="job.readOnly || busy"
          @click="replace(source.key)"
        >
          {{
            sources.length === 1
              ? 'A newer export of this source'
              : `A newer export of ${source.name}`
          }}
        </NButton>
      </template>
      <NButton
        :type="sameName ? 'default' : 'primary'"
        :disabled="job.readOnly || busy"
        @click="further"
      >
        {{ one ? 'A further source of this job' : 'Further sources of this job' }}
      </NButton>
      <NButton :disabled="busy" @click="newJobs">
        {{ one ? 'A new job' : 'A new job each' }}
      </NButton>
      <NButton quaternary @click="emit('close')">Leave it</NButton>
    </div>
  </DialogCard>
</template>

<style scoped>
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin-top: 16px;
}
</style>
