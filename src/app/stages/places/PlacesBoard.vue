<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import { NButton, NSelect } from 'naive-ui';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { count, listed, noteName } from '../../../core/target/words';
import { useJob } from '../../stores/job';
import { sayStretch, usePlaces } from '../../stores/places';
import { usePlaying } from '../../stores/playing';
import { useWheel } from '../../stores/wheel';
import CrossingTable from './CrossingTable.vue';
import OpenedPlace from './OpenedPlace.vue';
import PlaceCell from './PlaceCell.vue';
import SongStrip from './SongStrip.vue';
import StretchChips from './StretchChips.vue';
import { useCarry } from './use-carry';

/** The places of the device as it has them, and the song above them: bars are carried down. */
const job = useJob();
const places = usePlaces();
const playing = usePlaying();
const wheel = useWheel();
const carry = useCarry();
const board = ref<HTMLElement>();

onMounted(() => void places.load());
// Who sweeps bars on the sheet has them in hand, as long as the board is there to lay them.
watch(
  () => places.chosen,
  (now) => now && places.take(now),
);
onBeforeUnmount(() => places.letGo());
watch([() => job.plan?.now, () => job.target, () => job.shown], () => void places.load());

const inSong = computed(() =>
  places.slots.filter((s) => s.plays !== 'break' && s.plays !== 'crossing'),
);
const breaks = computed(() => places.slots.filter((s) => s.plays === 'break'));
const crossings = computed(() => places.slots.filter((s) => s.plays === 'crossing'));
const filled = computed(() => places.lying.size);
const kits = computed(() => job.target?.kits ?? []);
const kit = computed(() => job.shown?.delivered.delivery.metadata?.kit ?? null);
function chooseKit(id: string) {
  job.addSteps(`Kit ${kits.value.find((k) => k.id === id)?.name ?? id}`, [
    { step: 'metadata', params: { kit: id }, scope: {}, on: true },
  ]);
}
const sayKit = (id: string) =>
  kits.value
    .find((k) => k.id === id)
    ?.keys.map((k) => `${k.name} ${noteName(k.noteNumber)}`)
    .join(', ') ?? '';
/** Once something is laid: what else there is, and would not go out. */
const left = computed(() => (filled.value > 0 ? places.wouldFill.left : []));
const heldBars = computed(() => places.inHand?.bars ?? 0);
const taking = computed(() => places.slots.filter((s) => s.takes(heldBars.value)).length);

useEventListener(window, 'keydown', (event) => {
  if (event.key === 'Escape' && places.inHand) places.letGo();
});
/** Arrows go to the nearest place that way. */
function walk(event: KeyboardEvent) {
  const way = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowDown: [0, 1], ArrowUp: [0, -1] }[
    event.key
  ];
  const here = document.activeElement;
  if (!way || !board.value || !here?.matches('.cell .main')) return;
  event.preventDefault();
  const centre = (e: Element) => {
    const { left, top, width, height } = e.getBoundingClientRect();
    return [left + width / 2, top + height / 2] as const;
  };
  const [x, y] = centre(here);
  const [dx, dy] = way as [number, number];
  let best: { readonly e: HTMLElement; readonly far: number } | null = null;
  for (const e of board.value.querySelectorAll<HTMLElement>('.cell .main')) {
    const [ex, ey] = centre(e);
    const along = (ex - x) * dx + (ey - y) * dy;
    const aside = Math.abs((ex - x) * dy) + Math.abs((ey - y) * dx);
    if (e === here || along < 4) continue;
    const far = along + 3 * aside;
    if (!best || far < best.far) best = { e, far };
  }
  best?.e.focus();
}
</script>

<template>
  <div class="places">
    <SongStrip v-for="(s, i) in places.songs" :key="s.file" :song="i" />
    <StretchChips v-if="places.songs.length > 0" :carry="carry" />
    <p class="hand" :class="{ held: places.inHand }" aria-live="polite">
      <template v-if="places.inHand">
        <b>{{ sayStretch(places.inHand) }}</b>
        {{ places.inHand.moves ? `of ${places.inHand.name} ` : '' }}in hand · {{ taking }} of
        {{ count(places.slots.length, 'place') }} take {{ count(heldBars, 'bar') }}
        <button type="button" class="link" @click="places.letGo()">let go</button>
      </template>
      <template v-else>
        {{ filled }} of {{ places.slots.length }} filled. Sweep bars, or drag a stretch to a place.
      </template>
    </p>
    <div class="does">
      <NButton
        v-if="places.wouldFill.fits.length > 0"
        size="small"
        :disabled="job.readOnly"
        :title="places.wouldFill.fits.map((f) => `${f.slot.name}: ${f.carried.name}`).join(', ')"
        @click="places.fill()"
      >
        Fill {{ count(places.wouldFill.fits.length, 'place') }} in order
      </NButton>
      <NButton v-if="places.inOrder.length > 1" size="small" @click="places.hearAll()">
        Hear {{ places.inOrder.length }} in order
      </NButton>
      <NButton v-if="places.heard && playing.playing" size="small" @click="playing.stop()"
        >Stop</NButton
      >
      <NSelect
        v-if="kits.length > 0"
        class="kit"
        size="small"
        :value="kit"
        placeholder="Kit: the one that fits best"
        :options="kits.map((k) => ({ label: `Kit: ${k.name}`, value: k.id, title: sayKit(k.id) }))"
        :disabled="job.readOnly"
        aria-label="Kit"
        @update:value="chooseKit"
      />
      <NButton
        v-if="kits.length > 1"
        size="small"
        title="The loop goes round, each time in the next kit"
        @click="wheel.goThrough('kit')"
      >
        Hear each kit
      </NButton>
    </div>
    <div ref="board" class="board" @keydown="walk">
      <div class="group">
        <PlaceCell v-for="s in inSong" :key="s.id" :place="s" :carry="carry" />
      </div>
      <template v-if="breaks.length > 0">
        <h3>Breaks</h3>
        <div class="group">
          <PlaceCell v-for="s in breaks" :key="s.id" :place="s" :carry="carry" />
        </div>
      </template>
      <template v-if="crossings.length > 0">
        <h3>Crossings</h3>
        <CrossingTable :slots="crossings" :carry="carry" />
      </template>
    </div>
    <p v-if="left.length > 0" class="soft">
      {{ count(left.length, 'stretch', 'stretches') }} without a free place of that length:
      {{ listed(left.map((c) => `${c.name} (${sayStretch(c)})`)) }}.
    </p>
    <OpenedPlace />
    <div
      v-if="carry.at.value && places.inHand"
      class="carried"
      :style="{ left: `${carry.at.value.x + 10}px`, top: `${carry.at.value.y + 8}px` }"
      aria-hidden="true"
    >
      {{ sayStretch(places.inHand) }}
    </div>
  </div>
</template>

<style scoped>
.places {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}

.hand {
  overflow: hidden;
  margin: 0;
  color: var(--ink-2);
  font-size: 13px;
  line-height: 20px;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.hand.held {
  color: var(--ink);
}

.does {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.kit {
  flex: 1 1 150px;
}

.board {
  display: grid;
  gap: 6px;
}

.board h3 {
  margin: 4px 0 0;
  font: 600 14px var(--serif);
}

.group {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(79px, 1fr));
  gap: 5px;
}

.carried {
  position: fixed;
  z-index: 40;
  padding: 3px 9px;
  border: 1px solid var(--quill);
  border-radius: 5px;
  background: var(--quill);
  color: var(--on-quill);
  font-size: 12px;
  pointer-events: none;
}
</style>
