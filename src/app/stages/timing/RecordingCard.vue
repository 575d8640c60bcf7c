<script setup lang="ts">
import { NButton } from 'naive-ui';
import { useFileDialog } from '@vueuse/core';
import { computed } from 'vue';
import { sayBeat } from '../../../core/sound/say-beat';
import { isUnsaid } from '../../../core/target/unsaid';
import { decibels } from '../../../core/sound/level';
import { playsBeside, soundGoesOut } from '../../../core/target/sound';
import { count, plain } from '../../../core/target/words';
import { sayClock } from '../../../core/time/meter-map';
import { useJob } from '../../stores/job';
import { SOUND_TYPES, useRecording } from '../../stores/recording';
import { useSettings } from '../../stores/settings';

/** The recording that plays beside the score: what is known of it, how loud each is heard. */
/** Without what was read already, where room is wanted for work. */
const { brief = false } = defineProps<{ brief?: boolean }>();
const job = useJob();
const recording = useRecording();
const settings = useSettings();
const sound = computed(() => job.record?.sound ?? null);
const delivered = computed(() => (job.target ? soundGoesOut(job.target) : false));
/** Where neither a rule nor a writer asks for one, it needs less room. */
const asked = computed(() => (job.target ? playsBeside(job.target) : false));
const facts = computed(() => recording.listened?.facts ?? null);
const beat = computed(() => facts.value?.beat ?? null);

const { open, onChange } = useFileDialog({ accept: SOUND_TYPES, multiple: false, reset: true });
onChange((files) => {
  const file = files?.[0];
  if (file) void recording.bring(file);
});
</script>

<template>
  <section class="recording" aria-labelledby="sound-title">
    <h3 id="sound-title">Recording</h3>
    <template v-if="sound">
      <div class="head">
        <p class="name">
          {{ sound.name }} <span class="soft">{{ sayClock(sound.ms) }}</span>
        </p>
        <NButton size="tiny" :disabled="job.readOnly" @click="open()">Another…</NButton>
        <NButton size="tiny" quaternary :disabled="job.readOnly" @click="job.setSound(null)">
          Take it away
        </NButton>
      </div>
      <p v-if="facts && !brief" class="soft said" data-testid="sound-facts">
        {{ plain(facts.rate / 1000) }} kHz, {{ count(facts.channels, 'channel') }};
        <template v-if="facts.firstMs === null">silent all through</template>
        <template v-else>
          first sound at {{ sayClock(facts.firstMs) }}, peak
          {{ decibels(facts.peak).toFixed(1).replace('-', '−') }} dB;
          {{ count(facts.onsets.ms.length, 'onset')
          }}<template v-if="beat">, {{ sayBeat(beat) }}</template>
        </template>
      </p>
      <p v-else-if="!facts && !recording.problem" class="soft said">Being listened to…</p>
      <p v-for="doubt in recording.listened?.doubts" :key="doubt" class="soft">{{ doubt }}</p>
      <p v-if="!delivered && !brief" class="soft said">
        <template v-if="isUnsaid(job.target)"
          >It is a help here. A target may ask for more.</template
        >
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
    </template>
    <template v-else>
      <p class="soft">
        <template v-if="asked">
          None: {{ job.target?.name }} {{ delivered ? 'takes one along' : 'plays beside one' }}.
        </template>
        <template v-else>None.</template>
        Drop one here, or choose it.
      </p>
      <NButton size="small" :disabled="job.readOnly" @click="open()">Bring in a recording…</NButton>
    </template>
    <p v-if="recording.problem" class="problem" role="alert">{{ recording.problem }}</p>
  </section>
</template>

<style scoped>
h3 {
  margin-top: 0;
}

.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  align-items: center;
}

.name {
  flex: 1;
  min-width: 130px;
  margin: 2px 0;
  overflow-wrap: anywhere;
}

.said {
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
