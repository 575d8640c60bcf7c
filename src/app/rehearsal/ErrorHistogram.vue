<script setup lang="ts">
import { bin, max } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { computed } from 'vue';
import { count } from '../../core/target/words';
import { BANDS_MS, middleOf } from './hands/strikes';

/** How far each stroke was from its time: early to the left, late to the right. */
const { errorsMs } = defineProps<{ errorsMs: readonly number[] }>();
const W = 280;
const H = 92;
const FOOT = 18;
const WIDEST = BANDS_MS.at(-1)!;
const x = scaleLinear([-WIDEST, WIDEST], [18, W - 18]);
const edges = Array.from({ length: 21 }, (_, i) => -WIDEST + i * 10);
const bins = computed(() =>
  bin()
    .domain([-WIDEST, WIDEST])
    .thresholds(edges)([...errorsMs])
    .map((b) => ({ from: b.x0!, to: b.x1!, count: b.length })),
);
const y = computed(() =>
  scaleLinear([0, Math.max(4, max(bins.value, (b) => b.count) ?? 0)], [H - FOOT, 6]),
);
const middle = computed(() => middleOf(errorsMs));
const says = computed(() =>
  errorsMs.length === 0
    ? 'No stroke is struck yet.'
    : `Errors of ${count(errorsMs.length, 'stroke')}, in the middle ${sayMs(middle.value!)}.`,
);
const sayMs = (ms: number) =>
  Math.round(ms) === 0 ? 'on it' : `${Math.abs(Math.round(ms))} ms ${ms < 0 ? 'early' : 'late'}`;
</script>

<template>
  <figure class="histogram">
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="says">
      <rect
        v-for="ms in [...BANDS_MS].reverse()"
        :key="ms"
        class="band"
        :x="x(-ms)"
        y="4"
        :width="x(ms) - x(-ms)"
        :height="H - FOOT - 4"
      />
      <g v-for="b in bins" :key="b.from">
        <rect
          v-if="b.count > 0"
          class="bar"
          :x="x(b.from) + 0.5"
          :y="y(b.count)"
          :width="Math.max(0, x(b.to) - x(b.from) - 1)"
          :height="H - FOOT - y(b.count)"
          :data-from="b.from"
          :data-count="b.count"
        />
      </g>
      <line class="zero" :x1="x(0)" :x2="x(0)" y1="2" :y2="H - FOOT" />
      <line
        v-if="middle !== null"
        class="middle"
        :x1="x(middle)"
        :x2="x(middle)"
        y1="2"
        :y2="H - FOOT"
      />
      <text v-for="ms in [-100, -60, -30, 30, 60, 100]" :key="ms" :x="x(ms)" :y="H - 5">
        {{ ms > 0 ? `+${ms}` : `−${-ms}` }}
      </text>
      <text :x="x(0)" :y="H - 5">0</text>
    </svg>
    <figcaption class="soft" data-testid="errors-say">{{ says }}</figcaption>
  </figure>
</template>

<style scoped>
.histogram {
  margin: 0;
}

svg {
  display: block;
  width: 100%;
}

.band {
  fill: none;
  stroke: var(--line);
  stroke-dasharray: 3 3;
}

.bar {
  fill: var(--ink);
}

.zero {
  stroke: var(--edge);
}

.middle {
  stroke: var(--lamp);
  stroke-width: 2;
}

text {
  fill: var(--ink-2);
  font-size: 12px;
  text-anchor: middle;
}
</style>
