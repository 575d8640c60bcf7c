<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { ticks } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { curveMonotoneX, line } from 'd3-shape';
import { computed, ref } from 'vue';
import { sayClock } from '../../../core/time/meter-map';
import { useInTurn } from '../../kit/use-in-turn';
import { sayDrift, sayOff } from './say-drift';

/** How far two that should go together are apart, over the song. */
export interface DriftPoint {
  readonly ms: number;
  /** Milliseconds; above 0 the other is later than the score. */
  readonly off: number;
  readonly anchor?: boolean;
  /** An anchor that does not count. */
  readonly out?: boolean;
}
const props = defineProps<{
  points: readonly DriftPoint[];
  endMs: number;
  /** What the target lets pass, in milliseconds, either way. */
  within: number;
  nowMs: number;
  /** What is later above the line and earlier below it. */
  what: string;
}>();
const emit = defineEmits<{ go: [ms: number] }>();

const HEIGHT = 136;
const PAD = { left: 46, right: 8, top: 10, bottom: 20 };
const MOST_DOTS = 800;
const JUMP_MS = 250;
const JUMP_SHARE = 0.3;
const frame = ref<HTMLElement>();
/** It is drawn in a frame of its own, once it is known how wide it is. */
const stands = useInTurn();
const { width } = useElementSize(frame);
const hover = ref<DriftPoint | null>(null);

const x = computed(() =>
  scaleLinear([0, Math.max(1, props.endMs)], [PAD.left, Math.max(80, width.value - PAD.right)]),
);
/** The band is always in it, and all but what is far off: that is drawn at the edge. */
const reach = computed((): [number, number] => {
  const offs = Float64Array.from(props.points, (p) => p.off).sort();
  const at = (share: number) => offs[Math.round((offs.length - 1) * share)] ?? 0;
  const room = Math.max(props.within * 2, (at(0.99) - at(0.01)) * 0.12);
  return [
    Math.min(-props.within * 2, at(0.01) - room),
    Math.max(props.within * 2, at(0.99) + room),
  ];
});
const y = computed(() => scaleLinear(reach.value, [HEIGHT - PAD.bottom, PAD.top]).clamp(true));
const sorted = computed(() => [...props.points].sort((a, b) => a.ms - b.ms));
/** Of a drift that is far from nothing and flat, where it lies is marked beside nothing itself. */
const marks = computed(() => {
  const even = ticks(...reach.value, 4);
  const offs = sorted.value.map((p) => p.off);
  const middle = offs[offs.length >> 1];
  const flat = offs.length > 0 && Math.abs(offs.at(-1)! - offs[0]!) <= Math.max(2, props.within);
  if (middle === undefined || !flat || Math.abs(middle) < props.within * 4) return even;
  const room = (reach.value[1] - reach.value[0]) / 8;
  return [...even.filter((m) => Math.abs(m - middle) > room), middle];
});
const times = computed(() => ticks(0, props.endMs / 1000, 5));
const path = computed(() => {
  const draw = line<DriftPoint>()
    .x((p) => x.value(p.ms))
    .y((p) => y.value(p.off))
    .curve(curveMonotoneX);
  return runs.value.map((run) => draw(run) ?? '').join('');
});
/** Where one has bars that the other lacks, the line ends and begins anew: no tempo is so far off. */
const runs = computed(() => {
  const out: DriftPoint[][] = [];
  for (const p of thinned.value) {
    const last = out.at(-1)?.at(-1);
    const apart = last ? Math.abs(p.off - last.off) : 0;
    if (last && apart <= JUMP_MS + JUMP_SHARE * (p.ms - last.ms)) out.at(-1)!.push(p);
    else out.push([p]);
  }
  return out;
});
/** As many as there are pixels for. */
const thinned = computed(() => {
  const each = Math.max(1, Math.ceil(sorted.value.length / MOST_DOTS));
  return sorted.value.filter((_, i) => i % each === 0);
});
const anchors = computed(() => sorted.value.filter((p) => p.anchor));
const dots = computed(() => thinned.value.filter((p) => !p.anchor));
/** One path for all dots: a plot is one thing to look at, not a thousand. */
const dotted = computed(() =>
  dots.value.map((p) => `M${x.value(p.ms).toFixed(1)} ${y.value(p.off).toFixed(1)}h0`).join(''),
);
const summary = computed(
  () =>
    `${props.what}: ${sayDrift(
      sorted.value.map((p) => p.off),
      props.within,
    )}`,
);

function nearest(event: MouseEvent): DriftPoint | null {
  const edges = frame.value!.getBoundingClientRect();
  const ms = x.value.invert(event.clientX - edges.left);
  let best: DriftPoint | null = null;
  for (const p of sorted.value) if (!best || Math.abs(p.ms - ms) < Math.abs(best.ms - ms)) best = p;
  return best;
}
</script>

<template>
  <figure ref="frame" class="drift">
    <svg
      v-if="stands && width > 0"
      :width="width"
      :height="HEIGHT"
      role="img"
      :aria-label="summary"
      @mousemove="hover = nearest($event)"
      @mouseleave="hover = null"
      @click="emit('go', nearest($event)?.ms ?? 0)"
    >
      <rect
        class="band"
        :x="PAD.left"
        :width="Math.max(0, width - PAD.left - PAD.right)"
        :y="y(within)"
        :height="Math.max(1, y(-within) - y(within))"
      />
      <g v-for="m in marks" :key="m">
        <line class="grid" :x1="PAD.left" :x2="width - PAD.right" :y1="y(m)" :y2="y(m)" />
        <text class="label" :x="PAD.left - 5" :y="y(m) + 4" text-anchor="end">{{ sayOff(m) }}</text>
      </g>
      <line class="zero" :x1="PAD.left" :x2="width - PAD.right" :y1="y(0)" :y2="y(0)" />
      <text
        v-for="t in times"
        :key="`t${t}`"
        class="label"
        :x="x(t * 1000)"
        :y="HEIGHT - 5"
        text-anchor="middle"
      >
        {{ Math.floor(t / 60) }}:{{ String(Math.round(t % 60)).padStart(2, '0') }}
      </text>
      <path class="path" :d="path" />
      <path class="dots" :d="dotted" />
      <path
        v-for="(p, i) in anchors"
        :key="`a${i}`"
        class="anchor"
        :class="{ out: p.out }"
        :d="`M${x(p.ms)} ${y(p.off) - 5}l5 5l-5 5l-5 -5z`"
      />
      <line
        v-if="nowMs <= endMs"
        class="now"
        :x1="x(nowMs)"
        :x2="x(nowMs)"
        :y1="PAD.top"
        :y2="HEIGHT - PAD.bottom"
      />
      <circle v-if="hover" class="hover" :cx="x(hover.ms)" :cy="y(hover.off)" r="4" />
    </svg>
    <figcaption class="soft">
      <template v-if="hover">{{ sayClock(hover.ms) }}: {{ sayOff(hover.off) }}</template>
      <template v-else>{{ what }}. Click to hear it there.</template>
    </figcaption>
  </figure>
</template>

<style scoped>
.drift {
  min-height: 154px;
  margin: 0;
}

svg {
  display: block;
  overflow: visible;
  border-radius: 5px;
  background: var(--page);
  cursor: pointer;
}

.band {
  fill: var(--moss);
  opacity: 0.16;
}

.grid {
  stroke: var(--line);
  stroke-width: 0.5;
}

.zero {
  stroke: var(--ink-2);
  stroke-width: 1;
}

.label {
  fill: var(--ink-2);
  font-size: 12px;
  font-variant-numeric: tabular-nums;
}

.path {
  fill: none;
  stroke: var(--quill);
  stroke-width: 1;
  opacity: 0.45;
}

.dots {
  fill: none;
  stroke: var(--quill);
  stroke-linecap: round;
  stroke-width: 3.2;
}

.anchor {
  fill: var(--lamp);
  stroke: var(--page);
  stroke-width: 1;
}

.anchor.out {
  fill: none;
  stroke: var(--lamp);
}

.now {
  stroke: var(--lamp);
  stroke-width: 1.5;
}

.hover {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}

figcaption {
  min-height: 32px;
  margin-top: 3px;
  font-size: 12px;
}
</style>
