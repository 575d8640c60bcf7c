<script setup lang="ts">
import { NButton, NModal } from 'naive-ui';
import { computed } from 'vue';
import { useRouter } from 'vue-router';
import { useJob } from '../stores/job';
import { useShelf } from '../stores/shelf';

const props = defineProps<{ files: File[] }>();
const emit = defineEmits<{ close: [] }>();
const job = useJob();
const shelf = useShelf();
const router = useRouter();
const first = computed(() => props.files[0]!);
const sameName = computed(() => job.record?.sources[0]?.name === first.value.name);

async function newer() {
  const bytes = await first.value.arrayBuffer();
  const sha256 = await shelf.takeSource({ name: first.value.name, bytes });
  emit('close');
  if (sha256) await job.replaceSource(sha256, first.value.name);
}

async function newJobs() {
  const made = await shelf.dropFiles(props.files);
  emit('close');
  if (made.length > 0) await router.push(`/job/${made[0]}/intake`);
}
</script>

<template>
  <NModal
    show
    preset="card"
    :title="files.length === 1 ? first.name : `${files.length} files`"
    style="width: 520px"
    @update:show="(show: boolean) => !show && emit('close')"
  >
    <p class="serif">
      {{
        sameName
          ? 'This job has a source of the same name. Its plan can run again on the newer export.'
          : 'What is this to the job that is open?'
      }}
    </p>
    <div class="choices">
      <NButton
        v-if="files.length === 1"
        :type="sameName ? 'primary' : 'default'"
        :disabled="job.readOnly"
        @click="newer"
      >
        A newer export of this source
      </NButton>
      <NButton :type="sameName ? 'default' : 'primary'" @click="newJobs">
        {{ files.length === 1 ? 'A new job' : 'A new job each' }}
      </NButton>
      <NButton quaternary @click="emit('close')">Leave it</NButton>
    </div>
  </NModal>
</template>

<style scoped>
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin-top: 16px;
}
</style>
