<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { scaleLinear } from 'd3-scale';
import { computed, ref } from 'vue';
import type { SeamCandidate } from '../../../core/reading/seams';
import { firstReaching } from '../../sheet/layout';
import { inkOf } from '../../sheet/inks';
import type { LaidPiece } from '../../stores/job';
import { useSettings } from '../../stores/settings';

/** The last bar and the first as neighbours; what hangs over the seam is in wax. */
const props = defineProps<{ piece: LaidPiece; seam: SeamCandidate }>();
const settings = useSettings();
const box = ref<HTMLElement>();
const { width } = useElementSize(box);
const HEIGHT = 92;
const MOST = 600;

const sides = computed(() => {
  const { bars } = props.piece;
  const last = props.seam.toBar - 1;
  const first = props.seam.fromBar - 1;
  return {
    before: [bars.barStart(last), bars.barStart(last + 1)] as const,
    behind: [bars.barStart(first), bars.barStart(first + 1)] as const,
  };
});
const notes = computed(() => {
  const { before, behind } = sides.value;
  const out: { x: number; w: number; key: number; colour: string; hangs: boolean }[] = [];
  const half = width.value / 2;
  props.piece.parts.forEach((part, p) => {
    if (part.leftOut) return;
    const { colour } = inkOf(p, settings.light);
    const { columns } = part;
    for (const [span, from] of [
      [before, 0],
      [behind, half],
    ] as const) {
      const x = scaleLinear([span[0], span[1]], [from, from + half]);
      for (let i = firstReaching(part, span[0]); i < columns.count && out.length < MOST; i++) {
        if (columns.start[i]! >= span[1]) break;
        if (columns.end[i]! <= span[0]) continue;
        const hangs = from === 0 && columns.end[i]! > span[1];
        const left = Math.max(from, x(columns.start[i]!));
        const right = Math.min(from + half, x(columns.end[i]!));
        out.push({
          x: left,
          w: Math.max(2, right - left),
          key: columns.noteNumber[i]!,
          colour,
          hangs,
        });
      }
    }
  });
  return out;
});
const y = computed(() => {
  const keys = notes.value.map((n) => n.key);
  const [low, high] = [Math.min(127, ...keys), Math.max(0, ...keys)];
  return scaleLinear([low - 1, high + 1], [HEIGHT - 8, 8]);
});
</script>

<template>
  <figure ref="box" class="seam">
    <svg
      :width="width"
      :height="HEIGHT"
      role="img"
      :aria-label="`Bar ${seam.toBar}, then bar ${seam.fromBar} again`"
    >
      <rect
        v-for="(n, i) in notes"
        :key="i"
        :x="n.x"
        :y="y(n.key) - 2.5"
        :width="n.w"
        height="5"
        :fill="n.hangs ? 'var(--wax)' : n.colour"
      />
      <line class="line" :x1="width / 2" :x2="width / 2" y1="0" :y2="HEIGHT" />
      <text class="bar" x="5" y="12">{{ seam.toBar }}</text>
      <text class="bar" :x="width / 2 + 6" y="12">{{ seam.fromBar }}</text>
    </svg>
  </figure>
</template>

<style scoped>
.seam {
  margin: 0;
}

svg {
  display: block;
  border-radius: 5px;
  background: var(--page);
}

.line {
  stroke: var(--lamp);
  stroke-width: 1.5;
  stroke-dasharray: 4 3;
}

.bar {
  fill: var(--ink-2);
  font-size: 12px;
}
</style>
