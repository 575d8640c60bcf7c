<script setup lang="ts">
import { computed } from 'vue';
import type { Target } from '../../core/target/schema';
import { plain } from '../../core/target/words';

/** The beginning and the end of a piece, as bars: where no note may stand, and where it may end. */
const props = defineProps<{ target: Target }>();
const rest = computed(() => props.target.start?.leadInBars ?? 0);
const ends = computed(() => {
  const { onlyBars, leastBars, mostBars } = props.target.end ?? {};
  if (onlyBars) return onlyBars;
  if (leastBars === undefined || mostBars === undefined) return [];
  return Array.from({ length: Math.min(16, mostBars) - leastBars + 1 }, (_, i) => leastBars + i);
});
const shown = computed(() => Math.max(6, rest.value + 3, ...ends.value));
const W = 34;
</script>

<template>
  <svg
    class="bars"
    :viewBox="`0 0 ${shown * W + 8} 54`"
    :style="{ maxWidth: `${shown * W}px` }"
    role="img"
    aria-label="Start and end in bars"
  >
    <defs>
      <pattern
        id="rest-owed"
        width="5"
        height="5"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <rect width="5" height="5" class="ground" />
        <line x1="0" y1="0" x2="0" y2="5" class="hatch" />
      </pattern>
    </defs>
    <g v-for="n in shown" :key="n">
      <rect :x="(n - 1) * W + 1" y="1" :width="W" height="30" :class="n <= rest ? 'owed' : 'bar'" />
      <text :x="(n - 1) * W + 5" y="13" class="number">{{ n }}</text>
      <path v-if="ends.includes(n)" :d="`M ${n * W + 1} 0 v 38 m -4 -4 l 4 4 l 4 -4`" class="end" />
      <text v-if="ends.includes(n)" :x="n * W + 1" y="50" class="label">{{ n }}</text>
    </g>
  </svg>
  <p class="soft">
    <template v-if="rest > 0">Hatched: the rest that is owed. </template>
    <template v-if="target.start?.leadInMs"
      >First note at {{ plain(target.start.leadInMs) }} ms or later.
    </template>
    <template v-if="target.start?.inBar1">The music begins in bar 1. </template>
    <template v-if="ends.length > 0"
      >Arrows: where it may end, in bars.<template v-if="(target.end?.mostBars ?? 0) > 16">
        Up to {{ target.end?.mostBars }}.</template
      ></template
    >
  </p>
</template>

<style scoped>
.bars {
  display: block;
  width: 100%;
}

.bar {
  fill: var(--page);
  stroke: var(--line);
}

.owed {
  fill: url('#rest-owed');
  stroke: var(--line);
}

.ground {
  fill: var(--hatch-ground);
}

.hatch {
  stroke: var(--hatch);
  stroke-width: 1.6;
}

.number {
  fill: var(--ink-2);
  font: 11px var(--sans);
}

.end {
  fill: none;
  stroke: var(--quill);
  stroke-width: 1.8;
}

.label {
  fill: var(--quill);
  font: 600 12px var(--sans);
  text-anchor: middle;
}
</style>
