<script setup lang="ts">
import { NButton } from 'naive-ui';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { useJob } from '../stores/job';
import { useShelf } from '../stores/shelf';
import DialogCard from '../kit/DialogCard.vue';

/** What was dropped on an open job: a newer export of a source, a further source, or a new job. */
const props = defineProps<{ files: File[] }>();
const emit = defineEmits<{ close: [] }>();
const job = useJob();
const shelf = useShelf();
const router = useRouter();
const busy = ref(false);
const first = computed(() => props.files[0]!);
const one = computed(() => props.files.length === 1);
const newer = (name: string) => name === first.value.name;
/** The source of that name stands first. */
const sources = computed(() =>
  [...job.sourcesNow].sort((a, b) => Number(newer(b.name)) - Number(newer(a.name))),
);
const sameName = computed(() => one.value && job.sourcesNow.some((s) => newer(s.name)));

/** Reads the files, one after the other; what cannot be read is said by the shelf. */
async function withSources(use: (sha256: string, name: string) => Promise<void>) {
  if (busy.value) return;
  busy.value = true;
  const still = job.still();
  for (const file of props.files) {
    const sha256 = await shelf.takeFile(file);
    if (sha256 && still()) await use(sha256, file.name);
    else if (sha256)
      shelf.problems.push(
        `${file.name}: its job was left before it was read. Drop it there again.`,
      );
  }
  emit('close');
}

const replace = (key: string) =>
  withSources((sha256, name) => job.replaceSource(sha256, name, undefined, key));
const further = async () => {
  await withSources((sha256, name) => job.addSource(sha256, name));
  if (job.record) await router.push(`/job/${job.record.id}/intake`);
};

async function newJobs() {
  if (busy.value) return;
  busy.value = true;
  const made = await shelf.dropFiles(props.files);
  emit('close');
  if (made.length > 0) await router.push(`/job/${made[0]}/intake`);
}
</script>

<template>
  <DialogCard :title="one ? first.name : `${files.length} files`" @close="emit('close')">
    <p class="serif">
      {{
        sameName
          ? 'This job has a source of the same name. Its plan can run again on the newer export.'
          : one
            ? 'What is this to the job that is open?'
            : 'What are these to the job that is open?'
      }}
    </p>
    <div class="choices">
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
