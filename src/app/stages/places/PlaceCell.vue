<script setup lang="ts">
import { Play, Square } from '@lucide/vue';
import { computed, ref, watch } from 'vue';
import type { Slot } from '../../../core/target/slots';
import { count } from '../../../core/target/words';
import { sayStretch, usePlaces } from '../../stores/places';
import { usePlaying } from '../../stores/playing';
import type { Carry } from './use-carry';

/** A place as it stands on the device: what lies in it, how long, and whether that fits. */
const props = defineProps<{ place: Slot; carry: Carry; small?: boolean }>();
const places = usePlaces();
const playing = usePlaying();

const lies = computed(() => places.lying.get(props.place.id) ?? null);
const fits = computed(() => lies.value === null || props.place.takes(lies.value.file.bars));
const stretch = computed(() => {
  const placed = lies.value?.placed;
  if (!lies.value) return '';
  return placed?.bars ? sayStretch({ ...placed, bars: placed.bars }) : 'the whole song';
});
const long = computed(() => (lies.value ? sayBars(lies.value.file.bars) : ''));
const sayBars = (n: number) =>
  n === 0.5 ? 'half a bar' : Number.isInteger(n) ? count(n, 'bar') : `${n.toFixed(2)} bars`;
/** What carrying would come to. */
const verdict = computed(() => {
  const now = places.inHand;
  if (!now || now.moves === props.place.id) return null;
  return props.place.takes(now.bars) ? 'fits' : 'wrong';
});
const heard = computed(() => places.heard === props.place.id && playing.playing);
const label = computed(() => {
  const now = places.inHand;
  const there = lies.value
    ? `${stretch.value}, ${long.value}${fits.value ? '' : `, takes ${props.place.says}`}`
    : `empty${props.place.says ? `, takes ${props.place.says}` : ''}`;
  const does = now ? `; lay ${sayStretch(now)} here` : '';
  return `${props.place.name}: ${there}${does}`;
});

const cell = ref<HTMLElement>();
// The card of the opened place lies over the end of the board: this one stays in view.
watch(
  () => places.opened === props.place.id,
  (on) => on && cell.value?.scrollIntoView({ block: 'nearest' }),
  { flush: 'post' },
);
function press() {
  if (places.inHand) places.put(props.place);
  else places.opened = places.opened === props.place.id ? null : props.place.id;
}
</script>

<template>
  <div
    ref="cell"
    class="cell"
    :class="{
      filled: lies !== null,
      small,
      wrong: !fits,
      stopped: (lies?.stops ?? 0) > 0,
      opened: places.opened === place.id,
      over: carry.over.value === place.id,
      [`would-${verdict ?? 'not'}`]: verdict !== null,
    }"
    :data-place="place.id"
  >
    <button
      type="button"
      class="main"
      :aria-label="label"
      :title="`${label} (${place.fileName})`"
      :aria-expanded="places.opened === place.id"
      @pointerdown="lies && carry.begin($event, () => places.takeFrom(place))"
      @click="carry.click(press)"
      @keydown.delete="places.empty(place)"
    >
      <template v-if="small">
        <span v-if="lies" class="bars">{{ long }}</span>
        <span v-else class="none" aria-hidden="true">–</span>
      </template>
      <template v-else>
        <span class="name">{{ place.name }}</span>
        <span v-if="lies" class="what">{{ stretch }}</span>
        <span v-if="lies" class="bars">{{ long }}</span>
        <span v-else class="none">{{ place.needed ? 'needed' : place.short || 'empty' }}</span>
      </template>
    </button>
    <span v-if="lies && lies.stops > 0" class="stops" :title="count(lies.stops, 'stop')">{{
      lies.stops
    }}</span>
    <button
      v-if="lies && !small"
      type="button"
      class="hear"
      :aria-label="heard ? `Stop ${place.name}` : `Hear ${place.name} alone`"
      :title="heard ? 'Stop' : 'Hear it alone'"
      @click="places.hear(place)"
    >
      <Square v-if="heard" :size="13" /><Play v-else :size="13" />
    </button>
  </div>
</template>

<style scoped>
.cell {
  position: relative;
  display: grid;
  scroll-margin-bottom: 110px;
  min-width: 0;
  border: 1px dashed var(--edge);
  border-radius: 5px;
  background: transparent;
}

.cell.filled {
  border: 1px solid var(--ink-2);
  background: var(--page);
}

.cell.wrong {
  border-color: var(--wax);
}

.cell.would-fits {
  border: 1px solid var(--moss);
  background: var(--page);
}

.cell.would-wrong {
  opacity: 0.62;
}

.cell.opened {
  box-shadow: 0 0 0 1px var(--quill);
  border-color: var(--quill);
}

.cell.over {
  box-shadow: 0 0 0 2px var(--gold);
}

.main {
  display: grid;
  align-content: start;
  gap: 0;
  min-width: 0;
  min-height: 42px;
  padding: 3px 6px;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  line-height: 16px;
  text-align: left;
  cursor: pointer;
}

.filled .main {
  touch-action: none;
}

.small .main {
  min-height: 24px;
  padding: 2px;
  align-content: center;
  text-align: center;
}

.main span {
  overflow: hidden;
  font-size: 12px;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.main .name {
  font-weight: 600;
}

.stopped .name {
  padding-right: 18px;
}

.bars,
.none {
  color: var(--ink-2);
}

.wrong .bars {
  color: var(--wax);
  font-weight: 600;
}

.hear {
  position: absolute;
  right: 2px;
  bottom: 2px;
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
  border: 0;
  border-radius: 4px;
  background: none;
  color: var(--quill);
  cursor: pointer;
}

.stops {
  position: absolute;
  top: 3px;
  right: 4px;
  min-width: 17px;
  padding: 0 4px;
  border-radius: 9px;
  background: var(--wax);
  color: var(--on-wax);
  font: 600 12px/17px var(--sans);
  text-align: center;
  pointer-events: none;
}

.small .stops {
  top: -5px;
  right: -3px;
}
</style>
