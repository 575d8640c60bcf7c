<script setup lang="ts">
import { NButton, NInput } from 'naive-ui';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { LARGEST_FILE_BYTES } from '../../core/smf/limits';
import type { SourceRef } from '../../worker/protocol';
import { engine } from '../stores/engine';
import { useTargets } from '../stores/targets';
import DialogCard from '../kit/DialogCard.vue';
import { useFiles } from '../kit/use-files';

/** A target that would accept one or several known-good files, and as little else as can be. */
const emit = defineEmits<{ close: [] }>();
const targets = useTargets();
const router = useRouter();
const files = ref<File[]>([]);
const name = ref('');
const problem = ref<string | null>(null);
const working = ref(false);
const choose = useFiles('.mid,.midi,.smf,.rmi', (chosen) => (files.value = chosen));
const title = computed(
  () => name.value.trim() || files.value[0]?.name.replace(/\.[^.]*$/, '') || '',
);

async function learn() {
  problem.value = null;
  working.value = true;
  const sources: SourceRef[] = [];
  try {
    for (const file of files.value) {
      if (file.size > LARGEST_FILE_BYTES) {
        problem.value = `${file.name} is too large to be read: sources may have up to ${LARGEST_FILE_BYTES.toLocaleString('en-GB')} bytes.`;
        return;
      }
      const bytes = await file.arrayBuffer();
      const reply = await engine().open({ bytes, name: file.name }).result;
      if (!reply?.ok) {
        problem.value = `${file.name}: ${reply?.problems.join(' ') ?? 'It was not read.'}`;
        return;
      }
      sources.push({
        key: `file-${sources.length + 1}`,
        sha256: reply.source.sha256,
        name: file.name,
      });
    }
    const learnt = await engine().ask('learn', { sources, name: title.value }).result;
    if (!learnt) return;
    const id = targets.freeId(learnt.target.id);
    if (await targets.put({ ...learnt.target, id }, learnt.learnt))
      await router.push(`/targets/${id}/edit`);
    else problem.value = targets.problem;
  } finally {
    working.value = false;
  }
}
</script>

<template>
  <DialogCard title="What would accept this file?" :width="520" @close="emit('close')">
    <p class="serif">
      Give files that are known to play well. The narrowest ranges that hold all of them make a new
      target. Each number that was learnt is marked, for two good files prove little.
    </p>
    <div class="rows">
      <NButton @click="choose()">
        {{ files.length === 0 ? 'Choose files' : `${files.length} chosen` }}
      </NButton>
      <NInput
        v-model:value="name"
        :placeholder="title || 'Name of the target'"
        :input-props="{ 'aria-label': 'Name of the target' }"
      />
    </div>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <div class="done">
      <NButton type="primary" :disabled="files.length === 0" :loading="working" @click="learn">
        Make the target
      </NButton>
    </div>
  </DialogCard>
</template>

<style scoped>
.done {
  margin-top: 16px;
}

.rows {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 8px;
  margin-top: 14px;
}

.problem {
  margin-top: 10px;
  padding-left: 8px;
  border-left: 3px solid var(--wax);
}
</style>
