<script setup lang="ts">
import { SCORE_FILES } from '../../../core/smf/name';
import { computed, ref, watch } from 'vue';
import { NButton } from 'naive-ui';
import { useFileDialog } from '@vueuse/core';
import { count, plain, sayLater } from '../../../core/target/words';
import { bpmOf } from '../../../core/time/tempo-map';
import { sayClock, sayPlace } from '../../../core/time/meter-map';
import FoldedLine from '../../kit/FoldedLine.vue';
import InTurn from '../../kit/InTurn.vue';
import TabRow from '../../kit/TabRow.vue';
import MarginNote from '../../margin/MarginNote.vue';
import { useJob } from '../../stores/job';
import { useLiningUp } from '../../stores/lining-up';
import { useLooking } from '../../stores/looking';
import { useOtherExport } from '../../stores/other-export';
import { usePlaying } from '../../stores/playing';
import { useRecording } from '../../stores/recording';
import StepEditor from '../StepEditor.vue';
import CueDesk from './CueDesk.vue';
import DriftPlot, { type DriftPoint } from './DriftPlot.vue';
import FrameDesk from './FrameDesk.vue';
import LineUpDesk from './LineUpDesk.vue';
import RecordingCard from './RecordingCard.vue';
import SeamDesk from './SeamDesk.vue';
import SoundDesk from './SoundDesk.vue';
import { isFlat, sayDrift } from './say-drift';
import { TIMING_RULES } from './timing-rules';

const job = useJob();
const looking = useLooking();
const playing = usePlaying();
const recording = useRecording();
const lining = useLiningUp();
const other = useOtherExport();
const piece = computed(() => job.shown?.delivered ?? null);
const TIMING_STEPS = [
  'rest-at-start',
  'shift',
  'trim-start',
  'one-tempo-holding-clock',
  'one-tempo-holding-bars',
  'state-tempo',
  'clamp-tempo',
  'thin-tempo',
  'set-meter',
  'set-ppq',
] as const;
const findings = computed(() => job.findings.filter((f) => TIMING_RULES.has(f.rule)));
const first = computed(() => {
  const p = piece.value;
  if (!p || p.firstTick === null) return null;
  return {
    place: sayPlace(p.bars.placeAt(p.firstTick)),
    clock: sayClock(p.clock.msAt(p.firstTick)),
    bars: p.bars.barAt(p.firstTick),
  };
});

function trim() {
  const bars = first.value?.bars ?? 0;
  job.addSteps(`Take ${bars} bars of rest from the start`, [
    { step: 'trim-start', params: { bars }, scope: {}, on: true },
  ]);
}

const TABS = [
  { id: 'time', name: 'Time' },
  { id: 'line-up', name: 'Line up' },
  { id: 'cues', name: 'Cues' },
  { id: 'seam', name: 'Seam' },
  { id: 'sound', name: 'Sound' },
] as const;
const tab = ref<(typeof TABS)[number]['id']>('time');

type Against = 'recording' | 'source' | 'other';
const against = ref<Against>('recording');
watch(
  () => recording.listened !== null,
  (there) => {
    // What somebody chose meanwhile stays.
    if (against.value !== 'other') against.value = there ? 'recording' : 'source';
  },
  { immediate: true },
);
const MOST_POINTS = 3000;
/** What is delivered less the source, note by note. */
const fromSource = computed<DriftPoint[]>(() => {
  const shown = job.shown;
  if (!shown || against.value !== 'source') return [];
  const { source, delivered, commonShiftMs } = shown;
  const parts = delivered.parts.filter((p) => !p.leftOut);
  const each = Math.max(1, Math.ceil(parts.reduce((n, p) => n + p.columns.count, 0) / MOST_POINTS));
  // Of a million notes those that are drawn are looked at, and no others: told by their ids, so that
  // they are the same on both sides.
  const was = new Map<number, number>();
  for (const { columns } of source.parts)
    for (let i = 0; i < columns.count; i++)
      if (columns.id[i]! % each === 0)
        was.set(columns.id[i]!, source.clock.msAt(columns.start[i]!));
  const drawn: DriftPoint[] = [];
  for (const { columns } of parts)
    for (let i = 0; i < columns.count; i++) {
      if (columns.origin[i]! % each !== 0) continue;
      const ms = was.get(columns.origin[i]!);
      const at = delivered.clock.msAt(columns.start[i]!);
      if (ms !== undefined) drawn.push({ ms: at, off: ms + commonShiftMs - at });
    }
  return drawn;
});
/** Another export less what is delivered, without what all of it is later or earlier by. */
const fromOther = computed<DriftPoint[]>(() => {
  const { ms, off } = other.found ?? { ms: [], off: [] };
  const each = Math.max(1, Math.ceil(ms.length / MOST_POINTS));
  return Array.from({ length: Math.ceil(ms.length / each) }, (_, k) => ({
    ms: ms[k * each]!,
    off: off[k * each]!,
  }));
});
const { open: chooseOther, onChange: onOther } = useFileDialog({
  accept: SCORE_FILES,
  multiple: false,
  reset: true,
});
onOther((files) => {
  const file = files?.[0];
  if (!file) return;
  against.value = 'other';
  void other.take(file);
});
const AGAINST: Record<Against, string> = {
  recording: 'against the recording',
  source: 'against the source',
  other: 'against another export',
};
const WHAT: Record<Against, string> = {
  recording: 'The recording less the score',
  source: 'The source less the delivery',
  other: 'The other export less the delivery',
};
const points = computed<DriftPoint[]>(() => {
  if (against.value === 'source') return fromSource.value;
  if (against.value === 'other') return fromOther.value;
  const anchors = lining.anchorDrift.flatMap(({ anchor, at }) =>
    at ? [{ ms: at.ms, off: at.off, anchor: true, ...(anchor.out ? { out: true } : {}) }] : [],
  );
  return [...lining.drift, ...anchors];
});
/** What the target lets pass between score and sound. */
const within = computed(() => job.target?.end?.soundWithinMs ?? job.target?.clock?.withinMs ?? 20);
const offs = computed(() =>
  points.value
    .filter((p) => !p.anchor)
    .sort((a, b) => a.ms - b.ms)
    .map((p) => p.off),
);
const driftSays = computed(() => sayDrift(offs.value, within.value));
/** What is flat is settled; what is not is the picture that is worked on where score meets sound. */
const driftOpen = ref(false);
watch(
  () => tab.value === 'line-up' && (offs.value.length === 0 || !isFlat(offs.value, within.value)),
  (worked) => (driftOpen.value = worked),
);
const factsOpen = ref(false);
const factsSay = computed(() => {
  const p = piece.value;
  if (!p) return '';
  const from = first.value ? `first note ${first.value.place}` : 'no note';
  const tempos = p.tempos.length > 1 ? `, ${count(p.tempos.length, 'tempo event')}` : '';
  return `${from}, end ${sayPlace(p.bars.placeAt(p.endTick))}, ${plain(bpmOf(p.clock.tempoAt(0)))} BPM${tempos}`;
});
const endMs = computed(() => (piece.value ? piece.value.clock.msAt(piece.value.endTick) : 1));
function go(ms: number) {
  if (!piece.value) return;
  looking.bring(piece.value.clock.tickAt(ms));
  playing.listen = 'delivered';
  playing.seek(ms);
}
</script>

<template>
  <section class="panel" tabindex="0" aria-label="Timing">
    <RecordingCard />
    <FoldedLine
      v-if="piece"
      v-model:open="driftOpen"
      :title="`Drift ${AGAINST[against]}`"
      :says="driftSays"
    >
      <div class="against" role="group" aria-label="Drift against">
        <button
          type="button"
          :aria-pressed="against === 'recording'"
          :disabled="!recording.listened"
          @click="against = 'recording'"
        >
          against the recording
        </button>
        <button type="button" :aria-pressed="against === 'source'" @click="against = 'source'">
          against the source
        </button>
        <button
          type="button"
          :aria-pressed="against === 'other'"
          :title="
            other.name
              ? 'Look at it again'
              : 'A newer export, or any file of the same song: it is only looked at'
          "
          @click="other.name && against !== 'other' ? (against = 'other') : chooseOther()"
        >
          {{ other.name ? `against ${other.name}` : 'against another export…' }}
        </button>
      </div>
      <p v-if="against === 'other' && other.problem" class="said" role="alert">
        {{ other.problem }}
      </p>
      <p v-else-if="against === 'other' && other.found" class="said" role="status">
        {{ other.name }} has {{ other.found.says.join(', ') }}.
      </p>
      <DriftPlot
        :points="points"
        :end-ms="endMs"
        :within="within"
        :now-ms="playing.ms"
        :what="WHAT[against]"
        @go="go"
      />
    </FoldedLine>
    <TabRow v-model="tab" label="Timing" :tabs="TABS" />
    <div class="body">
      <template v-if="tab === 'time'">
        <FoldedLine v-if="piece" v-model:open="factsOpen" title="The file" :says="factsSay">
          <dl class="facts">
            <dt>First note</dt>
            <dd>{{ first ? `${first.place}, ${first.clock}` : 'none' }}</dd>
            <dt>End</dt>
            <dd>
              {{ sayPlace(piece.bars.placeAt(piece.endTick)) }},
              {{ sayClock(piece.clock.msAt(piece.endTick)) }}
            </dd>
            <dt>Tempo at the start</dt>
            <dd>{{ plain(bpmOf(piece.clock.tempoAt(0))) }} BPM</dd>
            <dt>Tempo events</dt>
            <dd>{{ piece.tempos.length }}</dd>
            <dt>Against the source</dt>
            <dd>
              {{ sayLater(job.shown!.commonShiftMs) ?? 'not shifted' }}
            </dd>
          </dl>
        </FoldedLine>
        <NButton
          v-if="first && first.bars > 0"
          class="trim"
          size="small"
          :disabled="job.readOnly"
          @click="trim"
        >
          Take the {{ first.bars === 1 ? 'bar' : `${first.bars} bars` }} of rest away
        </NButton>
        <FrameDesk />
        <template v-if="findings.length > 0">
          <h3>What the target asks</h3>
          <div class="notes">
            <InTurn v-for="f in findings" :key="f.key"><MarginNote :finding="f" /></InTurn>
          </div>
        </template>
        <InTurn>
          <h3>Change the time</h3>
          <StepEditor :only="TIMING_STEPS" />
        </InTurn>
      </template>
      <LineUpDesk v-else-if="tab === 'line-up'" />
      <CueDesk v-else-if="tab === 'cues'" />
      <SeamDesk v-else-if="tab === 'seam'" />
      <SoundDesk v-else />
    </div>
  </section>
</template>

<style scoped>
.against {
  display: flex;
  gap: 10px;
  align-items: baseline;
  margin-bottom: 4px;
  font-size: 12px;
}

.against button {
  padding: 2px 0;
  border: 0;
  border-bottom: 2px solid transparent;
  background: none;
  color: var(--ink-2);
  cursor: pointer;
}

.against button[aria-pressed='true'] {
  border-color: var(--quill);
  color: var(--ink);
}

.against button:disabled {
  opacity: 0.5;
  cursor: default;
}

.said {
  margin: 0 0 4px;
  font: 14px/1.35 var(--serif);
}

.body {
  margin-top: 8px;
}

.trim {
  margin-top: 10px;
}

.notes {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 9px;
}
</style>
