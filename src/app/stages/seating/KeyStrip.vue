<script setup lang="ts">
import { scaleLinear, scaleSqrt } from 'd3-scale';
import { computed, ref, useId } from 'vue';
import { noteName } from '../../../core/target/words';
import { useDrawnWidth } from '../../kit/use-drawn-width';

/** A strip of keys with a bar for each that is used: ink where it fits, wax where it does not. */
const props = defineProps<{
  counts: Uint32Array;
  /** A table of 128; null where every key is taken. */
  allowed: readonly boolean[] | null;
  /** What would come beside it. */
  coming?: Uint32Array | null;
  label: string;
  names?: ReadonlyMap<number, string>;
  /** A key before which the strip is parted; it can be dragged. */
  border?: number;
}>();
const emit = defineEmits<{ border: [key: number] }>();

const HEIGHT = 38;
const wide = useDrawnWidth(200, { most: 300 });
const hatch = `hatch-${useId()}`;
const there = (key: number) => props.allowed?.[key] ?? true;

const stretch = computed(() => {
  const used = (key: number) =>
    props.counts[key]! > 0 ||
    (props.coming?.[key] ?? 0) > 0 ||
    (props.allowed !== null && props.allowed[key]!);
  const keys = Array.from({ length: 128 }, (_, k) => k).filter(used);
  const [low, high] = [keys[0] ?? 48, keys.at(-1) ?? 72];
  // At least two octaves, so that a narrow part does not look like a wide one.
  const more = Math.max(2, Math.ceil((24 - (high - low)) / 2));
  return { from: Math.max(0, low - more), to: Math.min(127, high + more) };
});
const x = computed(() =>
  scaleLinear([stretch.value.from, stretch.value.to + 1], [0, wide.value]).clamp(true),
);
const keyWidth = computed(() => x.value(stretch.value.from + 1));
const tall = computed(() => {
  let most = 1;
  for (let k = 0; k < 128; k++) most = Math.max(most, props.counts[k]! + (props.coming?.[k] ?? 0));
  return scaleSqrt([0, most], [0, HEIGHT - 4]);
});
/** Bars as one path a kind: a long list of strips stays light. */
const paths = computed(() => {
  const out = { fits: '', off: '', coming: '', comingOff: '' };
  const bar = Math.max(1.2, keyWidth.value * 0.8);
  for (let key = stretch.value.from; key <= stretch.value.to; key++) {
    const [n, coming] = [props.counts[key]!, props.coming?.[key] ?? 0];
    if (n + coming === 0) continue;
    const left = x.value(key) + keyWidth.value * 0.1;
    const total = tall.value(n + coming);
    const own = tall.value(n);
    const box = (from: number, h: number) => `M${left} ${HEIGHT - from}h${bar}v${h}h${-bar}z`;
    const fits = there(key);
    if (n > 0) out[fits ? 'fits' : 'off'] += box(own, own);
    if (coming > 0) out[fits ? 'coming' : 'comingOff'] += box(total, Math.max(0.6, total - own));
  }
  return out;
});
/** What the bar under the pointer says. */
const tip = ref('');
function point(event: MouseEvent) {
  const { left, width } = (event.currentTarget as SVGElement).getBoundingClientRect();
  const key = Math.floor(x.value.invert(((event.clientX - left) / width) * wide.value));
  const n = (props.counts[key] ?? 0) + (props.coming?.[key] ?? 0);
  const own = props.names?.get(key);
  tip.value = `${noteName(key)} (${key})${own ? `, ${own}` : ''}: ${n}${there(key) ? '' : ', not there'}`;
}
let dragging = false;
function drag(event: PointerEvent) {
  if (props.border === undefined) return;
  const drawn = event.currentTarget as SVGElement;
  if (event.type === 'pointerdown') {
    dragging = true;
    drawn.setPointerCapture(event.pointerId);
  }
  if (!dragging) return;
  const { left, width } = drawn.getBoundingClientRect();
  emit('border', Math.round(x.value.invert(((event.clientX - left) / width) * wide.value)));
}
/** Keys that are not there, in runs. */
const missing = computed(() => {
  const out: { from: number; to: number }[] = [];
  for (let key = stretch.value.from; key <= stretch.value.to; key++) {
    if (there(key)) continue;
    const last = out.at(-1);
    if (last?.to === key) last.to = key + 1;
    else out.push({ from: key, to: key + 1 });
  }
  return out;
});
const OCTAVE_ROOM = 28;
/** Names of octaves; where they would lie on each other, of every second one. */
const octaves = computed(() => {
  const room = x.value(stretch.value.from + 12) - x.value(stretch.value.from);
  const each = room < OCTAVE_ROOM ? 24 : 12;
  return Array.from({ length: 11 }, (_, i) => i * 12).filter(
    (k) => k % each === 0 && k >= stretch.value.from && x.value(k) <= wide.value - 22,
  );
});
</script>

<template>
  <svg
    ref="svg"
    class="strip"
    :viewBox="`0 0 ${wide} ${HEIGHT + 15}`"
    role="img"
    :aria-label="label"
    :class="{ parted: border !== undefined }"
    @mousemove="point"
    @pointerdown="drag"
    @pointermove="drag"
    @pointerup="dragging = false"
    @pointercancel="dragging = false"
  >
    <title>{{ tip }}</title>
    <defs v-if="missing.length > 0">
      <pattern
        :id="hatch"
        width="4"
        height="4"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <rect width="4" height="4" class="ground" />
        <line x1="0" y1="0" x2="0" y2="4" class="line" />
      </pattern>
    </defs>
    <rect class="page" x="0" y="0" :width="wide" :height="HEIGHT" />
    <rect
      v-for="m in missing"
      :key="m.from"
      :x="x(m.from)"
      y="0"
      :width="x(m.to) - x(m.from)"
      :height="HEIGHT"
      :fill="`url(#${hatch})`"
    />
    <path class="fits" :d="paths.fits" />
    <path class="off" :d="paths.off" />
    <path class="coming" :d="paths.coming" />
    <path class="coming off" :d="paths.comingOff" />
    <line class="foot" x1="0" :x2="wide" :y1="HEIGHT" :y2="HEIGHT" />
    <line
      v-if="border !== undefined"
      class="border"
      :x1="x(border)"
      :x2="x(border)"
      y1="0"
      :y2="HEIGHT"
    />
    <g v-for="k in octaves" :key="k">
      <line class="foot" :x1="x(k)" :x2="x(k)" :y1="HEIGHT" :y2="HEIGHT + 3" />
      <text :x="x(k) + 2" :y="HEIGHT + 13">{{ noteName(k) }}</text>
    </g>
  </svg>
</template>

<style scoped>
.strip {
  display: block;
  width: 100%;
  max-width: 300px;
  height: 53px;
}

.page {
  fill: var(--page);
}

.ground {
  fill: var(--hatch-ground);
}

.line {
  stroke: var(--hatch);
  stroke-width: 1.2;
}

.fits {
  fill: var(--ink);
}

.off {
  fill: var(--wax);
}

.coming {
  fill: var(--page);
  stroke: var(--ink);
  stroke-width: 0.8;
}

.coming.off {
  fill: var(--page);
  stroke: var(--wax);
}

.parted {
  cursor: col-resize;
  touch-action: none;
}

.border {
  stroke: var(--lamp);
  stroke-width: 1.6;
}

.foot {
  stroke: var(--ink-2);
  stroke-width: 0.6;
}

text {
  fill: var(--ink-2);
  font: 12px var(--sans);
}
</style>
