<script setup lang="ts">
import { NButton, NInputNumber } from 'naive-ui';
import { useEventListener } from '@vueuse/core';
import { Anchor as AnchorIcon, Trash2 } from '@lucide/vue';
import { computed, onBeforeUnmount, ref } from 'vue';
import { sayClock, sayPlace } from '../../../core/time/meter-map';
import { useJob } from '../../stores/job';
import { useLiningUp } from '../../stores/lining-up';
import { useLooking } from '../../stores/looking';
import { usePlaying } from '../../stores/playing';
import { useRecording } from '../../stores/recording';
import { useSettings } from '../../stores/settings';

/** Places of the score and the moments at which the recording has them; the tempo is fitted to them. */
defineProps<{
  /** The recording runs at one tempo that is another. */
  otherTempo: boolean;
}>();
const job = useJob();
const looking = useLooking();
const playing = usePlaying();
const recording = useRecording();
const lining = useLiningUp();
const settings = useSettings();
const piece = computed(() => job.shown?.delivered ?? null);

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
    'Anchor on or off',
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
</script>

<template>
  <section class="list" aria-labelledby="anchors-title">
    <h3 id="anchors-title">
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
        v-if="recording.listened?.facts.beat"
        size="tiny"
        :disabled="job.readOnly"
        title="The beat that was estimated from the sound, from the first note on"
        @click="lining.takeBeats()"
      >
        Estimated beat
      </NButton>
      <NButton v-if="otherTempo" size="tiny" :disabled="job.readOnly" @click="lining.takeTempo()">
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
        Use only these bars
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
  </section>
</template>

<style scoped>
.list {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
}

.list h3 {
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

.anchors {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
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
