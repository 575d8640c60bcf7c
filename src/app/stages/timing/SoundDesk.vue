<script setup lang="ts">
import { NButton, NInputNumber, NSelect } from 'naive-ui';
import { computed, ref } from 'vue';
import { soundGoesOut } from '../../../core/target/sound';
import { slugOf } from '../../../core/target/words';
import { sayClock } from '../../../core/time/meter-map';
import { endOf } from '../../../core/sound/edits';
import type { MakeSoundRequest, Making } from '../../../worker/protocol';
import { saveFile } from '../../storage/save-file';
import { soundEngine } from '../../stores/engine';
import { useJob } from '../../stores/job';
import { usePlaying } from '../../stores/playing';
import { useRecording } from '../../stores/recording';
import StepEditor from '../StepEditor.vue';

/** What is done to the sound that goes out, and sounds that are made of the score. */
const SOUND_STEPS = [
  'sound-later',
  'sound-end',
  'sound-gap',
  'sound-cut',
  'sound-silence',
  'sound-level',
  'sound-follow',
] as const;

const job = useJob();
const playing = usePlaying();
const recording = useRecording();
const goesOut = computed(() => (job.target ? soundGoesOut(job.target) : false));
const edits = computed(() => job.shown?.delivered.sound ?? []);
const lengthMs = computed(() => endOf(recording.layout) / 1000);

type Kind = Making['is'];
const kind = ref<Kind>('click');
const kinds = computed(() => [
  { label: 'A click, from the tempo map', value: 'click' },
  {
    label: 'The recording left, a click right',
    value: 'click-beside',
    disabled: !recording.listened,
  },
  { label: 'A guide: the score as it sounds here', value: 'guide' },
]);
const countIn = ref(0);
const length = ref<'score' | 'recording'>('score');
const lengths = computed(() => [
  { label: 'as long as the score', value: 'score' },
  { label: 'as long as the sound', value: 'recording', disabled: !recording.listened },
]);
const bits = ref<16 | 24>(16);
const problem = ref<string | null>(null);
const made = ref<string | null>(null);

async function make() {
  const asked = job.request();
  if (!asked) return;
  problem.value = null;
  made.value = null;
  try {
    const making: Making =
      kind.value === 'guide'
        ? { is: 'guide', bank: await playing.banks.bytesNow() }
        : kind.value === 'click'
          ? { is: 'click', countIn: countIn.value }
          : { is: 'click-beside' };
    const samples = recording.listened?.samples;
    const request: MakeSoundRequest = {
      ...asked,
      known: [],
      make: making,
      length: length.value,
      bits: bits.value,
      ...(samples ? { samples } : {}),
    };
    const reply = await job.working(
      'Making the sound',
      soundEngine().ask('makeSound', request, job.report),
    );
    if (!reply) return;
    const name = `${slugOf(job.record?.title ?? 'score')}-${kind.value}.wav`;
    saveFile(reply.bytes, name, 'audio/wav');
    made.value = `${name}, ${sayClock(reply.ms)}${
      reply.clipped > 0 ? `; ${reply.clipped} samples were too loud and held at the loudest` : ''
    }`;
  } catch (error) {
    problem.value = `The sound could not be made: ${(error as Error).message}`;
  }
}
</script>

<template>
  <div class="desk">
    <h3>The sound that goes out</h3>
    <p class="soft small">
      {{
        goesOut
          ? 'Applied when the WAV is exported; the recording is unchanged.'
          : `${job.target?.name} takes no sound along: what is done here is heard and seen, and goes nowhere.`
      }}
    </p>
    <p v-if="recording.listened" data-testid="sound-length">
      {{ sayClock(lengthMs) }} long{{
        edits.length > 0
          ? `, after ${edits.length} ${edits.length === 1 ? 'change' : 'changes'}`
          : ''
      }}.
    </p>
    <StepEditor :only="SOUND_STEPS" />

    <h3>Make a sound</h3>
    <NSelect v-model:value="kind" size="small" :options="kinds" aria-label="What is made" />
    <div class="row">
      <label v-if="kind === 'click'" class="inline">
        Count in
        <NInputNumber
          v-model:value="countIn"
          size="tiny"
          :min="0"
          :max="8"
          :input-props="{ 'aria-label': 'Bars counted in' }"
        />
        bars
      </label>
      <NSelect
        v-if="kind !== 'click-beside'"
        v-model:value="length"
        class="pick"
        size="small"
        :options="lengths"
        aria-label="Its length"
      />
      <NSelect
        v-model:value="bits"
        class="bits"
        size="small"
        :options="[
          { label: '16 bit', value: 16 },
          { label: '24 bit', value: 24 },
        ]"
        aria-label="Bits a sample"
      />
      <NButton size="small" type="primary" :disabled="!job.shown" @click="make">
        Make and save
      </NButton>
    </div>
    <p v-if="made" class="soft small" role="status">Saved: {{ made }}.</p>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 7px;
}

.desk h3 {
  margin: 4px 0 0;
}

.small {
  font-size: 12px;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.inline {
  display: flex;
  gap: 6px;
  align-items: center;
}

.inline :deep(.n-input-number) {
  width: 82px;
}

.pick {
  width: 170px;
}

.bits {
  width: 92px;
}

.problem {
  color: var(--wax);
}
</style>
