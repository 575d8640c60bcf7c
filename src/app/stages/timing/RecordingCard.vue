<script setup lang="ts">
import { NButton } from 'naive-ui';
import { useFileDialog } from '@vueuse/core';
import { computed, ref } from 'vue';
import { sayBeat } from '../../../core/sound/say-beat';
import { isUnsaid } from '../../../core/target/unsaid';
import { decibels } from '../../../core/sound/level';
import { playsBeside, soundGoesOut } from '../../../core/target/sound';
import { count, plain } from '../../../core/target/words';
import { sayClock } from '../../../core/time/meter-map';
import { useJob } from '../../stores/job';
import { SOUND_TYPES, useRecording } from '../../stores/recording';
import FoldedLine from '../../kit/FoldedLine.vue';
import { useSettings } from '../../stores/settings';

/** The recording that plays beside the score: what is known of it, how loud each is heard. */
const opened = ref(false);
const job = useJob();
const recording = useRecording();
const settings = useSettings();
const sound = computed(() => job.record?.sound ?? null);
const delivered = computed(() => (job.target ? soundGoesOut(job.target) : false));
/** Where neither a rule nor a writer asks for one, it needs less room. */
const asked = computed(() => (job.target ? playsBeside(job.target) : false));
const facts = computed(() => recording.listened?.facts ?? null);
const beat = computed(() => facts.value?.beat ?? null);
const line = computed(() => {
  if (!facts.value) return recording.problem ? 'not heard' : 'listening to it…';
  const { firstMs } = facts.value;
  return firstMs === null ? 'silent all through' : `first sound at ${sayClock(firstMs)}`;
});

const { open, onChange } = useFileDialog({ accept: SOUND_TYPES, multiple: false, reset: true });
onChange((files) => {
  const file = files?.[0];
  if (file) void recording.bring(file);
});
</script>

<template>
  <FoldedLine
    v-if="sound"
    v-model:open="opened"
    title="Recording"
    :says="`${sound.name} ${sayClock(sound.ms)}; ${line}`"
  >
    <p v-if="facts" class="soft said" data-testid="sound-facts">
      {{ plain(facts.rate / 1000) }} kHz, {{ count(facts.channels, 'channel') }};
      <template v-if="facts.firstMs === null">silent all through</template>
      <template v-else>
        first sound at {{ sayClock(facts.firstMs) }}, peak
        {{ decibels(facts.peak).toFixed(1).replace('-', '−') }} dB;
        {{ count(facts.onsets.ms.length, 'onset')
        }}<template v-if="beat">, {{ sayBeat(beat) }}</template>
      </template>
    </p>
    <p v-if="!delivered" class="soft said">
      <template v-if="isUnsaid(job.target)">It is a help here. A target may ask for more.</template>
      <template v-else>
        {{ job.target?.name }}
        {{
          asked
            ? 'is held against it; it is not delivered.'
            : 'does not play it; it is a help here.'
        }}
      </template>
    </p>
    <div v-if="facts" class="levels">
      <label>
        Score
        <input v-model.number="settings.levels.score" type="range" min="0" max="100" />
      </label>
      <label>
        Recording
        <input v-model.number="settings.levels.recording" type="range" min="0" max="100" />
      </label>
    </div>
    <div class="head">
      <NButton size="tiny" :disabled="job.readOnly" @click="open()">Another…</NButton>
      <NButton size="tiny" quaternary :disabled="job.readOnly" @click="job.setSound(null)">
        Take it away
      </NButton>
    </div>
  </FoldedLine>
  <section v-else class="none" aria-label="Recording">
    <span class="serif title">Recording</span>
    <span class="soft">
      {{
        asked
          ? `none: ${job.target?.name} ${delivered ? 'takes one along' : 'plays beside one'}`
          : 'none'
      }}
    </span>
    <NButton size="tiny" title="Or drop it anywhere" :disabled="job.readOnly" @click="open()"
      >Bring in a recording…</NButton
    >
  </section>
  <p v-for="doubt in recording.listened?.doubts" :key="doubt" class="soft said">{{ doubt }}</p>
  <p v-if="recording.problem" class="problem" role="alert">{{ recording.problem }}</p>
</template>

<style scoped>
.none {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
  align-items: baseline;
  padding: 4px 0 5px;
  border-bottom: 1px solid var(--line);
}

.title {
  font-weight: 600;
  font-size: 14px;
}

.none button {
  margin-left: auto;
}

.head {
  display: flex;
  gap: 4px;
}

.said {
  margin: 0 0 4px;
  font-size: 12px;
}

.levels {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 10px;
  margin: 6px 0;
}

.levels label {
  display: flex;
  gap: 6px;
  align-items: center;
  font-size: 12px;
}

.levels input {
  flex: 1;
  min-width: 0;
  accent-color: var(--quill);
}

.problem {
  margin-top: 6px;
  color: var(--wax);
}
</style>
