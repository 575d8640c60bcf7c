<script setup lang="ts">
import { scaleLinear } from 'd3-scale';
import { useElementSize } from '@vueuse/core';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { frames } from '../kit/frame-queue';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { usePlaying } from '../stores/playing';
import { useSettings } from '../stores/settings';
import { count } from '../../core/target/words';
import { SHEET_COLOURS } from '../sheet/inks';
import { densityOf } from './density';

/** The whole song on one strip: density, findings, loop and place, by clock time. */
const job = useJob();
const looking = useLooking();
const playing = usePlaying();
const settings = useSettings();
const box = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const { width } = useElementSize(box);
const HEIGHT = 42;
const BAR_PX = 4;

const piece = computed(() => looking.piece);
const endMs = computed(() => Math.max(1, piece.value?.clock.msAt(piece.value.endTick) ?? 1));
const x = computed(() => scaleLinear([0, endMs.value], [0, width.value]));
const shift = computed(() => {
  const shown = job.shown;
  if (!shown || piece.value === playing.piece) return 0;
  return piece.value === shown.source ? -shown.commonShiftMs : shown.commonShiftMs;
});

function draw() {
  const element = canvas.value;
  const context = element?.getContext('2d');
  const p = piece.value;
  if (!element || !context || !p || width.value < 10) return;
  const ratio = window.devicePixelRatio || 1;
  element.width = Math.round(width.value * ratio);
  element.height = Math.round(HEIGHT * ratio);
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, width.value, HEIGHT);
  const counts = densityOf(p, Math.max(1, Math.floor(width.value / BAR_PX)));
  const most = Math.max(1, ...counts);
  context.fillStyle = SHEET_COLOURS[settings.light].ink2;
  context.globalAlpha = 0.5;
  const y = scaleLinear([0, most], [0, HEIGHT - 14]);
  counts.forEach((n, i) => {
    if (n > 0) context.fillRect(i * BAR_PX, HEIGHT - y(n), BAR_PX - 1, y(n));
  });
  context.globalAlpha = 1;
}
const me = {};
const ask = () => frames.add(me, draw);
onMounted(ask);
onBeforeUnmount(() => frames.drop(me));
watch([piece, width, () => settings.light], ask);

const MOST_MARKS = 300;
const marks = computed(() => {
  const p = piece.value;
  if (!p || looking.before) return [];
  return job.findingsHere
    .filter((f) => f.spans.length > 0 && f.reason === null)
    .slice(0, MOST_MARKS)
    .map((f) => ({
      key: f.key,
      severity: f.severity,
      x: x.value(p.clock.msAt(f.spans[0]!.fromTick)),
    }));
});

const place = computed(() => {
  const p = piece.value;
  return p ? `bar ${p.bars.barAt(playing.shownTick) + 1}` : '';
});

/** Bar by bar with the arrows, eight bars with Page Up and Page Down. */
function walk(event: KeyboardEvent) {
  const p = piece.value;
  if (!p) return;
  const here = p.bars.barAt(playing.shownTick);
  const last = p.bars.barCount(p.endTick) - 1;
  const to = {
    ArrowLeft: here - 1,
    ArrowDown: here - 1,
    ArrowRight: here + 1,
    ArrowUp: here + 1,
    PageDown: here - 8,
    PageUp: here + 8,
    Home: 0,
    End: last,
  }[event.key];
  if (to === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  const tick = p.bars.barStart(Math.max(0, Math.min(last, to)));
  playing.seekShown(tick);
  looking.bring(tick);
}

function seek(event: PointerEvent) {
  const p = piece.value;
  if (!p || !box.value) return;
  const left = box.value.getBoundingClientRect().left;
  const tick = p.clock.tickAt(x.value.invert(event.clientX - left));
  playing.seekShown(tick);
  looking.bring(tick);
}
</script>

<template>
  <div
    ref="box"
    class="overview"
    role="slider"
    tabindex="0"
    aria-label="Place in the song"
    :aria-valuemin="0"
    :aria-valuemax="Math.round(endMs)"
    :aria-valuenow="Math.round(Math.max(0, playing.ms + shift))"
    :aria-valuetext="`${place}; ${count(job.findings.length, 'finding')} in the song`"
    @pointerdown="seek"
    @keydown="walk"
  >
    <canvas ref="canvas" :style="{ width: `${width}px`, height: `${HEIGHT}px` }"></canvas>
    <span
      v-if="playing.loop"
      class="loop"
      :style="{
        left: `${x(playing.loop.fromMs + shift)}px`,
        width: `${x(playing.loop.toMs) - x(playing.loop.fromMs)}px`,
      }"
    ></span>
    <span
      v-for="m in marks"
      :key="m.key"
      class="tick"
      :class="m.severity"
      :style="{ transform: `translateX(${m.x}px)` }"
    ></span>
    <span class="now" :style="{ transform: `translateX(${x(playing.ms + shift)}px)` }"></span>
  </div>
</template>

<style scoped>
.overview {
  position: relative;
  height: 44px;
  overflow: hidden;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
  cursor: pointer;
}

canvas {
  display: block;
}

.tick {
  position: absolute;
  top: 2px;
  left: -4px;
  border: 4px solid transparent;
  border-top: 0;
  border-bottom: 6px solid var(--ink-2);
}

.tick.stop {
  border-bottom-color: var(--wax);
}

/* Told apart by shape too: a stop is a triangle, a caution a square on its corner, a remark a stroke. */
.tick.caution {
  width: 8px;
  height: 8px;
  border: 0;
  background: var(--ochre-text);
  clip-path: polygon(50% 0, 100% 50%, 50% 100%, 0 50%);
}

.tick.remark {
  left: -1px;
  width: 2px;
  height: 7px;
  border: 0;
  background: var(--ink-2);
}

.now {
  position: absolute;
  top: 0;
  bottom: 0;
  left: -1px;
  width: 2px;
  background: var(--lamp);
}

.loop {
  position: absolute;
  top: 0;
  bottom: 0;
  background: color-mix(in srgb, var(--gold) 34%, transparent);
}
</style>
