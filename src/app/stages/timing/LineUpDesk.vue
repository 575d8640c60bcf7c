<script setup lang="ts">
import { NButton, NSelect } from 'naive-ui';
import { computed } from 'vue';
import { editedTime } from '../../../core/sound/edits';
import { count } from '../../../core/target/words';
import { soundGoesOut } from '../../../core/target/sound';
import { useJob } from '../../stores/job';
import { useLiningUp } from '../../stores/lining-up';
import { usePlaying } from '../../stores/playing';
import { useRecording } from '../../stores/recording';
import AnchorList from './AnchorList.vue';
import WaveStrip from './WaveStrip.vue';
import { call, waysOfJump, waysTogether, type Way } from '../../stores/ways-together';

/** Where the recording lies, what can be done about it, and the anchors that the tempo is fitted to. */
const job = useJob();
const playing = usePlaying();
const recording = useRecording();
const lining = useLiningUp();

const piece = computed(() => job.shown?.delivered ?? null);
const goesOut = computed(() => (job.target ? soundGoesOut(job.target) : false));
/** A proposal is of the plan that it was made for. */
const fresh = computed(() => lining.found !== null && lining.found.steps === job.plan?.now.steps);
const reply = computed(() => lining.found?.reply ?? null);
const offset = computed(() => reply.value?.offsetMs ?? 0);
const apart = computed(() => fresh.value && Math.abs(offset.value) > 20);

/** Another tempo is mended by fitting it: only then does one offset bring all together. */
const fits = computed(
  () =>
    fresh.value &&
    lining.along.length > 1 &&
    (reply.value?.ratio === null || (otherTempo.value && reply.value?.how === 'tempo')),
);
const fitSays = computed(() =>
  reply.value?.ratio === null
    ? `Fit the tempo along it, ${count(lining.along.length, 'anchor')}`
    : 'Fit the tempo to it, both ends',
);
const ways = computed(() => {
  if (!fresh.value || !piece.value) return [];
  const at = piece.value;
  const jumps = lining.says?.sure ? (reply.value?.jumps ?? []) : [];
  return [
    ...jumps.flatMap((jump) => waysOfJump(at, jump, goesOut.value)),
    ...(apart.value && jumps.length === 0
      ? waysTogether(at, offset.value, lining.says?.bars ?? 0, goesOut.value)
      : []),
  ];
});

function take(way: Way) {
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
    <div v-if="ways.length > 0 || fits" class="ways">
      <NButton
        v-if="fits"
        size="small"
        :type="lining.says?.sure ? 'primary' : 'default'"
        :disabled="job.readOnly"
        @click="lining.fitAlong(goesOut)"
      >
        {{ fitSays }}
      </NButton>
      <NButton
        v-for="(way, i) in ways"
        :key="way.says"
        size="small"
        :type="i === 0 && !fits && lining.says?.sure ? 'primary' : 'default'"
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

    <WaveStrip v-if="piece" :piece="piece">
      <template #default="{ later }">
        <div v-if="later !== 0" class="ways">
          <NButton
            v-for="(way, i) in waysTogether(piece, -later, 0, goesOut)"
            :key="way.says"
            size="tiny"
            :type="i === 0 ? 'primary' : 'default'"
            :disabled="job.readOnly"
            @click="take(way)"
          >
            {{ way.says }}
          </NButton>
        </div>
      </template>
    </WaveStrip>
    <AnchorList :other-tempo="otherTempo && fresh" />
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
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
}

.small {
  font-size: 12px;
}

.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.problem {
  color: var(--wax);
}
</style>
