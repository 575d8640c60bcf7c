<script setup lang="ts">
import { NButton } from 'naive-ui';
import { useFileDialog } from '@vueuse/core';
import { onMounted, ref } from 'vue';
import DialogCard from '../kit/DialogCard.vue';
import { keptBank } from '../storage/bank';
import { usePlaying } from '../stores/playing';

/** Which sounds are heard: those that ship, or a bank of the user’s own. */
const emit = defineEmits<{ close: [] }>();
const playing = usePlaying();
const name = ref<string | null>(null);
const problem = ref<string | null>(null);
const busy = ref(false);
onMounted(async () => {
  name.value = playing.bankName ?? (await keptBank())?.name ?? null;
});

const { open, onChange } = useFileDialog({ accept: '.sf2,.sf3', multiple: false, reset: true });
onChange(async (files) => {
  const file = files?.[0];
  if (!file) return;
  busy.value = true;
  try {
    problem.value = await playing.takeBank(file);
  } catch (error) {
    problem.value = `${file.name}: ${(error as Error).message}`;
  } finally {
    busy.value = false;
    name.value = playing.bankName;
  }
});
async function away() {
  await playing.ownBankAway();
  name.value = null;
  problem.value = null;
}
</script>

<template>
  <DialogCard title="Sounds" :width="460" @close="emit('close')">
    <div class="body">
      <p v-if="name" class="serif">
        You hear <strong>{{ name }}</strong>, which is kept in this browser. What is delivered does
        not change with it.
      </p>
      <p v-else class="serif">
        You hear the sounds that ship with Wary Quill: all 128 programs and a drum kit. A bank of
        your own (.sf2 or .sf3) can take their place. What is delivered does not change with it.
      </p>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <div class="ways">
        <NButton :loading="busy" @click="open()">Use a bank of your own</NButton>
        <NButton v-if="name" :disabled="busy" @click="away">Back to those that ship</NButton>
      </div>
    </div>
  </DialogCard>
</template>

<style scoped>
.body {
  display: grid;
  gap: 14px;
}

.problem {
  color: var(--wax);
}

.ways {
  display: flex;
  gap: 9px;
}
</style>
