<script setup lang="ts">
import { useElementSize, useEventListener } from '@vueuse/core';
import { computed, ref, watchEffect } from 'vue';
import { count } from '../../../core/target/words';
import { inkOf } from '../../sheet/inks';
import { firstReaching } from '../../sheet/layout';
import { drawWave, scaleFor } from '../../sheet/wave';
import type { LaidPiece } from '../../stores/job';
import { usePlaying } from '../../stores/playing';
import { useRecording } from '../../stores/recording';
import { useSettings } from '../../stores/settings';

/** The score above, the wave below it: the wave is dragged to where it belongs. */
const props = defineProps<{ piece: LaidPiece }>();
const recording = useRecording();
const settings = useSettings();
const playing = usePlaying();
const canvas = ref<HTMLCanvasElement>();
const { width } = useElementSize(canvas);
const HEIGHT = 92;
const NOTES = 40;
const SHORTEST_MS = 400;
const LONGEST_MS = 40_000;

const spanMs = ref(6000);
/** Where it was begun to look: at the first note, or where the playhead was put. */
const startMs = ref(0);
/** How much later the wave was dragged; below 0 earlier. */
const later = ref(0);
const msPerPixel = computed(() => spanMs.value / Math.max(1, width.value));

function toStart(ms: number) {
  startMs.value = Math.max(0, ms - spanMs.value * 0.25);
}
const first = props.piece.firstTick;
toStart(first === null ? 0 : props.piece.clock.msAt(first));
useEventListener(window, 'pointerup', () => (held = null));

watchEffect(() => {
  const c = canvas.value?.getContext('2d');
  const heard = recording.listened;
  if (!c || !heard || width.value < 10) return;
  const ratio = window.devicePixelRatio;
  canvas.value!.width = Math.round(width.value * ratio);
  canvas.value!.height = Math.round(HEIGHT * ratio);
  c.scale(ratio, ratio);
  const style = getComputedStyle(canvas.value!);
  const { clock, parts, bars, endTick } = props.piece;
  const from = startMs.value;
  const x = (ms: number) => (ms - from) / msPerPixel.value;
  const [fromTick, toTick] = [clock.tickAt(from), clock.tickAt(from + spanMs.value)];
  c.fillStyle = style.getPropertyValue('--line');
  const lastBar = Math.min(bars.barAt(toTick) + 1, bars.barCount(endTick));
  for (let bar = bars.barAt(fromTick); bar <= lastBar; bar++)
    c.fillRect(Math.round(x(clock.msAt(bars.barStart(bar)))), 0, 1, HEIGHT);
  const keys = parts.flatMap((p) => (p.leftOut ? [] : [p.lowest ?? 60, p.highest ?? 60]));
  const [low, high] = [Math.min(...keys, 60) - 1, Math.max(...keys, 61) + 1];
  parts.forEach((part, p) => {
    if (part.leftOut) return;
    c.fillStyle = inkOf(p, settings.light).colour;
    const { columns } = part;
    for (let i = firstReaching(part, fromTick); i < columns.count; i++) {
      if (columns.start[i]! > toTick) break;
      const left = x(clock.msAt(columns.start[i]!));
      const right = x(clock.msAt(columns.end[i]!));
      const y = 4 + ((high - columns.noteNumber[i]!) / (high - low)) * (NOTES - 8);
      c.fillRect(left, y, Math.max(2, right - left - 1), 3);
    }
  });
  drawWave(
    c,
    { peaks: heard.peaks, layout: recording.layout, scale: scaleFor(heard.facts.peak) },
    {
      left: 0,
      right: width.value,
      top: NOTES,
      height: HEIGHT - NOTES,
      msAt: (at) => from + at * msPerPixel.value - later.value,
    },
    style.getPropertyValue('--ink-2'),
  );
});

let held: { x: number; later: number } | null = null;
function take(event: PointerEvent) {
  if (event.button !== 0) return;
  canvas.value?.setPointerCapture(event.pointerId);
  held = { x: event.clientX, later: later.value };
}
function drag(event: PointerEvent) {
  if (held) later.value = Math.round(held.later + (event.clientX - held.x) * msPerPixel.value);
}
function zoom(event: WheelEvent) {
  const at = event.offsetX * msPerPixel.value;
  const next = Math.max(SHORTEST_MS, Math.min(LONGEST_MS, spanMs.value * 1.0015 ** event.deltaY));
  startMs.value = Math.max(0, startMs.value + at - (at * next) / spanMs.value);
  spanMs.value = next;
}
function press(event: KeyboardEvent) {
  const step = event.shiftKey ? 50 : 5;
  if (event.key === 'ArrowLeft') later.value -= step;
  else if (event.key === 'ArrowRight') later.value += step;
  else if (event.key === 'Escape' && later.value !== 0) later.value = 0;
  else if (event.key === '+') spanMs.value = Math.max(SHORTEST_MS, spanMs.value / 1.5);
  else if (event.key === '-') spanMs.value = Math.min(LONGEST_MS, spanMs.value * 1.5);
  else return;
  event.preventDefault();
  event.stopPropagation();
}
const says = computed(() =>
  later.value === 0
    ? 'Drag the wave to where it belongs under the notes.'
    : `The wave ${count(Math.abs(later.value), 'millisecond')} ${later.value > 0 ? 'later' : 'earlier'}:`,
);
// A way that was taken moved the one or the other: what was dragged is done.
watchEffect(() => {
  void props.piece;
  void recording.layout;
  later.value = 0;
});
</script>

<template>
  <div class="strip">
    <canvas
      ref="canvas"
      role="slider"
      tabindex="0"
      aria-label="The wave under the notes"
      :aria-valuemin="-60000"
      :aria-valuemax="60000"
      :aria-valuenow="later"
      :aria-valuetext="says"
      :style="{ height: `${HEIGHT}px` }"
      @pointerdown="take"
      @pointermove="drag"
      @wheel.prevent="zoom"
      @keydown="press"
    />
    <p class="soft small">
      {{ says }}
      <button class="plain" type="button" @click="toStart(playing.nowMs())">To the playhead</button>
    </p>
    <slot :later="later" />
  </div>
</template>

<style scoped>
.strip {
  margin-top: 4px;
}

canvas {
  display: block;
  width: 100%;
  border-radius: 5px;
  background: var(--page);
  cursor: ew-resize;
  touch-action: none;
}

.small {
  margin: 3px 0;
  font-size: 12px;
}

.plain {
  margin-left: 8px;
  color: var(--quill);
}
</style>
