<script setup lang="ts">
import { NButton } from 'naive-ui';
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import { driftPerPass } from '../../../core/reading/drift';
import type { SeamCandidate } from '../../../core/reading/seams';
import { loudnessOf } from '../../../core/sound/peaks';
import { count, plain } from '../../../core/target/words';
import { sayClock } from '../../../core/time/meter-map';
import type { StepCall } from '../../../core/steps/call';
import { sideEngine } from '../../stores/engine';
import { useJob } from '../../stores/job';
import { useLooking } from '../../stores/looking';
import { usePlaying } from '../../stores/playing';
import { useRecording } from '../../stores/recording';
import { useCues } from '../../stores/cues';
import SeamPicture from './SeamPicture.vue';

/** Where it goes round: candidates with their reasons, their neighbours drawn, the seam alone heard. */
const job = useJob();
const looking = useLooking();
const playing = usePlaying();
const recording = useRecording();
const cues = useCues();
const list = shallowRef<readonly SeamCandidate[] | null>(null);
const at = ref(0);
const problem = ref<string | null>(null);
const piece = computed(() => job.shown?.delivered ?? null);
const marker = computed(() => job.target?.end?.loopMarker ?? null);
const chosen = computed(() => list.value?.[at.value] ?? null);
const hearing = ref(false);
const HEARD_MS = 2000;

/** It may begin at the first bar, at the loop's marker, and at every other marker. */
function fromBars(): number[] {
  const p = piece.value;
  if (!p) return [1];
  return [...new Set([1, ...p.markers.map((m) => p.bars.barAt(m.tick) + 1)])].slice(0, 24);
}

async function look() {
  const asked = job.request();
  if (!asked) return;
  problem.value = null;
  try {
    const { listened, layout } = recording;
    const call = sideEngine().ask('seams', {
      ...asked,
      known: [],
      fromBars: fromBars(),
      ...(listened ? { loudness: loudnessOf(listened.peaks, layout) } : {}),
    });
    const found = await call.result;
    if (!found) return;
    list.value = found;
    at.value = Math.min(at.value, Math.max(0, found.length - 1));
  } catch (error) {
    problem.value = `Seams could not be looked for: ${(error as Error).message}`;
  }
}
watch([() => job.shown?.delivered, () => recording.listened], look, { immediate: true });

function loops(c: SeamCandidate) {
  const p = piece.value!;
  const [start, end] = [p.clock.msAt(c.fromTick), p.clock.msAt(c.toTick)];
  const heard = Math.min(HEARD_MS, end - start);
  return { fromMs: end - heard, toMs: end, then: { fromMs: start, toMs: start + heard } };
}
/** The end and the beginning alone, round and round; another candidate is heard at once. */
async function hear() {
  const c = chosen.value;
  if (!c) return;
  hearing.value = true;
  const loop = loops(c);
  playing.listen = 'delivered';
  playing.setLoop(loop);
  playing.seek(loop.fromMs);
  if (!playing.playing) await playing.play();
}
function stop() {
  hearing.value = false;
  playing.stop();
  playing.setLoop(null);
}
function choose(index: number) {
  at.value = index;
  const c = chosen.value;
  if (!c) return;
  looking.bring(c.toTick - 1);
  if (hearing.value && playing.playing) void hear();
}
function press(event: KeyboardEvent) {
  const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (event.key === 'Enter') void hear();
  else if (event.key === 'Escape') stop();
  else if (by && list.value) choose(Math.max(0, Math.min(list.value.length - 1, at.value + by)));
  else return;
  event.preventDefault();
  event.stopPropagation();
}
onBeforeUnmount(() => {
  if (hearing.value) stop();
});

function take() {
  const c = chosen.value;
  const p = piece.value;
  if (!c || !p) return;
  const call = (step: string, params: object): StepCall => ({ step, params, scope: {}, on: true });
  const steps = [call('set-length', { bars: c.toBar })];
  if (marker.value) steps.push(call('loop', { label: marker.value, bar: c.fromBar }));
  else if (c.fromBar > 1) {
    problem.value = `${job.target?.name} goes round from its start: a loop that begins at bar ${c.fromBar} needs what stands before it to be cut off.`;
    return;
  }
  job.addSteps(`Goes round from bar ${c.fromBar} to ${c.toBar}`, steps);
}

const PASSES = [1, 10, 100];
const rate = computed(() => (job.target?.frames ? cues.frameRate : null));
const drifts = computed(() => {
  const c = chosen.value;
  if (!c) return [];
  const units = [
    ...(rate.value === null ? [] : [{ name: 'frames', per: rate.value }]),
    { name: 'samples', per: recording.listened?.facts.rate ?? 48_000 },
  ];
  return units.map(({ name, per }) => ({
    name: `${name} of ${plain(per)} a second`,
    off: PASSES.map((n) => driftPerPass(c.ms, per, n)),
  }));
});
const say = (ms: number) => `${plain(Math.round(ms * 1000) / 1000)} ms`;
</script>

<template>
  <div class="desk">
    <p v-if="list && list.length === 0" class="soft">
      Nothing to go round: two bars with notes are needed.
    </p>
    <template v-else-if="list">
      <p class="soft small">
        Arrows choose, <kbd>Enter</kbd> plays the last two seconds and the first two, round and
        round, <kbd>Esc</kbd> ends it.
      </p>
      <ol class="list" tabindex="0" role="listbox" aria-label="Seams" @keydown="press">
        <li
          v-for="(c, i) in list"
          :key="`${c.fromBar}-${c.toBar}`"
          role="option"
          :aria-selected="i === at"
          :class="{ here: i === at }"
          @click="choose(i)"
        >
          <strong>bar {{ c.fromBar }} to {{ c.toBar }}</strong
          >{{ ' ' }}
          <span class="soft">
            {{ count(c.toBar - c.fromBar + 1, 'bar') }}, {{ sayClock(c.ms) }}</span
          >
          <span class="why">{{ c.says.join(', ') }}</span>
        </li>
      </ol>
      <SeamPicture v-if="chosen && piece" :piece="piece" :seam="chosen" />
      <div class="row">
        <NButton size="small" @click="hearing && playing.playing ? stop() : hear()">
          {{ hearing && playing.playing ? 'Stop' : 'Hear the seam' }}
        </NButton>
        <NButton size="small" type="primary" :disabled="job.readOnly" @click="take">
          Go round there
        </NButton>
      </div>
      <table v-if="drifts.length > 0" class="drift">
        <thead>
          <tr>
            <th>In whole…</th>
            <th v-for="n in PASSES" :key="n">{{ count(n, 'pass', 'passes') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="d in drifts" :key="d.name">
            <th>{{ d.name }}</th>
            <td v-for="(off, i) in d.off" :key="i">{{ say(off) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}

.small {
  font-size: 12px;
}

kbd {
  padding: 0 4px;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--page);
  font: 12px var(--sans);
}

.list {
  max-height: 186px;
  margin: 0;
  padding: 0;
  overflow: auto;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
  list-style: none;
}

.list li {
  padding: 4px 9px;
  border-bottom: 1px solid var(--line);
  cursor: default;
}

.list .here {
  background: var(--quill-wash);
  box-shadow: inset 3px 0 0 var(--quill);
}

.why {
  display: block;
  color: var(--ink-2);
  font-size: 12px;
}

.row {
  display: flex;
  gap: 8px;
}

.drift {
  border-collapse: collapse;
  font-size: 12px;
}

.drift th,
.drift td {
  padding: 2px 8px 2px 0;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
  text-align: right;
}

.drift th:first-child {
  color: var(--ink-2);
  text-align: left;
}

.problem {
  color: var(--wax);
}
</style>
