<script setup lang="ts">
import { computed } from 'vue';
import { NButton } from 'naive-ui';
import { plain } from '../../core/target/words';
import { bpmOf } from '../../core/time/tempo-map';
import { sayClock, sayPlace } from '../../core/time/meter-map';
import MarginNote from '../margin/MarginNote.vue';
import { useJob } from '../stores/job';
import StepEditor from './StepEditor.vue';
import { TIMING_RULES } from './timing-rules';

const job = useJob();
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
</script>

<template>
  <section class="panel" tabindex="0" aria-labelledby="timing-title">
    <h2 id="timing-title">When it sounds</h2>
    <dl v-if="piece" class="facts">
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
        {{
          job.shown!.commonShiftMs === 0
            ? 'not shifted'
            : `${plain(Math.abs(job.shown!.commonShiftMs) / 1000)} s ${job.shown!.commonShiftMs > 0 ? 'later' : 'earlier'}`
        }}
      </dd>
    </dl>
    <NButton
      v-if="first && first.bars > 0"
      class="trim"
      size="small"
      :disabled="job.readOnly"
      @click="trim"
    >
      Take the {{ first.bars === 1 ? 'bar' : `${first.bars} bars` }} of rest away
    </NButton>
    <template v-if="findings.length > 0">
      <h3>What the target asks</h3>
      <div class="notes">
        <MarginNote v-for="f in findings" :key="f.key" :finding="f" />
      </div>
    </template>
    <h3>Change the time</h3>
    <StepEditor :only="TIMING_STEPS" />
  </section>
</template>

<style scoped>
.trim {
  margin-top: 10px;
}

.notes {
  display: grid;
  gap: 9px;
}
</style>
