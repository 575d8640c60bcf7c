<script setup lang="ts">
import { NButton, NInputNumber, NRadioButton, NRadioGroup, NSelect } from 'naive-ui';
import { computed, ref } from 'vue';
import { DEFAULT_CHOICES } from '../../../core/sources/module/choices';
import { count } from '../../../core/target/words';
import { sayClock } from '../../../core/time/meter-map';
import type { ModuleWay } from '../../../core/wire/module-view';
import { useByAndBy } from '../../kit/use-by-and-by';
import { useJob } from '../../stores/job';
import { useModule } from '../../stores/module';
import { usePlaying } from '../../stores/playing';
import { useRecording } from '../../stores/recording';
import BusyBar from '../../shelf/BusyBar.vue';
import SampleEntry from './SampleEntry.vue';

/** A module: how its rows are bars, how it becomes notes, its samples, and its own sound. */
const job = useJob();
const module = useModule();
const playing = usePlaying();
const recording = useRecording();
const view = computed(() => module.view);

const CHOICES = [
  {
    key: 'parts',
    title: 'One part for each',
    values: { sample: 'sample', instrument: 'instrument', channel: 'channel' },
  },
  {
    key: 'volume',
    title: 'Slides of volume',
    values: { expression: 'as expression', steps: 'struck again where it rises', out: 'left out' },
  },
  {
    key: 'pitch',
    title: 'Slides of pitch',
    values: { bends: 'as bends', notes: 'as notes of their own', out: 'left out' },
  },
  {
    key: 'arpeggio',
    title: 'Arpeggios',
    values: { chord: 'as chords', quick: 'as quick notes', root: 'as their root' },
  },
  {
    key: 'pan',
    title: 'Left and right',
    values: { controllers: 'as controllers', out: 'left out' },
  },
  {
    key: 'programs',
    title: 'Programs',
    values: { none: 'none', role: 'by what each seems to be' },
  },
  {
    key: 'tuning',
    title: 'Off by cents',
    values: { written: 'as fine tuning', out: 'left out' },
  },
] as const;
const wayOf = (choice: string, value: string) =>
  module.ways.find((w) => w.choice === choice && w.value === value);
function sayWay(w: ModuleWay | undefined): string {
  if (!w) return '';
  const parts = [count(w.parts, 'part'), count(w.notes, 'note')];
  if (w.controllers > 0) parts.push(count(w.controllers, 'controller'));
  if (w.bends > 0) parts.push(count(w.bends, 'bend'));
  const leaves = w.lost.map((l) => `${l.count.toLocaleString('en-GB')} ${l.what}`);
  return `${parts.join(', ')}${leaves.length > 0 ? `; leaves ${leaves.join(', ')}` : ''}`;
}
const optionsOf = ({ key, values }: (typeof CHOICES)[number]) =>
  Object.entries(values)
    .filter(([value]) => value !== 'instrument' || view.value?.hasInstruments)
    .map(([value, label]) => {
      const gives = sayWay(wayOf(key, value));
      return { value, short: label, label: gives ? `${label}: ${gives}` : label };
    });
const nowOf = (key: (typeof CHOICES)[number]['key']) => module.choices[key] ?? DEFAULT_CHOICES[key];
const choose = (key: string, title: string, value: string) =>
  module.choose({ [key]: value }, `${title} ${value}`);

const used = computed(() => (view.value?.samples ?? []).filter((s) => s.strikes > 0));
const unused = computed(() => (view.value?.samples ?? []).filter((s) => s.strikes === 0));
const showUnused = ref(false);
const listed = computed(() => (showUnused.value ? [...used.value, ...unused.value] : used.value));
const setUp = useByAndBy(() => listed.value.length, 3);
const BETWEEN = [
  { value: 'cubic', label: 'smooth' },
  { value: 'linear', label: 'plain' },
];
const SIDES = [
  { value: 'recording', label: 'A: the module' },
  { value: 'score', label: 'B: the MIDI' },
  { value: 'both', label: 'Both' },
] as const;
</script>

<template>
  <section v-if="view" class="module" aria-labelledby="module-title">
    <h3 id="module-title">Module</h3>
    <dl class="facts">
      <dt>Format</dt>
      <dd>{{ view.format }}, {{ count(view.channels, 'channel') }}</dd>
      <dt>Plays</dt>
      <dd>
        {{ count(view.patterns, 'pattern') }}, {{ count(view.rows, 'row') }},
        {{ sayClock(view.seconds * 1000) }}
      </dd>
      <dt>At its end</dt>
      <dd>{{ view.roundTo === null ? 'it stops' : `goes round to order ${view.roundTo}` }}</dd>
    </dl>
    <p v-if="module.problem" class="problem" role="alert">{{ module.problem }}</p>

    <h3>Its own sound</h3>
    <template v-if="module.hasOwnSound && recording.listened">
      <NRadioGroup
        v-model:value="playing.beside"
        size="small"
        name="module-heard"
        aria-label="Which is heard"
      >
        <NRadioButton v-for="s in SIDES" :key="s.value" :value="s.value" :label="s.label" />
      </NRadioGroup>
      <p class="soft small">Switched while it plays, at the same place.</p>
    </template>
    <template v-else-if="!module.hasOwnSound">
      <p v-if="module.soundOfSong !== null" class="problem" role="status">
        The recording beside it is the sound of song {{ module.soundOfSong }}.
      </p>
      <div class="row">
        <NButton
          size="small"
          :disabled="job.readOnly || module.busy !== null"
          @click="module.bringSound()"
        >
          Use its sound as the recording
        </NButton>
        <NSelect
          v-model:value="module.between"
          size="small"
          :options="BETWEEN"
          aria-label="Between the frames of its samples"
        />
      </div>
      <p v-if="job.record?.sound" class="soft small">
        It takes the place of {{ job.record.sound.name }}.
      </p>
    </template>
    <p v-else class="soft small">Listening to it…</p>
    <BusyBar v-if="module.busy" v-bind="module.busy" />

    <h3>Rows and bars</h3>
    <div class="row">
      <NInputNumber
        size="small"
        :value="view.rowsPerBeat"
        :min="1"
        :max="64"
        :precision="0"
        :disabled="job.readOnly"
        aria-label="Rows a beat"
        @update:value="
          (n: number | null) => n && module.choose({ rowsPerBeat: n }, `${n} rows a beat`)
        "
      >
        <template #suffix><span class="soft">rows a beat</span></template>
      </NInputNumber>
      <NInputNumber
        size="small"
        :value="view.beatsPerBar"
        :min="1"
        :max="16"
        :precision="0"
        :disabled="job.readOnly"
        aria-label="Beats a bar"
        @update:value="
          (n: number | null) => n && module.choose({ beatsPerBar: n }, `${n} beats a bar`)
        "
      >
        <template #suffix><span class="soft">beats a bar</span></template>
      </NInputNumber>
    </div>
    <p class="small">{{ view.beatsReason }}.</p>

    <h3>How it becomes notes</h3>
    <div v-for="c in CHOICES" :key="c.key" class="choice">
      <label :for="`module-${c.key}`">{{ c.title }}</label>
      <NSelect
        :id="`module-${c.key}`"
        size="small"
        :value="nowOf(c.key)"
        :options="optionsOf(c)"
        :consistent-menu-width="false"
        :render-tag="({ option }) => String(option['short'])"
        :disabled="job.readOnly"
        :aria-label="c.title"
        @update:value="(v: string) => choose(c.key, c.title, v)"
      />
    </div>
    <template v-if="view.lost.length > 0">
      <p class="small soft">Not in the score:</p>
      <ul class="lines small">
        <li v-for="l in view.lost" :key="l.what">
          {{ l.count.toLocaleString('en-GB') }} {{ l.what }}
        </li>
      </ul>
    </template>

    <h3>
      Samples <span class="soft n">{{ used.length }}</span>
    </h3>
    <NButton
      v-if="module.unplaced.length > 0"
      size="small"
      :disabled="job.readOnly"
      @click="module.placeAll()"
    >
      Put {{ count(module.unplaced.length, 'sample') }} where
      {{ module.unplaced.length === 1 ? 'it sounds' : 'they sound' }}
    </NButton>
    <ul class="entries">
      <SampleEntry v-for="s in listed.slice(0, setUp)" :key="s.number" :sample="s" />
    </ul>
    <button
      v-if="unused.length > 0"
      class="link small"
      type="button"
      @click="showUnused = !showUnused"
    >
      {{ showUnused ? 'Hide' : 'Show' }} {{ count(unused.length, 'sample') }} that
      {{ unused.length === 1 ? 'is' : 'are' }} never struck
    </button>
    <template v-if="view.comment">
      <h3>Comment</h3>
      <p class="comment serif">{{ view.comment }}</p>
    </template>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  gap: 6px;
}

.row > :not(button) {
  flex: 1;
  min-width: 0;
}

.choice {
  display: grid;
  grid-template-columns: 130px minmax(0, 1fr);
  gap: 6px;
  align-items: center;
  margin-bottom: 4px;
}

.small {
  margin: 4px 0 0;
  font-size: 12px;
}

.n {
  font: 400 12px var(--sans);
}

.lines {
  margin: 0;
  padding: 0;
  list-style: none;
}

.comment {
  max-height: 220px;
  overflow: auto;
  white-space: pre-wrap;
}
</style>
