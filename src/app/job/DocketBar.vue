<script setup lang="ts">
import { NButton, NSelect } from 'naive-ui';
import { computed } from 'vue';
import { useRouter } from 'vue-router';
import { bpmOf } from '../../core/time/tempo-map';
import { sayClock, sayPlace } from '../../core/time/meter-map';
import { count } from '../../core/target/words';
import type { Stage } from '../stages/stages';
import { useHandover } from '../stores/handover';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { useTargets } from '../stores/targets';
import TallyDots from '../margin/TallyDots.vue';

const props = defineProps<{ stage: Stage }>();
const job = useJob();
const looking = useLooking();
const handover = useHandover();
const router = useRouter();
const shelfTargets = useTargets();
void shelfTargets.load();
const targets = computed(() =>
  shelfTargets.all.map((t) => ({ label: t.name, value: t.id, title: t.summary })),
);

/** The facts that people check first, of what will be delivered. */
const facts = computed(() => {
  const piece = looking.piece;
  if (!piece) return [];
  const { division, delivery, meters, tempos, bars, clock, endTick, firstTick } = piece;
  const ppq =
    division.kind === 'ppq'
      ? `${division.ticksPerQuarter} PPQ`
      : `${division.framesPerSecond} frames`;
  const meter = bars.meterAt(0);
  const changes = new Set(meters.map((m) => `${m.numerator}/${m.denominator}`)).size > 1;
  const rates = new Set(tempos.map((t) => t.microsecondsPerQuarter));
  const tempo =
    rates.size > 1
      ? `${rates.size} tempos`
      : `♩ ${Math.round(bpmOf(clock.tempoAt(0)) * 100) / 100}`;
  return [
    `SMF ${delivery.format} · ${ppq}`,
    `${meter.numerator}/${meter.denominator}${changes ? ' …' : ''} · ${count(bars.barCount(endTick), 'bar')} · ${sayClock(clock.msAt(endTick))}`,
    tempo,
    firstTick === null ? 'no notes' : `first note ${sayPlace(bars.placeAt(firstTick))}`,
  ];
});

const files = computed(() =>
  (job.shown?.pieces ?? []).map((name, value) => ({ label: name, value })),
);

async function choose(id: string) {
  const target = shelfTargets.find(id);
  if (target) await job.useTarget(target);
}

const main = computed(() => {
  const next = { intake: 'seating', seating: 'timing', timing: 'proof' } as const;
  if (props.stage === 'handover')
    return { label: 'Hand over', does: () => handover.handOver(), off: job.readOnly };
  if (props.stage === 'proof') {
    const n = job.losslessCount;
    if (n > 0)
      return {
        label: `Mend what loses nothing (${n})`,
        does: () => job.mendAll(true),
        off: job.readOnly,
      };
    return {
      label: 'On to the handover',
      does: () => router.push(`/job/${job.record!.id}/handover`),
      off: false,
    };
  }
  const to = next[props.stage];
  return {
    label: `On to ${{ seating: 'seating', timing: 'timing', proof: 'proof' }[to]}`,
    does: () => router.push(`/job/${job.record!.id}/${to}`),
    off: false,
  };
});
</script>

<template>
  <div class="docket">
    <span class="source" :title="job.record?.sources[0]?.name">{{
      job.record?.sources[0]?.name
    }}</span>
    <span aria-hidden="true">→</span>
    <NSelect
      class="target"
      size="small"
      :value="job.target?.id ?? null"
      :options="targets"
      :disabled="job.readOnly"
      :consistent-menu-width="false"
      :input-props="{ 'aria-label': 'Target' }"
      aria-label="Target"
      @update:value="choose"
    />
    <NSelect
      v-if="job.shown && job.shown.pieces.length > 1"
      class="piece"
      size="small"
      :value="job.shown.piece"
      :options="files"
      :consistent-menu-width="false"
      aria-label="File of the delivery"
      @update:value="job.showPiece($event)"
    />
    <span class="facts-line">
      <span v-for="fact in facts" :key="fact">{{ fact }}</span>
    </span>
    <span v-if="looking.before" class="before">before any change</span>
    <span v-else-if="looking.trial" class="before"
      >with this mend: {{ count(looking.trial.changed, 'note') }} otherwise</span
    >
    <TallyDots v-if="job.shown" class="tally" :tally="job.tally" />
    <NButton type="primary" :disabled="main.off || !job.shown" @click="main.does()">
      {{ main.label }}
    </NButton>
  </div>
</template>

<style scoped>
.docket {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 0 14px;
  border-bottom: 1px solid var(--line);
  background: var(--band);
}

.source {
  max-width: 190px;
  overflow: hidden;
  font-weight: 500;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.target {
  flex: none;
  width: 150px;
}

.piece {
  flex: none;
  width: 110px;
}

.facts-line {
  display: flex;
  flex: 1;
  gap: 3px 12px;
  min-width: 0;
  height: 20px;
  overflow: hidden;
  flex-wrap: wrap;
  color: var(--ink-2);
}

.facts-line span {
  white-space: nowrap;
}

.before {
  padding: 2px 8px;
  border-radius: 4px;
  background: var(--ink);
  color: var(--paper);
  white-space: nowrap;
}

.tally {
  flex: none;
}
</style>
