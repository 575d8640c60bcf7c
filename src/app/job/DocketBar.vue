<script setup lang="ts">
import { NButton, NSelect } from 'naive-ui';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { bpmOf } from '../../core/time/tempo-map';
import { sayClock, sayPlace } from '../../core/time/meter-map';
import { isUnsaid } from '../../core/target/unsaid';
import { count } from '../../core/target/words';
import { stageAfter, stageOf, type Stage } from '../stages/stages';
import { useHandover } from '../stores/handover';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { useTargets } from '../stores/targets';
import MusicFigures from '../parts/MusicFigures.vue';
import TargetPicture from '../rehearsal/TargetPicture.vue';
import TallyDots from '../margin/TallyDots.vue';
import MendReaches from './MendReaches.vue';

const props = defineProps<{ stage: Stage }>();
const job = useJob();
const looking = useLooking();
const handover = useHandover();
const router = useRouter();
const shelfTargets = useTargets();
void shelfTargets.load();
/** The targets that the job has a plan for, as it holds them; then the others of the shelf. */
const targets = computed(() => {
  const plans = (job.record?.plans ?? []).filter((p) => !isUnsaid(p.target));
  const held = plans.map(({ target }) => ({
    label: shelfTargets.find(target.id) ? target.name : `${target.name} (no longer on the shelf)`,
    value: target.id,
    title: target.summary,
  }));
  const others = shelfTargets.all
    .filter((t) => !plans.some((p) => p.targetId === t.id))
    .map((t) => ({ label: t.name, value: t.id, title: t.summary }));
  if (held.length < 2) return [...held, ...others].sort(byShelf);
  return [
    { type: 'group' as const, label: 'Plans of this job', key: 'plans', children: held },
    { type: 'group' as const, label: 'Other targets', key: 'others', children: others },
  ];
});
const place = (id: string) => shelfTargets.all.findIndex((t) => t.id === id);
const byShelf = (a: { value: string }, b: { value: string }) => place(a.value) - place(b.value);

const sourceName = computed(() => {
  const [first, ...more] = job.sourcesNow;
  return more.length === 0 ? (first?.name ?? '') : `${more.length + 1} sources`;
});
const sourceNames = computed(() => job.sourcesNow.map((s) => s.name).join(', '));

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
    firstTick === null
      ? job.target?.notes?.none
        ? ''
        : 'no notes'
      : `first note ${sayPlace(bars.placeAt(firstTick))}`,
  ].filter(Boolean);
});

const files = computed(() =>
  (job.shown?.pieces ?? []).map(({ name }, value) => ({ label: name, value })),
);

async function choose(id: string) {
  const target = job.record?.plans.find((p) => p.targetId === id)?.target ?? shelfTargets.find(id);
  if (target) await job.chooseTarget(target);
}

const asking = ref(false);
const DOES = {
  'mend-lossless': () => job.mendAll('lossless'),
  'next-stop': () => looking.walkStops(),
  'hand-over': () => handover.handOver(),
} as const;
const unsaid = computed(() => isUnsaid(job.target));
const main = computed(() => {
  if (job.standing === 'stopped')
    return { label: 'Proof again', does: () => job.proofAgain(), off: false };
  if (unsaid.value && props.stage !== 'intake')
    return {
      label: 'Say what it is for',
      does: () => router.push(`/job/${job.record!.id}/intake`),
      off: false,
    };
  const action = stageOf(props.stage).mainAction?.(job.losslessCount, job.tally.stops);
  if (action) {
    const off = job.readOnly && action.does !== 'next-stop';
    return { label: action.label, does: DOES[action.does], off };
  }
  const to = stageAfter(props.stage)!;
  return {
    label: to.onTo,
    does: () => router.push(`/job/${job.record!.id}/${to.id}`),
    off: false,
  };
});
</script>

<template>
  <div class="docket">
    <span class="source" :title="sourceNames">{{ sourceName }}</span>
    <span aria-hidden="true">→</span>
    <TargetPicture
      v-if="job.target && !unsaid"
      class="device"
      :target="job.target"
      :width="62"
      :height="28"
    />
    <NSelect
      class="target"
      size="small"
      :value="unsaid ? null : (job.target?.id ?? null)"
      placeholder="What is it for?"
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
      >with this mend: {{ count(looking.trial.changed, 'note') }} different</span
    >
    <MusicFigures
      v-if="job.shown && !unsaid && stage !== 'intake' && stage !== 'timing'"
      class="music"
      :figures="job.shown.figures"
    />
    <span v-if="job.standing === 'stopped'" class="before">not proofed</span>
    <TallyDots v-else-if="job.shown" class="tally" :tally="job.tally" :unsaid="unsaid" />
    <NButton
      v-if="stage === 'proof' && job.mendsMany"
      :disabled="job.readOnly || !job.shown"
      @click="asking = true"
    >
      Mend more…
    </NButton>
    <MendReaches v-if="asking" @close="asking = false" />
    <NButton
      type="primary"
      :disabled="main.off || (!job.shown && job.standing !== 'stopped')"
      @click="main.does()"
    >
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

/* A fact is told whole or not at all. */
.facts-line span {
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.before {
  padding: 2px 8px;
  border-radius: 4px;
  background: var(--ink);
  color: var(--paper);
  white-space: nowrap;
}

.music,
.tally {
  flex: none;
}

@media (width <= 1100px) {
  .facts-line {
    display: none;
  }
}

/* What decides stays; the facts are at Intake as well. */
@media (width <= 980px) {
  .docket {
    flex-wrap: wrap;
    gap: 6px 10px;
    padding: 5px 14px;
  }

  .device,
  .music {
    display: none;
  }

  .source {
    max-width: 120px;
  }
}
</style>
