<script setup lang="ts">
import { NButton, NInput } from 'naive-ui';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { useTargets } from '../stores/targets';
import DialogCard from '../kit/DialogCard.vue';
import { useFiles } from '../kit/use-files';
import { learnFrom } from './learn-from';

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
  try {
    const found = await learnFrom(files.value, title.value);
    if ('problem' in found) {
      problem.value = found.problem;
      return;
    }
    const id = targets.freeId(found.target.id);
    if (await targets.put({ ...found.target, id }, found.learnt))
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
