<script setup lang="ts">
import { NButton, NSelect } from 'naive-ui';
import { Minus, Pencil, Plus, Trash2, X } from '@lucide/vue';
import { useElementSize, useEventListener } from '@vueuse/core';
import { computed, markRaw, ref, shallowRef, watch } from 'vue';
import { drumName } from '../../core/seating/drum-kinds';
import { count, noteName } from '../../core/target/words';
import { ticksPerQuarterOf } from '../../core/score/score';
import { sayPlace } from '../../core/time/meter-map';
import InkSwatch from '../parts/InkSwatch.vue';
import { inkOf } from '../sheet/inks';
import { scaleFor } from '../sheet/wave';
import { useHand } from '../stores/hand';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { useRecording } from '../stores/recording';
import { usePlaying } from '../stores/playing';
import { useSettings } from '../stores/settings';
import { drawCloseUp, NOTHING_PENDING } from './draw';
import {
  AXIS,
  endsOfChords,
  HEAD,
  hitAt,
  idsIn,
  keyAt,
  lastTick,
  onGrid,
  rowsFor,
  tickAt,
  xAt,
  type Hit,
  type View,
} from './geometry';

/** One continuous strip at full height: real pitches, lengths, velocities, changed by hand. */
const job = useJob();
const looking = useLooking();
const playing = usePlaying();
const settings = useSettings();
const hand = useHand();
const recording = useRecording();
const wave = computed(() =>
  recording.listened
    ? markRaw({
        peaks: recording.listened.peaks,
        layout: recording.shownLayout,
        scale: scaleFor(recording.listened.facts.peak),
      })
    : null,
);

const frame = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const { width, height } = useElementSize(frame);
const piece = computed(() => job.shown?.delivered ?? null);
const quarter = computed(() => (piece.value ? ticksPerQuarterOf(piece.value.division) : 480));

const fromTick = ref(0);
const ticksPerPixel = ref(4);
const follows = ref(true);
const drawing = ref(false);

// --- what is in front ----------------------------------------------------------------------------
const front = computed(() => {
  const parts = piece.value?.parts ?? [];
  const all = parts
    .map((_, i) => i)
    .filter((i) => !parts[i]!.leftOut && parts[i]!.columns.count > 0);
  const own = all.filter((i) => parts[i]!.id === looking.part);
  return own.length > 0 ? own : all;
});
const rows = computed(() => rowsFor(piece.value?.parts ?? [], front.value, job.target));
const view = computed<View>(() => ({
  fromTick: fromTick.value,
  ticksPerPixel: ticksPerPixel.value,
  width: width.value,
  height: height.value,
  ...rows.value,
  front: front.value,
  faint: (piece.value?.parts ?? []).map((_, i) => i).filter((i) => !front.value.includes(i)),
}));
const part = computed(() => piece.value?.parts[front.value[0] ?? -1] ?? null);
const names = computed(() => {
  const out = new Map<number, string>();
  const parts = front.value.map((i) => piece.value!.parts[i]!);
  if (parts.length > 0 && parts.every((p) => p.channel === 10))
    for (let key = 0; key < 128; key++) if (drumName(key)) out.set(key, drumName(key)!);
  const kit = job.target?.kits?.find((k) => k.id === piece.value?.delivery.metadata?.kit);
  for (const { noteNumber, name } of kit?.keys ?? []) out.set(noteNumber, name);
  const seats = new Set(parts.map((p) => p.seat));
  const seat = job.target?.seats.find((s) => seats.size === 1 && seats.has(s.id));
  if (seat?.kind === 'laneGroup') seat.laneNotes.forEach((k, i) => out.set(k, `lane ${i + 1}`));
  return out;
});
const inks = computed(() => (piece.value?.parts ?? []).map((_, i) => inkOf(i, settings.light)));

// --- the grid ------------------------------------------------------------------------------------
const GRIDS = [
  { label: 'Off the grid', value: 0 },
  { label: '1/4', value: 1 },
  { label: '1/8', value: 2 },
  { label: '1/8 triplets', value: 3 },
  { label: '1/16', value: 4 },
  { label: '1/16 triplets', value: 6 },
  { label: '1/32', value: 8 },
];
/** How many lines a quarter has; 0 is off the grid. */
const divide = ref(0);
const grid = computed(() => (divide.value === 0 ? 0 : quarter.value / divide.value));
const snapped = (tick: number) => {
  const p = piece.value!;
  const bar = p.bars.barStart(p.bars.barAt(Math.max(0, tick)));
  return Math.max(0, Math.round(onGrid(tick, bar, grid.value)));
};

// --- where it stands -----------------------------------------------------------------------------
const span = computed(() => Math.max(1, (width.value - AXIS) * ticksPerPixel.value));
const furthest = computed(() => Math.max(0, (piece.value?.endTick ?? 0) - span.value * 0.5));
const goTo = (tick: number) => (fromTick.value = Math.max(0, Math.min(furthest.value, tick)));
function zoom(by: number, around = AXIS + (width.value - AXIS) / 2) {
  const fixed = fromTick.value + (around - AXIS) * ticksPerPixel.value;
  const all = Math.max(1, piece.value?.endTick ?? 1) / Math.max(1, width.value - AXIS);
  ticksPerPixel.value = Math.max(0.05, Math.min(Math.max(all, 4), ticksPerPixel.value * by));
  goTo(fixed - (around - AXIS) * ticksPerPixel.value);
}
function wheel(event: WheelEvent) {
  if (event.ctrlKey || event.metaKey) zoom(1.0015 ** event.deltaY, event.offsetX);
  else goTo(fromTick.value + (event.deltaX + event.deltaY) * ticksPerPixel.value);
  follows.value = false;
}
/** Four bars are in view at first, with a little before the place that was asked for. */
const BARS_IN_VIEW = 4;
watch([() => hand.at.n, () => width.value > AXIS], ([, wide], before) => {
  const p = piece.value;
  if (!wide || !p) return;
  if (!before[1]) {
    const bars = p.bars.barStart(BARS_IN_VIEW) - p.bars.barStart(0);
    ticksPerPixel.value = bars / (width.value - AXIS);
  }
  goTo(hand.at.tick - span.value * 0.06);
});
watch(
  () => playing.tick,
  () => {
    if (!playing.playing || !follows.value) return;
    const tick = playing.shownTick;
    if (tick < fromTick.value || tick > fromTick.value + span.value * 0.92)
      goTo(tick - span.value * 0.06);
  },
);
watch(
  () => looking.openFinding,
  (finding) => {
    const first = finding?.spans[0];
    if (first && (first.fromTick < fromTick.value || first.fromTick > lastTick(view.value)))
      goTo(first.fromTick - span.value * 0.2);
  },
);

// --- drawing -------------------------------------------------------------------------------------
const sweep = shallowRef<{ left: number; right: number; top: number; bottom: number } | null>(null);
const ghost = shallowRef<{ tick: number; lengthTicks: number; key: number } | null>(null);
let asked = 0;
function paint() {
  asked = 0;
  const c = canvas.value;
  const p = piece.value;
  if (!c || !p || width.value < AXIS + 40 || height.value < 60) return;
  const ratio = window.devicePixelRatio || 1;
  const [w, h] = [Math.round(width.value * ratio), Math.round(height.value * ratio)];
  if (c.width !== w || c.height !== h) [c.width, c.height] = [w, h];
  const context = c.getContext('2d')!;
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  drawCloseUp({
    context,
    view: view.value,
    piece: p,
    inks: inks.value,
    light: settings.light,
    wave: wave.value,
    chosen: looking.outlined,
    pending: looking.chosen.size > 0 ? hand.preview : NOTHING_PENDING,
    grid: grid.value,
    names: names.value,
    sweep: sweep.value,
    drawing: ghost.value,
  });
}
watch(
  [
    view,
    piece,
    inks,
    () => settings.light,
    wave,
    () => looking.outlined,
    () => hand.preview,
    grid,
    sweep,
    ghost,
  ],
  () => (asked ||= requestAnimationFrame(paint)),
  { immediate: true },
);
const playX = computed(() => {
  const x = xAt(view.value, playing.shownTick);
  return x >= AXIS && x <= width.value ? x : null;
});

// --- the pointer ---------------------------------------------------------------------------------
type Grip =
  | { readonly is: 'notes'; readonly hit: Hit; readonly x: number; readonly y: number }
  | { readonly is: 'sweep'; readonly x: number; readonly y: number; readonly more: boolean }
  | { readonly is: 'draw'; readonly tick: number; readonly key: number };
let grip: Grip | null = null;
const cursor = ref('default');

const columnsOf = ({ part: p }: Hit) => piece.value!.parts[p]!.columns;
function choose(hit: Hit, more: boolean) {
  const id = columnsOf(hit).id[hit.index]!;
  if (!more && looking.chosen.has(id)) return;
  const next = new Set(more ? looking.chosen : []);
  if (more && next.has(id)) next.delete(id);
  else next.add(id);
  looking.chosen = next;
}

function down(event: PointerEvent) {
  const p = piece.value;
  if (event.button !== 0 || !p) return;
  canvas.value!.setPointerCapture(event.pointerId);
  const { offsetX: x, offsetY: y } = event;
  const hit = hitAt(view.value, p.parts, x, y);
  const more = event.shiftKey || event.ctrlKey || event.metaKey;
  if (hit) {
    choose(hit, more);
    void playing.hearKeys(p.parts[hit.part]!, [columnsOf(hit).noteNumber[hit.index]!], {
      velocity: columnsOf(hit).velocity[hit.index]!,
    });
    grip = { is: 'notes', hit, x, y };
  } else if (x < AXIS) {
    if (part.value) void playing.hearKeys(part.value, [keyAt(view.value, y)]);
  } else if (y < HEAD) playing.seekShown(Math.max(0, tickAt(view.value, x)));
  else if (drawing.value) {
    grip = { is: 'draw', tick: snapped(tickAt(view.value, x)), key: keyAt(view.value, y) };
    ghost.value = { ...grip, lengthTicks: grid.value || quarter.value / 4 };
  } else grip = { is: 'sweep', x, y, more };
}

function moved(event: PointerEvent) {
  const { offsetX: x, offsetY: y } = event;
  const p = piece.value;
  if (!p) return;
  if (!grip) {
    const hit = hitAt(view.value, p.parts, x, y);
    cursor.value = hit
      ? hit.edge
        ? 'ew-resize'
        : 'grab'
      : drawing.value
        ? 'crosshair'
        : 'default';
    return;
  }
  if (grip.is === 'sweep') {
    if (sweep.value || Math.hypot(x - grip.x, y - grip.y) > 4)
      sweep.value = {
        left: Math.max(AXIS, Math.min(grip.x, x)),
        right: Math.max(grip.x, x),
        top: Math.max(HEAD, Math.min(grip.y, y)),
        bottom: Math.max(grip.y, y),
      };
  } else if (grip.is === 'draw') {
    const to = snapped(tickAt(view.value, x));
    const least = grid.value || 1;
    ghost.value = { ...grip, lengthTicks: Math.max(least, to - grip.tick) };
  } else {
    const start = columnsOf(grip.hit).start[grip.hit.index]!;
    const end = columnsOf(grip.hit).end[grip.hit.index]!;
    const by = (x - grip.x) * ticksPerPixel.value;
    if (Math.hypot(x - grip.x, y - grip.y) < 3 && hand.pending === NOTHING_PENDING) return;
    // Off the grid while Alt is held.
    const settle = (tick: number) => (event.altKey ? Math.round(tick) : snapped(tick));
    hand.pending = grip.hit.edge
      ? { ...NOTHING_PENDING, longerTicks: settle(end + by) - end }
      : {
          ...NOTHING_PENDING,
          ticks: settle(start + by) - start,
          semitones: keyAt(view.value, y) - keyAt(view.value, grip.y),
        };
  }
}

function up() {
  const was = grip;
  grip = null;
  if (was?.is === 'sweep') {
    const box = sweep.value;
    sweep.value = null;
    const found = box && piece.value ? idsIn(view.value, piece.value.parts, box) : [];
    looking.chosen = new Set([...(was.more ? looking.chosen : []), ...found]);
  } else if (was?.is === 'draw') {
    const note = ghost.value;
    ghost.value = null;
    if (note && part.value)
      void hand.draw({
        part: part.value.ref,
        tick: note.tick,
        lengthTicks: Math.round(note.lengthTicks),
        noteNumber: note.key,
        velocity: 90,
      });
  } else if (was?.is === 'notes') void hand.flush();
}
function cancel() {
  grip = null;
  sweep.value = null;
  ghost.value = null;
  hand.pending = NOTHING_PENDING;
}

// --- keys ----------------------------------------------------------------------------------------
/** So many ticks as a time takes where the first chosen note stands; at least one. */
function ticksOf(ms: number): number {
  const p = piece.value!;
  const at = firstChosen.value?.tick ?? 0;
  return Math.max(1, Math.round(p.clock.tickAt(p.clock.msAt(at) + ms) - at));
}
function key(event: KeyboardEvent) {
  if (!piece.value) return;
  const { shiftKey: shift, altKey: alt } = event;
  const ctrl = event.ctrlKey || event.metaKey;
  const step = alt ? ticksOf(shift ? 10 : 1) : grid.value || quarter.value / 4;
  const acts: Record<string, () => void> = {
    ArrowLeft: () => hand.nudge(ctrl ? { longerTicks: -step } : { ticks: -step }),
    ArrowRight: () => hand.nudge(ctrl ? { longerTicks: step } : { ticks: step }),
    ArrowUp: () => hand.nudge(ctrl ? { louder: 4 } : { semitones: shift ? 12 : 1 }),
    ArrowDown: () => hand.nudge(ctrl ? { louder: -4 } : { semitones: shift ? -12 : -1 }),
    Delete: () => void hand.takeOut(),
    Backspace: () => void hand.takeOut(),
    '+': () => zoom(0.7),
    '-': () => zoom(1 / 0.7),
    d: () => (drawing.value = !drawing.value),
    PageDown: () => goTo(fromTick.value + span.value * 0.8),
    PageUp: () => goTo(fromTick.value - span.value * 0.8),
  };
  const act = acts[event.key];
  if (!act || (ctrl && !event.key.startsWith('Arrow'))) return;
  event.preventDefault();
  event.stopPropagation();
  act();
}

// --- what is chosen, in words --------------------------------------------------------------------
const firstChosen = computed(() => {
  let first: { tick: number; key: number } | null = null;
  if (looking.chosen.size === 0) return null;
  for (const { columns } of piece.value?.parts ?? [])
    for (let i = 0; i < columns.count; i++)
      if (looking.chosen.has(columns.id[i]!)) {
        if (!first || columns.start[i]! < first.tick)
          first = { tick: columns.start[i]!, key: columns.noteNumber[i]! };
        break;
      }
  return first;
});
const says = computed(() => {
  const first = firstChosen.value;
  const p = piece.value;
  if (!first || !p) return 'Nothing chosen';
  const place = sayPlace(p.bars.placeAt(first.tick));
  return `${count(looking.chosen.size, 'note')} chosen, the first ${noteName(first.key)} at ${place}`;
});
const keep = (which: 'top' | 'bottom') =>
  (looking.chosen = new Set(endsOfChords(piece.value!.parts, looking.chosen, which)));

// --- its height ----------------------------------------------------------------------------------
const lifted = ref<{ y: number; height: number } | null>(null);
const setHeight = (h: number) => (settings.closeUp = Math.round(Math.max(160, Math.min(560, h))));
useEventListener(window, 'pointermove', (event) => {
  if (lifted.value) setHeight(lifted.value.height + lifted.value.y - event.clientY);
});
useEventListener(window, 'pointerup', () => (lifted.value = null));
</script>

<template>
  <section class="close-up" aria-label="Close-up" :style="{ height: `${settings.closeUp}px` }">
    <div
      class="edge"
      role="separator"
      tabindex="0"
      aria-orientation="horizontal"
      aria-label="Height of the close-up"
      :aria-valuenow="settings.closeUp"
      aria-valuemin="160"
      aria-valuemax="560"
      @pointerdown="lifted = { y: $event.clientY, height: settings.closeUp }"
      @keydown.up.prevent="setHeight(settings.closeUp + 20)"
      @keydown.down.prevent="setHeight(settings.closeUp - 20)"
    ></div>
    <div class="bar">
      <strong class="who">
        <template v-if="front.length === 1 && part">
          <InkSwatch :index="front[0]!" /> {{ part.name }}
        </template>
        <template v-else>All parts</template>
      </strong>
      <NSelect
        v-model:value="divide"
        class="grid"
        size="tiny"
        :options="GRIDS"
        aria-label="Grid of the close-up"
      />
      <button
        class="icon"
        type="button"
        :aria-pressed="drawing"
        :disabled="job.readOnly"
        aria-label="Draw notes"
        title="Draw notes (D)"
        @click="drawing = !drawing"
      >
        <Pencil :size="15" />
      </button>
      <button
        class="icon zoom"
        type="button"
        aria-label="Closer"
        title="Closer (+)"
        @click="zoom(0.7)"
      >
        <Plus :size="15" />
      </button>
      <button
        class="icon zoom"
        type="button"
        aria-label="Further away"
        title="Further away (−)"
        @click="zoom(1 / 0.7)"
      >
        <Minus :size="15" />
      </button>
      <label class="follow" title="Goes with the music">
        <input v-model="follows" type="checkbox" aria-label="Goes with the music" />
        <span>Goes with the music</span>
      </label>
      <span class="says soft" aria-live="polite">{{ hand.problem ?? says }}</span>
      <template v-if="looking.chosen.size > 1">
        <NButton size="tiny" @click="keep('top')">Tops</NButton>
        <NButton size="tiny" @click="keep('bottom')">Bottoms</NButton>
      </template>
      <button
        class="icon"
        type="button"
        :disabled="looking.chosen.size === 0 || job.readOnly"
        aria-label="Take the chosen notes out"
        title="Take the chosen notes out (Delete)"
        @click="hand.takeOut()"
      >
        <Trash2 :size="15" />
      </button>
      <button
        class="icon"
        type="button"
        aria-label="Close the close-up"
        title="Close (C)"
        @click="hand.close()"
      >
        <X :size="16" />
      </button>
    </div>
    <div ref="frame" class="frame">
      <canvas
        ref="canvas"
        tabindex="0"
        role="application"
        aria-roledescription="close-up of the music"
        aria-label="Close-up. Arrow keys move the chosen notes by the grid, with Alt by 1 ms, with Alt and Shift by 10 ms; up and down by semitones, with Shift by octaves; with Ctrl they lengthen, or change the velocity."
        :style="{ cursor }"
        @pointerdown="down"
        @pointermove="moved"
        @pointerup="up"
        @pointercancel="cancel"
        @wheel.prevent="wheel"
        @keydown="key"
      ></canvas>
      <div v-if="playX !== null" class="head" :style="{ left: `${playX}px` }"></div>
    </div>
  </section>
</template>

<style scoped>
.close-up {
  position: relative;
  display: grid;
  grid-template-rows: 32px minmax(0, 1fr);
  container: close-up / inline-size;
  border-top: 1px solid var(--ink-2);
  background: var(--paper);
}

.edge {
  position: absolute;
  top: -4px;
  z-index: 2;
  width: 100%;
  height: 7px;
  cursor: row-resize;
  touch-action: none;
}

.edge:hover {
  background: var(--quill-wash);
}

.bar {
  display: flex;
  gap: 7px;
  align-items: center;
  min-width: 0;
  padding: 0 8px 0 14px;
}

.who {
  display: flex;
  gap: 6px;
  align-items: center;
  max-width: 130px;
  overflow: hidden;
  font-weight: 500;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.grid {
  flex: none;
  width: 118px;
}

.follow {
  display: flex;
  flex: none;
  gap: 5px;
  align-items: center;
}

.says {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

/* In a narrow middle the buttons stay; what is only said gives way. */
@container close-up (width <= 640px) {
  .follow span {
    display: none;
  }
}

@container close-up (width <= 480px) {
  .who,
  .says,
  .zoom {
    display: none;
  }

  .grid {
    width: 96px;
  }
}

.frame {
  position: relative;
  min-height: 0;
  margin: 0 14px 8px;
}

canvas {
  position: absolute;
  width: 100%;
  height: 100%;
  touch-action: none;
}

.head {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 2px;
  background: var(--lamp);
  pointer-events: none;
}
</style>
