<script setup lang="ts">
import { NButton, NInputNumber, NSelect } from 'naive-ui';
import { useEventListener } from '@vueuse/core';
import { Anchor as AnchorIcon, Trash2 } from '@lucide/vue';
import { computed, onBeforeUnmount, ref } from 'vue';
import { editedTime } from '../../../core/sound/edits';
import { soundGoesOut } from '../../../core/target/sound';
import { count, plain } from '../../../core/target/words';
import { sayClock, sayPlace } from '../../../core/time/meter-map';
import type { StepCall } from '../../../core/steps/call';
import { useJob } from '../../stores/job';
import { useLiningUp } from '../../stores/lining-up';
import { useLooking } from '../../stores/looking';
import { usePlaying } from '../../stores/playing';
import { useRecording } from '../../stores/recording';
import { useSettings } from '../../stores/settings';

/** Where the recording lies, what can be done about it, and the anchors that the tempo is fitted to. */
const job = useJob();
const looking = useLooking();
const playing = usePlaying();
const recording = useRecording();
const lining = useLiningUp();
const settings = useSettings();

const piece = computed(() => job.shown?.delivered ?? null);
const goesOut = computed(() => (job.target ? soundGoesOut(job.target) : false));
/** A proposal is of the plan that it was made for. */
const fresh = computed(() => lining.found !== null && lining.found.steps === job.plan?.now.steps);
const reply = computed(() => lining.found?.reply ?? null);
const offset = computed(() => reply.value?.offsetMs ?? 0);
const apart = computed(() => fresh.value && Math.abs(offset.value) > 20);
const call = (step: string, params: object): StepCall => ({ step, params, scope: {}, on: true });
const seconds = (ms: number) => `${plain(Math.abs(Math.round(ms)) / 1000)} s`;

/** Ways to bring both together, the one that keeps bars first. */
const ways = computed(() => {
  if (!apart.value || !piece.value) return [];
  const ms = offset.value;
  const exact = Math.abs(Math.round(ms * 1000) / 1000);
  const bars = lining.says?.bars ?? 0;
  const out: { says: string; did: string; steps: StepCall[] }[] = [];
  if (bars > 0) {
    const says = `Put back ${count(bars, 'bar')} of rest`;
    out.push({ says, did: says, steps: [call('rest-at-start', { bars })] });
  }
  if (ms > 0 && bars <= 0) {
    const says = `Move the score ${seconds(ms)} later`;
    out.push({ says, did: says, steps: [call('shift', { ms: exact })] });
  }
  if (ms < 0) {
    const first = piece.value.firstTick;
    const room = first === null ? 0 : piece.value.clock.msAt(first);
    if (bars < 0 && piece.value.bars.barAt(first ?? 0) >= -bars) {
      const says = `Take ${count(-bars, 'bar')} of rest away`;
      out.push({ says, did: says, steps: [call('trim-start', { bars: -bars })] });
    } else if (room >= exact) {
      const says = `Move the notes ${seconds(ms)} earlier`;
      out.push({ says, did: says, steps: [call('move-notes', { ms: -exact })] });
    }
  }
  if (goesOut.value) {
    const says =
      ms > 0
        ? `Cut ${seconds(ms)} off the sound`
        : `Put ${seconds(ms)} of silence before the sound`;
    out.push({ says, did: says, steps: [call('sound-later', { ms: ms > 0 ? -exact : exact })] });
  }
  return out;
});

function take(way: (typeof ways.value)[number]) {
  lining.lookAgain();
  job.addSteps(way.did, way.steps);
}

/** The plainest way of all: the first note to where the recording first sounds. */
const firstSound = computed(() => {
  const p = piece.value;
  const ms = recording.listened?.facts.firstMs;
  if (!p || p.firstTick === null || ms === null || ms === undefined) return null;
  const heard = editedTime(recording.layout, ms * 1000);
  return heard === null ? null : heard / 1000 - p.clock.msAt(p.firstTick);
});
/** The score later by so much, or its notes earlier. */
function putScore(ms: number, did: string) {
  const exact = Math.abs(Math.round(ms * 1000) / 1000);
  if (exact === 0) return;
  lining.lookAgain();
  job.addSteps(did, [ms > 0 ? call('shift', { ms: exact }) : call('move-notes', { ms: -exact })]);
}
function firstToFirst() {
  if (firstSound.value !== null) putScore(firstSound.value, 'First note to the first sound');
}

/** A marker, the first note or the first bar is where the playhead is: by ear, or by a click in the wave. */
const places = computed(() => {
  const p = piece.value;
  if (!p) return [];
  return [
    ...(p.firstTick === null ? [] : [{ label: 'The first note', value: p.firstTick }]),
    { label: 'Bar 1', value: 0 },
    ...p.markers.map((m) => ({ label: `“${m.text}”`, value: m.tick })),
  ].filter((o, i, all) => all.findIndex((other) => other.value === o.value) === i);
});
function putHere(tick: number) {
  const p = piece.value;
  const label = places.value.find((o) => o.value === tick)?.label ?? 'The place';
  if (p) putScore(playing.nowMs() - p.clock.msAt(tick), `${label} to the playhead`);
}

/** One tempo that is another: two anchors far apart say it. */
const otherTempo = computed(
  () => reply.value?.ratio !== null && Math.abs((reply.value?.ratio ?? 1) - 1) >= 0.0002,
);
function anchorHere() {
  lining.anchorAt(playing.shownTick, playing.nowMs());
}
/** While the beat is tapped, T belongs to it. */
const tapping = ref(false);
async function tapBeats() {
  tapping.value = !tapping.value;
  lining.tapped = null;
  if (!tapping.value) return playing.stop();
  playing.listen = 'delivered';
  playing.setLoop(null);
  if (!playing.playing) await playing.play();
}
useEventListener(
  window,
  'keydown',
  (event) => {
    if (!tapping.value || event.key.toLowerCase() !== 't' || event.repeat) return;
    event.preventDefault();
    event.stopPropagation();
    lining.tapBeat(Math.max(0, playing.nowMs() - settings.handDelayMs));
  },
  { capture: true },
);
onBeforeUnmount(() => (lining.tapped = null));

const bars = computed(() => piece.value?.bars.barCount(piece.value.endTick) ?? 1);
const fromBar = ref<number | null>(1);
const toBar = ref<number | null>(null);
const counted = computed(() => lining.anchors.filter((a) => !a.out).length);
const MOST = 60;
const rows = computed(() =>
  lining.anchorDrift.slice(0, MOST).map(({ anchor, at }) => ({
    anchor,
    at,
    place: at && piece.value ? sayPlace(piece.value.bars.placeAt(at.tick)) : 'cut away',
  })),
);
const without = (tick: number) =>
  lining.setAnchors(
    lining.anchors.filter((a) => a.tick !== tick),
    'An anchor removed',
  );
function weigh(tick: number) {
  lining.setAnchors(
    lining.anchors.map((a) => (a.tick === tick ? { ...a, out: !a.out } : a)),
    'An anchor counts otherwise',
  );
}
function moveAnchor(tick: number, ms: number) {
  lining.setAnchors(
    lining.anchors.map((a) =>
      a.tick === tick ? { ...a, us: Math.max(0, a.us + Math.round(ms * 1000)) } : a,
    ),
    'An anchor moved',
  );
}
function go(tick: number) {
  looking.bring(tick);
  playing.seekShown(tick);
}
const BUSY = {
  offset: 'Looking for where it lies…',
  tempo: 'Looking for its tempo…',
  freely: 'Following it from note to note…',
};
</script>

<template>
  <div v-if="recording.listened" class="desk">
    <p v-if="lining.busy" class="soft" role="status">{{ BUSY[lining.busy] }}</p>
    <template v-else-if="lining.says">
      <p class="serif" data-testid="lined-up">{{ lining.says.where }}</p>
      <p class="soft small">{{ lining.says.how }}</p>
      <p v-if="!fresh" class="soft small">The plan has changed since: look again.</p>
    </template>
    <p v-if="lining.problem" class="problem">{{ lining.problem }}</p>
    <div v-if="ways.length > 0" class="ways">
      <NButton
        v-for="(way, i) in ways"
        :key="way.says"
        size="small"
        :type="i === 0 ? 'primary' : 'default'"
        :disabled="job.readOnly"
        @click="take(way)"
      >
        {{ way.says }}
      </NButton>
    </div>
    <div class="ways">
      <NButton size="tiny" :disabled="lining.busy !== null" @click="lining.look('offset')">
        Look for its place
      </NButton>
      <NButton size="tiny" :disabled="lining.busy !== null" @click="lining.look('tempo')">
        and its tempo
      </NButton>
      <NButton size="tiny" :disabled="lining.busy !== null" @click="lining.look('freely')">
        Follow it note by note
      </NButton>
      <NButton
        v-if="firstSound !== null && Math.abs(firstSound) > 1"
        size="tiny"
        quaternary
        :disabled="job.readOnly"
        @click="firstToFirst"
      >
        First note to the first sound
      </NButton>
      <NSelect
        class="place"
        size="tiny"
        :value="null"
        :options="places"
        :disabled="job.readOnly"
        :consistent-menu-width="false"
        placeholder="At the playhead it has…"
        title="Click in the wave, or stop where you hear it; then say what of the score that is"
        aria-label="What the recording has at the playhead"
        @update:value="putHere"
      />
    </div>

    <h3>
      Anchors <span class="soft">{{ lining.anchors.length }}</span>
    </h3>
    <p class="soft small">
      A place in the score and the moment at which the recording has it. The tempo is fitted through
      all that count.
    </p>
    <div class="ways">
      <NButton size="tiny" :disabled="job.readOnly" @click="anchorHere">
        <template #icon><AnchorIcon :size="13" /></template>
        Here
      </NButton>
      <NButton
        size="tiny"
        :type="tapping ? 'primary' : 'default'"
        :disabled="job.readOnly"
        title="Play, and tap T on every beat: each tap is an anchor on the next beat of the score"
        @click="tapBeats"
      >
        {{ tapping ? 'Tap T on the beat…' : 'Tap the beat' }}
      </NButton>
      <NButton
        v-if="recording.listened.facts.beat"
        size="tiny"
        :disabled="job.readOnly"
        title="The beat that was estimated from the sound, from the first note on"
        @click="lining.takeBeats()"
      >
        Estimated beat
      </NButton>
      <NButton
        v-if="otherTempo && fresh"
        size="tiny"
        :disabled="job.readOnly"
        @click="lining.takeTempo()"
      >
        At both ends
      </NButton>
      <NButton
        v-if="lining.found && lining.found.matches.length > 1"
        size="tiny"
        :disabled="job.readOnly"
        @click="lining.takeMatches()"
      >
        From what was found
      </NButton>
      <NButton
        v-if="lining.anchors.length > 0"
        size="tiny"
        quaternary
        :disabled="job.readOnly"
        @click="lining.setAnchors([], 'No anchors any more')"
      >
        Remove all
      </NButton>
    </div>
    <ul v-if="rows.length > 0" class="anchors">
      <li v-for="{ anchor, at, place } in rows" :key="anchor.tick" :class="{ out: anchor.out }">
        <button class="plain place" type="button" @click="at && go(at.tick)">{{ place }}</button>
        <span class="soft">{{ sayClock(anchor.us / 1000) }}</span>
        <span class="off">{{ at ? `${Math.round(at.off)} ms` : '' }}</span>
        <button
          class="icon"
          type="button"
          title="10 ms earlier in the recording"
          :aria-label="`Anchor at ${place}: 10 ms earlier`"
          :disabled="job.readOnly"
          @click="moveAnchor(anchor.tick, -10)"
        >
          −
        </button>
        <button
          class="icon"
          type="button"
          title="10 ms later in the recording"
          :aria-label="`Anchor at ${place}: 10 ms later`"
          :disabled="job.readOnly"
          @click="moveAnchor(anchor.tick, 10)"
        >
          +
        </button>
        <label class="counts" :title="anchor.out ? 'Does not count' : 'Counts'">
          <input
            type="checkbox"
            :checked="!anchor.out"
            :disabled="job.readOnly"
            :aria-label="`Anchor at ${place} counts`"
            @change="weigh(anchor.tick)"
          />
        </label>
        <button
          class="icon"
          type="button"
          :aria-label="`Remove the anchor at ${place}`"
          :disabled="job.readOnly"
          @click="without(anchor.tick)"
        >
          <Trash2 :size="14" />
        </button>
      </li>
    </ul>
    <p v-if="lining.anchors.length > MOST" class="soft small">
      The first {{ MOST }} of {{ lining.anchors.length }} are listed.
    </p>
    <div v-if="lining.anchors.length > 2" class="ways stretch">
      Count only bars
      <NInputNumber
        v-model:value="fromBar"
        size="tiny"
        :min="1"
        :max="bars"
        :show-button="false"
        :input-props="{ 'aria-label': 'Anchors count from bar' }"
      />
      to
      <NInputNumber
        v-model:value="toBar"
        size="tiny"
        :min="1"
        :max="bars"
        :show-button="false"
        :placeholder="String(bars)"
        :input-props="{ 'aria-label': 'Anchors count to bar' }"
      />
      <NButton
        size="tiny"
        :disabled="job.readOnly"
        title="The tempo of all other bars stays as it is"
        @click="lining.countOnly(fromBar ?? 1, toBar ?? bars)"
      >
        Leave the rest alone
      </NButton>
    </div>
    <div v-if="counted >= 2" class="ways">
      <NButton size="small" type="primary" :disabled="job.readOnly" @click="lining.fit(false)">
        Fit the tempo
      </NButton>
      <NButton size="small" :disabled="job.readOnly" @click="lining.fit(true)">
        Fit it smoothly
      </NButton>
    </div>
    <p v-if="lining.step?.on" class="soft small" data-testid="fitted">
      Fitted{{ lining.params.smooth ? ' smoothly' : '' }}. What stands before the first and behind
      the last anchor keeps its tempo.
    </p>
  </div>
  <p v-else class="soft">
    Bring in the recording: score and sound are then held against each other, and what is apart can
    be mended on either side.
  </p>
</template>

<style scoped>
.place {
  width: 176px;
}

.desk {
  display: grid;
  gap: 6px;
}

.desk h3 {
  margin: 8px 0 0;
}

.small {
  font-size: 12px;
}

.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.stretch {
  align-items: center;
  font-size: 12px;
}

.stretch :deep(.n-input-number) {
  width: 56px;
}

.problem {
  color: var(--wax);
}

.anchors {
  display: grid;
  gap: 1px;
  max-height: 210px;
  margin: 0;
  padding: 0;
  overflow: auto;
  list-style: none;
}

.anchors li {
  display: grid;
  grid-template-columns: 62px 74px 1fr 24px 24px 22px 26px;
  gap: 4px;
  align-items: center;
  border-bottom: 1px solid var(--line);
}

.anchors .out {
  color: var(--ink-2);
}

.place {
  color: var(--quill);
  text-align: left;
}

.off {
  text-align: right;
}

.counts input {
  width: 16px;
  height: 16px;
  accent-color: var(--quill);
}
</style>
