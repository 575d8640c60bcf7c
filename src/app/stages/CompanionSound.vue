<script setup lang="ts">
import { NButton } from 'naive-ui';
import { useFileDialog } from '@vueuse/core';
import { computed } from 'vue';
import { sayClock } from '../../core/time/meter-map';
import { useJob } from '../stores/job';
import { useShelf } from '../stores/shelf';

/** The sound that plays beside the score and, where the target takes one, is delivered with it. */
const job = useJob();
const shelf = useShelf();
const sound = computed(() => job.record?.sound ?? null);
const delivered = computed(() => job.target?.outputs.some((o) => o.writer === 'sound') ?? false);
/** Where neither a rule nor a writer asks for one, it needs no room. */
const asked = computed(() => {
  const { end, start } = job.target ?? {};
  const limits = [end?.soundWithinMs, end?.soundWithinFrames, start?.soundToo];
  return delivered.value || limits.some((l) => l !== undefined);
});

const { open, onChange } = useFileDialog({
  accept: '.wav,audio/wav',
  multiple: false,
  reset: true,
});
onChange(async (files) => {
  const file = files?.[0];
  const taken = file ? await shelf.takeSound(file) : null;
  if (taken) await job.setSound(taken);
});
</script>

<template>
  <section v-if="asked || sound" aria-labelledby="sound-title">
    <h3 id="sound-title">Companion sound</h3>
    <template v-if="sound">
      <p class="name">
        {{ sound.name }} <span class="soft">{{ sayClock(sound.ms) }}</span>
      </p>
      <p v-if="!delivered" class="soft">
        {{ job.target?.name }} is held against its length; it is not delivered.
      </p>
      <div class="buttons">
        <NButton size="tiny" :disabled="job.readOnly" @click="open()">Another…</NButton>
        <NButton size="tiny" quaternary :disabled="job.readOnly" @click="job.setSound(null)">
          Take it away
        </NButton>
      </div>
    </template>
    <template v-else>
      <p class="soft">
        None. {{ job.target?.name }} {{ delivered ? 'takes one along' : 'plays beside one' }}: drop
        a WAV here, or choose it.
      </p>
      <NButton size="small" :disabled="job.readOnly" @click="open()">Bring in a sound…</NButton>
    </template>
  </section>
</template>

<style scoped>
.name {
  margin: 4px 0;
  overflow-wrap: anywhere;
}

.buttons {
  display: flex;
  gap: 6px;
}
</style>
