<script setup lang="ts">
import { useElementSize, useEventListener } from '@vueuse/core';
import { computed, markRaw, ref, watch } from 'vue';
import { editedTime } from '../../core/sound/edits';
import { hearsCurves } from '../../core/target/hearing';
import { contentOf } from '../../core/wire/content';
import { drumName } from '../../core/seating/drum-kinds';
import { count, noteName } from '../../core/target/words';
import { ticksPerQuarterOf } from '../../core/score/score';
import { sayPlace } from '../../core/time/meter-map';
import { inkOf } from '../sheet/inks';
import { scaleFor } from '../sheet/wave';
import { useHand } from '../stores/hand';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { useRecording } from '../stores/recording';
import { usePlaying } from '../stores/playing';
import { useSettings } from '../stores/settings';
import { drawCloseUp, NOTHING_PENDING } from './draw';
import CloseUpBar from './CloseUpBar.vue';
import CurveLanes from './CurveLanes.vue';
import { useCloseUpPointer } from './use-close-up-pointer';
import { useStripView } from './use-strip-view';
import { AXIS, endsOfChords, onGrid, rowsFor, xAt, type View } from './geometry';

/** One continuous strip at full height: real pitches, lengths, velocities, changed by hand. */
const NO_BEATS = new Float64Array(0);
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

/** Where its beats are after all that was done to it. */
const beatsMs = computed(() => {
  const { listened, shownLayout } = recording;
  const found = listened?.facts.beat;
  if (!found) return NO_BEATS;
  return Float64Array.from(
    [...found.ms].flatMap((ms) => {
      const us = editedTime(shownLayout, ms * 1000);
      return us === null ? [] : [us / 1000];
    }),
  );
});

const frame = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const under = ref<HTMLElement>();
const { width: notesWidth, height } = useElementSize(frame);
const { width: lanesWidth } = useElementSize(under);
/** Notes and curves lie under each other: one width for both, also where only one is there. */
const width = computed(() => Math.max(notesWidth.value, lanesWidth.value));
const piece = computed(() => job.shown?.delivered ?? null);
const quarter = computed(() => (piece.value ? ticksPerQuarterOf(piece.value.division) : 480));

const { fromTick, ticksPerPixel, follows, span, goTo, zoom, wheel } = useStripView({
  piece,
  width,
});
const drawing = ref(false);

// --- what is in front ----------------------------------------------------------------------------
const front = computed(() => {
  const parts = piece.value?.parts ?? [];
  const has = contentOf(parts, job.target);
  const all = parts.map((_, i) => i).filter((i) => !parts[i]!.leftOut && has(parts[i]!));
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
/** Of several parts in front the one that has curves; what has nothing else has all the room. */
const turned = computed(() => {
  const own = front.value.find((i) => (piece.value?.parts[i]?.turns?.curves.length ?? 0) > 0);
  return own === undefined ? null : own;
});
/** Shown from the start where the target listens to them, or where there is nothing else. */
const askedFor = ref<boolean | null>(null);
const curvesOpen = computed({
  get: () => askedFor.value ?? ((job.target && hearsCurves(job.target)) || !hasNotes.value),
  set: (on) => (askedFor.value = on),
});
const lane = computed(() => (curvesOpen.value ? turned.value : null));
const hasNotes = computed(() =>
  front.value.some((i) => (piece.value?.parts[i]?.columns.count ?? 0) > 0),
);
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
/** How many lines a quarter has; 0 is off the grid. */
const divide = ref(0);
const grid = computed(() => (divide.value === 0 ? 0 : quarter.value / divide.value));
const snapped = (tick: number) => {
  const p = piece.value!;
  const bar = p.bars.barStart(p.bars.barAt(Math.max(0, tick)));
  return Math.max(0, Math.round(onGrid(tick, bar, grid.value)));
};

const { sweep, ghost, cursor, down, moved, up, cancel } = useCloseUpPointer({
  canvas,
  piece,
  view,
  part,
  drawing,
  grid,
  quarter,
  snapped,
});

// --- drawing -------------------------------------------------------------------------------------
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
    beatsMs: beatsMs.value,
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
    beatsMs,
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
    x: () => void (hand.turnable && hand.turn()),
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
    <CloseUpBar
      v-model:divide="divide"
      v-model:drawing="drawing"
      v-model:follows="follows"
      v-model:curves="curvesOpen"
      :has-curves="turned !== null"
      :part="front.length === 1 ? part : null"
      :ink="front[0] ?? 0"
      :says="hand.problem ?? says"
      @zoom="zoom"
      @keep="keep"
    />
    <div class="strips" :class="{ notes: hasNotes, curves: lane !== null }">
      <div v-show="hasNotes || lane === null" ref="frame" class="frame">
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
      <div v-if="lane !== null && piece" ref="under" class="frame">
        <CurveLanes
          class="lanes"
          :piece="piece"
          :part="piece.parts[lane]!"
          :ink="inks[lane]!"
          :from-tick="fromTick"
          :ticks-per-pixel="ticksPerPixel"
          :drawing="drawing"
          :grid="grid"
          @wheel="wheel"
          @pencil="drawing = !drawing"
        />
        <div v-if="playX !== null" class="head" :style="{ left: `${playX}px` }"></div>
      </div>
    </div>
  </section>
</template>

<style scoped>
.close-up {
  position: relative;
  display: grid;
  grid-template-rows: 32px minmax(0, 1fr);
  grid-template-columns: minmax(0, 1fr);
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

.strips {
  display: grid;
  grid-template-rows: minmax(0, 1fr);
  grid-template-columns: minmax(0, 1fr);
  min-height: 0;
}

.strips.notes.curves {
  grid-template-rows: minmax(0, 1.4fr) minmax(0, 1fr);
}

.frame {
  position: relative;
  min-height: 0;
  margin: 0 14px 8px;
}

.lanes {
  height: 100%;
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
