<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, ref, shallowRef, watch } from 'vue';
import type { CurveBlock } from '../../core/target/curve-schema';
import { count } from '../../core/target/words';
import { sayPlace } from '../../core/time/meter-map';
import type { CurveView } from '../../core/wire/view';
import { SHEET_COLOURS, type Ink } from '../sheet/inks';
import {
  copyPoints,
  fullOf,
  movePoints,
  pastePoints,
  pointsIn,
  putPoint,
  rampBetween,
  strokeOf,
  takePoints,
  type CopiedPoints,
  type CurvePoint,
} from '../stores/curve-edit';
import { useCurveHand } from '../stores/curve-hand';
import { useJob, type LaidPiece } from '../stores/job';
import { usePlaying } from '../stores/playing';
import { useSettings } from '../stores/settings';
import type { Thinned } from '../../core/steps/curves/thinned';
import { drawLane, laneTick, laneValue, pointAt, type LaneView } from './draw-lane';

/** One curve under the notes: its points chosen, swept, moved, drawn and taken out by hand. */
const props = defineProps<{
  piece: LaidPiece;
  part: LaidPiece['parts'][number];
  curve: CurveView;
  name: string;
  /** What the target says of it; null where it says nothing. */
  block: CurveBlock | null;
  blockIndex: number;
  ink: Ink;
  fromTick: number;
  ticksPerPixel: number;
  drawing: boolean;
  grid: number;
  /** The curve as it would be thinned, and how far it may stand from what it is. */
  thinned: Thinned | null;
}>();
const emit = defineEmits<{ wheel: [event: WheelEvent]; pencil: [] }>();
const job = useJob();
const settings = useSettings();
const hand = useCurveHand();
const playing = usePlaying();
const frame = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const { width, height } = useElementSize(frame);
const chosen = shallowRef<ReadonlySet<number>>(new Set());
/** Where the chosen points were put: they stay chosen when the curve is shown anew. */
let wanted: readonly CurvePoint[] = [];
// Indices are those of the curve that is shown: another has others.
watch(
  () => props.curve,
  ({ tick, value }) => {
    const places = new Set(wanted.map((p) => `${p.tick} ${p.value}`));
    const found = new Set<number>();
    if (places.size > 0)
      for (const [i, t] of tick.entries()) if (places.has(`${t} ${value[i]}`)) found.add(i);
    chosen.value = found;
    wanted = [];
  },
);
const view = computed<LaneView>(() => ({
  fromTick: props.fromTick,
  ticksPerPixel: props.ticksPerPixel,
  width: width.value,
  height: height.value,
}));
const full = computed(() => fullOf(props.curve.kind));
const range = computed(() => {
  const { lowest = 0, highest = full.value } = props.block ?? {};
  return props.block && (lowest > 0 || highest < full.value) ? { lowest, highest } : null;
});
const spans = computed(() =>
  job.findings
    .filter((f) => f.reason === null && f.key.endsWith(`/*/${props.blockIndex}`))
    .flatMap((f) => f.spans),
);
const bars = computed(() => {
  const { bars: map } = props.piece;
  const until = laneTick(view.value, width.value);
  const out: { tick: number; bar: number }[] = [];
  for (let bar = map.barAt(props.fromTick); out.length < 400; bar++) {
    const tick = map.barStart(bar);
    if (tick > until) break;
    out.push({ tick, bar: bar + 1 });
  }
  return out;
});
/** Ticks of one value at the rate that the target takes. */
const slot = computed(() => {
  const { clock } = props.piece;
  const rate = props.block?.perSecond ?? 40;
  const at = clock.msAt(props.fromTick);
  return Math.max(1, Math.ceil(clock.tickAt(at + 1000 / rate) - props.fromTick));
});

// --- the pointer ---------------------------------------------------------------------------------
interface Held {
  readonly x: number;
  readonly y: number;
  readonly how: 'move' | 'sweep' | 'stroke';
}
const grip = shallowRef<Held | null>(null);
const by = shallowRef({ ticks: 0, value: 0 });
const stroke = shallowRef<readonly CurvePoint[]>([]);
const sweep = shallowRef<{ left: number; right: number; top: number; bottom: number } | null>(null);
const place = (event: PointerEvent): CurvePoint => ({
  tick: laneTick(view.value, event.offsetX),
  value: laneValue(view.value, event.offsetY, props.curve.kind),
});
const put = (edit: Parameters<typeof hand.put>[3], did: string) =>
  hand.put(props.part.ref, props.curve.kind, props.curve.number, edit, did);

function down(event: PointerEvent) {
  if (event.button !== 0) return;
  canvas.value?.setPointerCapture(event.pointerId);
  const { offsetX: x, offsetY: y } = event;
  if (props.drawing && !job.readOnly) {
    stroke.value = [place(event)];
    grip.value = { x, y, how: 'stroke' };
    return;
  }
  const hit = pointAt(view.value, props.curve, x, y);
  if (hit === null) {
    if (!event.shiftKey) chosen.value = new Set();
    grip.value = { x, y, how: 'sweep' };
    return;
  }
  if (!chosen.value.has(hit))
    chosen.value = new Set(event.shiftKey ? [...chosen.value, hit] : [hit]);
  grip.value = { x, y, how: 'move' };
}
function moved(event: PointerEvent) {
  const g = grip.value;
  if (!g) return;
  const { offsetX: x, offsetY: y } = event;
  if (g.how === 'stroke') stroke.value = [...stroke.value, place(event)];
  else if (g.how === 'sweep')
    sweep.value = {
      left: Math.min(g.x, x),
      right: Math.max(g.x, x),
      top: Math.min(g.y, y),
      bottom: Math.max(g.y, y),
    };
  else if (!job.readOnly) {
    const ticks = Math.round((x - g.x) * props.ticksPerPixel);
    const room = Math.max(1, height.value - 10);
    by.value = {
      ticks: props.grid > 0 && !event.altKey ? Math.round(ticks / props.grid) * props.grid : ticks,
      value: Math.round(((g.y - y) / room) * full.value),
    };
  }
}
function up() {
  const g = grip.value;
  grip.value = null;
  const { curve } = props;
  if (g?.how === 'stroke') {
    put(strokeOf(curve.kind, stroke.value, slot.value), `${props.name} drawn by hand`);
    stroke.value = [];
  } else if (g?.how === 'sweep' && sweep.value) {
    const { left, right, top, bottom } = sweep.value;
    const v = view.value;
    const low = laneValue(v, bottom, curve.kind);
    const high = laneValue(v, top, curve.kind);
    const found = pointsIn(curve, laneTick(v, left), laneTick(v, right), low, high);
    chosen.value = new Set([...chosen.value, ...found]);
  } else if (g?.how === 'move') move(by.value.ticks, by.value.value);
  sweep.value = null;
  by.value = { ticks: 0, value: 0 };
}
function cancel() {
  grip.value = null;
  sweep.value = null;
  stroke.value = [];
  by.value = { ticks: 0, value: 0 };
}
/** One more where nothing is, at a double click. */
function twice(event: MouseEvent) {
  if (job.readOnly || props.drawing) return;
  const { offsetX: x, offsetY: y } = event;
  if (pointAt(view.value, props.curve, x, y) !== null) return;
  const { kind } = props.curve;
  const tick = laneTick(view.value, x);
  put(putPoint(kind, tick, laneValue(view.value, y, kind)), `A value of ${props.name}`);
}
function move(ticks: number, value: number) {
  if (ticks === 0 && value === 0) return;
  const { curve } = props;
  const n = chosen.value.size;
  wanted = elsewhere(ticks, value);
  put(
    movePoints(curve, curve.kind, chosen.value, ticks, value),
    `${count(n, 'value')} of ${props.name} moved`,
  );
}

// --- keys ----------------------------------------------------------------------------------------
function key(event: KeyboardEvent) {
  const step = event.shiftKey ? 10 : 1;
  const ticks = event.altKey ? 1 : props.grid || slot.value;
  const { curve } = props;
  const acts: Record<string, () => void> = {
    ArrowLeft: () => move(-ticks, 0),
    ArrowRight: () => move(ticks, 0),
    ArrowUp: () => move(0, curve.kind === 0xe0 ? step * 64 : step),
    ArrowDown: () => move(0, curve.kind === 0xe0 ? -step * 64 : -step),
    Delete: () =>
      put(
        takePoints(curve, chosen.value),
        `${count(chosen.value.size, 'value')} of ${props.name} taken out`,
      ),
    r: () =>
      put(rampBetween(curve, curve.kind, chosen.value, slot.value), `A ramp of ${props.name}`),
    d: () => emit('pencil'),
    a: () => (chosen.value = new Set(curve.tick.keys())),
    Escape: () => (chosen.value = new Set()),
    Home: () => choose(0),
    '.': () => choose(next(1)),
    ',': () => choose(next(-1)),
  };
  acts['Backspace'] = acts['Delete']!;
  if ((event.ctrlKey || event.metaKey) && !event.altKey) return carry(event);
  const act = acts[event.key];
  if (!act || event.ctrlKey || event.metaKey || job.readOnly) return;
  event.preventDefault();
  event.stopPropagation();
  act();
}
/** Copied with Ctrl C, put at the playhead with Ctrl V; Ctrl D puts them again right behind. */
function carry(event: KeyboardEvent) {
  const { curve } = props;
  const copying = { points: copyPoints(curve, chosen.value), full: full.value };
  const some = copying.points.length;
  const n = count(hand.copied?.points.length ?? 0, 'value');
  const acts: Record<string, () => void> = {
    c: () => some > 0 && (hand.copied = copying),
    v: () =>
      hand.copied &&
      lay(hand.copied, Math.round(playing.shownTick), `${n} of ${props.name} put here`),
    d: () => {
      if (some === 0) return;
      // As many as a curve may have: more than can be spread in a call.
      let last = 0;
      for (const i of chosen.value) last = Math.max(last, curve.tick[i]!);
      lay(copying, last + slot.value, `${count(some, 'value')} of ${props.name} again`);
    },
  };
  const act = acts[event.key];
  if (!act || (job.readOnly && event.key !== 'c')) return;
  event.preventDefault();
  event.stopPropagation();
  act();
}
function lay(points: CopiedPoints, tick: number, did: string) {
  const edit = pastePoints(props.curve.kind, points, tick);
  wanted = edit?.points ?? [];
  put(edit, did);
}
function next(way: 1 | -1): number {
  const all = [...chosen.value].sort((a, b) => a - b);
  const at = way > 0 ? all.at(-1) : all[0];
  return at === undefined ? 0 : at + way;
}
function choose(i: number) {
  if (i >= 0 && i < props.curve.tick.length) chosen.value = new Set([i]);
}

/** The chosen points where the hand has them. */
function elsewhere(ticks: number, value: number): CurvePoint[] {
  return [...chosen.value].map((i) => ({
    tick: Math.max(0, props.curve.tick[i]! + ticks),
    value: Math.max(0, Math.min(full.value, props.curve.value[i]! + value)),
  }));
}
const held = computed((): CurvePoint[] => {
  const { ticks, value } = by.value;
  const isHeld = grip.value?.how === 'move' && (ticks !== 0 || value !== 0);
  return isHeld ? elsewhere(ticks, value) : [];
});
const says = computed(() => {
  const { tick, value } = props.curve;
  const [first] = [...chosen.value].sort((a, b) => a - b);
  if (first === undefined || tick[first] === undefined)
    return `${count(tick.length, 'value')}, none chosen`;
  const at = sayPlace(props.piece.bars.placeAt(tick[first]!));
  return `${count(chosen.value.size, 'value')} chosen, the first ${value[first]} at ${at}`;
});

let asked = 0;
function paint() {
  asked = 0;
  const c = canvas.value;
  if (!c || width.value < 120 || height.value < 20) return;
  const ratio = window.devicePixelRatio || 1;
  const [w, h] = [Math.round(width.value * ratio), Math.round(height.value * ratio)];
  if (c.width !== w || c.height !== h) [c.width, c.height] = [w, h];
  const context = c.getContext('2d')!;
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  drawLane({
    context,
    view: view.value,
    curve: props.curve,
    name: props.name,
    ink: props.part.leftOut ? SHEET_COLOURS[settings.light].faint : props.ink.colour,
    light: settings.light,
    bars: bars.value,
    range: range.value,
    spans: spans.value,
    chosen: chosen.value,
    held: held.value,
    stroke: stroke.value,
    sweep: sweep.value,
    thinned: props.thinned,
  });
}
watch(
  [
    view,
    () => props.curve,
    () => props.thinned,
    bars,
    spans,
    chosen,
    held,
    stroke,
    sweep,
    () => settings.light,
  ],
  () => (asked ||= requestAnimationFrame(paint)),
  { immediate: true },
);
</script>

<template>
  <div ref="frame" class="lane">
    <canvas
      ref="canvas"
      tabindex="0"
      role="application"
      aria-roledescription="lane of a curve"
      :aria-label="`${name}: ${says}. Comma and full stop choose a value, arrow keys move what is chosen. R draws a ramp, Delete takes it out. Ctrl C and V copy to the playhead, Ctrl D repeats.`"
      :style="{ cursor: drawing ? 'crosshair' : 'default' }"
      @pointerdown="down"
      @pointermove="moved"
      @pointerup="up"
      @pointercancel="cancel"
      @dblclick="twice"
      @wheel.prevent="emit('wheel', $event)"
      @keydown="key"
    ></canvas>
  </div>
</template>

<style scoped>
.lane {
  position: relative;
  min-height: 44px;
}

canvas {
  position: absolute;
  width: 100%;
  height: 100%;
  touch-action: none;
}
</style>
