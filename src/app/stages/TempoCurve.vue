<script setup lang="ts">
import { extent } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { curveStepAfter, line } from 'd3-shape';
import { computed } from 'vue';
import { plain } from '../../core/target/words';
import { sayClock } from '../../core/time/meter-map';
import { useDrawnWidth } from '../kit/use-drawn-width';

/** Tempo over the clock, drawn as it changes; where it is one tempo, a straight line. */
const { marks, endMs } = defineProps<{
  marks: readonly { readonly ms: number; readonly bpm: number }[];
  endMs: number;
}>();
const H = 84;
const W = useDrawnWidth(280);
const PAD = { left: 40, right: 8, top: 8, bottom: 18 };
const range = computed(() => {
  const [low = 120, high = 120] = extent(marks, (m) => m.bpm);
  const room = Math.max(1, (high - low) * 0.1);
  return [low - room, high + room] as const;
});
const x = computed(() => scaleLinear([0, Math.max(1, endMs)], [PAD.left, W.value - PAD.right]));
const y = computed(() => scaleLinear(range.value, [H - PAD.bottom, PAD.top]));
/** More than a picture can show apart are thinned, the extremes of each column kept. */
const shown = computed(() => {
  if (marks.length < W.value * 2) return marks;
  const columns = new Map<number, { low: (typeof marks)[0]; high: (typeof marks)[0] }>();
  for (const m of marks) {
    const at = Math.round(x.value(m.ms));
    const there = columns.get(at);
    if (!there) columns.set(at, { low: m, high: m });
    else if (m.bpm < there.low.bpm) there.low = m;
    else if (m.bpm > there.high.bpm) there.high = m;
  }
  return [...columns.values()].flatMap(({ low, high }) =>
    low.ms <= high.ms ? [low, high] : [high, low],
  );
});
const path = computed(() => {
  const first = shown.value[0];
  const last = shown.value.at(-1);
  if (!first || !last) return '';
  const points = [{ ms: 0, bpm: first.bpm }, ...shown.value, { ms: endMs, bpm: last.bpm }];
  return (
    line<{ ms: number; bpm: number }>()
      .x((m) => x.value(m.ms))
      .y((m) => y.value(m.bpm))
      .curve(curveStepAfter)(points) ?? ''
  );
});
const says = computed(() => {
  const [low = 120, high = 120] = extent(marks, (m) => m.bpm);
  return low === high ? `${plain(low)} BPM throughout` : `${plain(low)} to ${plain(high)} BPM`;
});
</script>

<template>
  <svg ref="svg" class="curve" :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="`Tempo: ${says}`">
    <g v-for="t in y.ticks(3)" :key="t">
      <line class="rule" :x1="PAD.left" :x2="W - PAD.right" :y1="y(t)" :y2="y(t)" />
      <text class="left" :x="PAD.left - 6" :y="y(t) + 4">{{ t }}</text>
    </g>
    <text v-for="t in x.ticks(4)" :key="`x${t}`" :x="Math.min(x(t), W - 14)" :y="H - 4">
      {{ sayClock(t).replace(/\.\d+$/, '') }}
    </text>
    <path :d="path" />
  </svg>
</template>

<style scoped>
.curve {
  display: block;
  width: 100%;
  height: 84px;
}

.rule {
  stroke: var(--line);
}

path {
  fill: none;
  stroke: var(--quill);
  stroke-width: 1.6;
}

text {
  fill: var(--ink-2);
  font-size: 12px;
  text-anchor: middle;
}

text.left {
  text-anchor: end;
}
</style>
