<script setup lang="ts">
import { NButton, NInputNumber, NSelect } from 'naive-ui';
import { Ear } from '@lucide/vue';
import { computed } from 'vue';
import { count, noteName, plain } from '../../../core/target/words';
import { DRUM_ROLES, SAMPLE_ROLES } from '../../../core/sources/module/samples/roles';
import type { SampleView } from '../../../core/wire/module-view';
import { useJob } from '../../stores/job';
import { useModule } from '../../stores/module';
import { programName } from '../../../core/seating/programs';
import SampleWave from './SampleWave.vue';

/** One sample of a module: what is known of it, how it becomes notes, and how it sounds. */
const props = defineProps<{ sample: SampleView }>();
const job = useJob();
const module = useModule();

const ROLES = SAMPLE_ROLES.map((value) => ({ value, label: value }));
const BEATS = [
  { value: 'hits', label: 'its hits as drums' },
  { value: 'strikes', label: 'its strikes' },
  { value: 'out', label: 'left out' },
];

const PROGRAMS = Array.from({ length: 128 }, (_, p) => ({
  value: p,
  label: `${programName(p)} (${p + 1})`,
}));

const chosen = computed(() => module.choices.samples?.[props.sample.number] ?? {});
const isDrum = computed(() => DRUM_ROLES.has(props.sample.role));
const isPitched = computed(
  () => !isDrum.value && props.sample.role !== 'beat' && props.sample.role !== 'silence',
);
/** The key at which it is struck most. */
const usual = computed(
  () => props.sample.keys.reduce((a, b) => (b.count > a.count ? b : a), { key: 60, count: 0 }).key,
);
const upper = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
const title = computed(() => props.sample.name || `Sample ${props.sample.number}`);
const facts = computed(() => {
  const s = props.sample;
  const channels =
    s.channels.length === 0
      ? ''
      : `channel${s.channels.length > 1 ? 's' : ''} ${s.channels.join(', ')}`;
  const level =
    s.strikes === 0
      ? ''
      : s.quietest === s.loudest
        ? `level ${Math.round(s.loudest * 100)} %`
        : `level ${Math.round(s.quietest * 100)}–${Math.round(s.loudest * 100)} %`;
  return [
    `${s.seconds.toFixed(2)} s at ${(s.rate / 1000).toFixed(1)} kHz`,
    s.loops ? 'loops' : '',
    count(s.strikes, 'strike'),
    channels,
    s.firstBar === null ? 'not used' : `bars ${s.firstBar}–${s.lastBar}`,
    level,
  ]
    .filter(Boolean)
    .join(' · ');
});
/** The keys that are struck most, by which it is heard. */
const keys = computed(() =>
  [...props.sample.keys]
    .sort((a, b) => b.count - a.count)
    .slice(0, 8)
    .sort((a, b) => a.key - b.key),
);
const set = (next: Parameters<typeof module.chooseSample>[1], did: string) =>
  module.chooseSample(props.sample.number, next, `${title.value}: ${did}`);
function setRole(role: SampleView['role']) {
  set({ role: role === props.sample.suspected ? undefined : role } as never, role);
}
const proposal = computed(() => {
  const { pitch } = props.sample;
  if (!pitch || pitch.semitones === 0 || !isPitched.value) return null;
  return (chosen.value.transpose ?? 0) === pitch.semitones ? null : pitch.semitones;
});
</script>

<template>
  <li class="entry sample">
    <div class="name">
      <span class="soft number">{{ sample.number }}</span>
      <strong :title="title">{{ title }}</strong>
      <button
        class="icon"
        type="button"
        :aria-label="`Hear ${title}`"
        title="Hear it at its most used key"
        @click="module.hear(sample.number, usual)"
      >
        <Ear :size="15" />
      </button>
    </div>
    <SampleWave :wave="sample.wave" :label="`Wave of ${title}`" />
    <p class="soft small">{{ facts }}</p>
    <p v-if="keys.length > 1" class="small keys">
      <button
        v-for="k in keys"
        :key="k.key"
        class="link"
        type="button"
        :title="`${count(k.count, 'strike')}: hear it`"
        @click="module.hear(sample.number, k.key)"
      >
        {{ noteName(k.key) }}
      </button>
      <span v-if="sample.keys.length > keys.length" class="soft">
        and {{ sample.keys.length - keys.length }} more
      </span>
    </p>
    <div class="row">
      <NSelect
        size="small"
        :value="sample.role"
        :options="ROLES"
        :disabled="job.readOnly"
        :aria-label="`Role of ${title}`"
        @update:value="setRole"
      />
      <NSelect
        v-if="sample.role === 'beat'"
        size="small"
        :value="chosen.beat ?? (sample.beat ? 'hits' : 'out')"
        :options="sample.beat ? BEATS : BEATS.slice(1)"
        :disabled="job.readOnly"
        :aria-label="`What stands for ${title}`"
        @update:value="(beat: 'hits') => set({ beat }, `beat ${beat}`)"
      />
      <NInputNumber
        v-if="isDrum"
        size="small"
        :value="chosen.drumKey ?? null"
        :min="0"
        :max="127"
        :precision="0"
        clearable
        placeholder="key"
        :disabled="job.readOnly"
        :aria-label="`Drum key of ${title}`"
        @update:value="
          (key: number | null) =>
            set({ drumKey: key ?? undefined } as never, `drum key ${key ?? 'by role'}`)
        "
      />
      <NInputNumber
        v-if="isPitched"
        size="small"
        :show-button="false"
        :value="chosen.transpose ?? 0"
        :min="-60"
        :max="60"
        :precision="0"
        :disabled="job.readOnly"
        :aria-label="`Transpose ${title}, in semitones`"
        @update:value="
          (by: number | null) =>
            set({ transpose: by || undefined } as never, `transposed by ${by ?? 0}`)
        "
      >
        <template #suffix><span class="soft">semitones</span></template>
      </NInputNumber>
    </div>
    <NSelect
      v-if="isPitched"
      size="small"
      filterable
      clearable
      :value="chosen.program ?? null"
      :options="PROGRAMS"
      placeholder="no program of its own"
      :disabled="job.readOnly"
      :aria-label="`Program of ${title}`"
      @update:value="
        (program: number | null) =>
          set(
            { program: program ?? undefined } as never,
            program === null ? 'no program' : programName(program),
          )
      "
    />
    <p class="small">
      <template v-if="sample.role !== sample.suspected">Read as {{ sample.role }}. </template>
      Seems to be {{ sample.suspected }}: {{ sample.reason }}.
    </p>
    <p v-if="sample.beat" class="small">
      {{ count(sample.beat.hits, 'hit') }} in {{ count(sample.beat.beats, 'beat') }},
      {{ plain(Math.round(sample.beat.bpm * 10) / 10) }} BPM at C4.
    </p>
    <p v-if="sample.pitch" class="small">
      {{ upper(sample.pitch.says) }}.
      <NButton
        v-if="proposal !== null"
        size="tiny"
        :disabled="job.readOnly"
        @click="set({ transpose: proposal }, `put where it sounds (${proposal} semitones)`)"
      >
        Put it there
      </NButton>
    </p>
    <p v-if="sample.apart.length > 0" class="small">
      Channel {{ sample.apart.join(', ') }} plays it in a second role: a part of its own.
      <NButton
        size="tiny"
        :disabled="job.readOnly"
        @click="
          set(
            { split: chosen.split === false ? undefined : false } as never,
            chosen.split === false ? 'split' : 'one part',
          )
        "
      >
        {{ chosen.split === false ? 'Split it' : 'Keep as one' }}
      </NButton>
    </p>
  </li>
</template>

<style scoped>
.number {
  min-width: 1.6em;
  text-align: right;
}

.small {
  margin: 0;
  font-size: 12px;
}

.keys {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
}

.row {
  display: flex;
  gap: 6px;
}

.row > * {
  flex: 1;
  min-width: 0;
}
</style>
