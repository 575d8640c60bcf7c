<script setup lang="ts">
import { scaleLog } from 'd3-scale';
import { computed } from 'vue';
import { plain } from '../../core/target/words';

/** Tempos from slow to fast, with the allowed band. */
const props = defineProps<{
  lowest?: number | undefined;
  highest?: number | undefined;
  only?: readonly number[] | undefined;
}>();
const WIDTH = 460;
const scale = computed(() => scaleLog([20, 400], [14, WIDTH - 14]).clamp(true));
const from = computed(() => scale.value(props.lowest ?? 20));
const to = computed(() => scale.value(props.highest ?? 400));
const ticks = [20, 30, 40, 60, 80, 120, 180, 240, 400];
</script>

<template>
  <svg
    class="tempo"
    :viewBox="`0 0 ${WIDTH} 38`"
    role="img"
    :aria-label="`Tempo ${lowest ?? ''} to ${highest ?? ''} BPM`"
  >
    <line x1="14" :x2="WIDTH - 14" y1="14" y2="14" class="axis" />
    <rect v-if="!only" :x="from" y="9" :width="Math.max(2, to - from)" height="10" class="band" />
    <circle v-for="bpm in only ?? []" :key="bpm" :cx="scale(bpm)" cy="14" r="4" class="band" />
    <g v-for="t in ticks" :key="t">
      <line :x1="scale(t)" :x2="scale(t)" y1="19" y2="23" class="axis" />
      <text :x="scale(t)" y="35">{{ plain(t) }}</text>
    </g>
  </svg>
</template>

<style scoped>
.tempo {
  display: block;
  width: 100%;
  max-width: 460px;
}

.axis {
  stroke: var(--ink-2);
}

.band {
  fill: var(--quill);
}

text {
  fill: var(--ink-2);
  font: 12px var(--sans);
  text-anchor: middle;
}
</style>
