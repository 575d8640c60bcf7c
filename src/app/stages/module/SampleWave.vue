<script setup lang="ts">
import { computed } from 'vue';
import { WAVE_STRETCHES } from '../../../core/wire/module-view';

/** The wave of a sample, lowest and highest of each stretch. */
const props = defineProps<{ wave: readonly number[]; label: string }>();
const HEIGHT = 28;
const path = computed(() => {
  const y = (v: number) => (HEIGHT / 2) * (1 - v);
  const top: string[] = [];
  const bottom: string[] = [];
  for (let i = 0; i < WAVE_STRETCHES; i++) {
    top.push(`${i},${y(props.wave[2 * i + 1] ?? 0).toFixed(1)}`);
    bottom.unshift(`${i},${(y(props.wave[2 * i] ?? 0) + 0.5).toFixed(1)}`);
  }
  return `M${top.join('L')}L${bottom.join('L')}Z`;
});
</script>

<template>
  <svg
    class="wave"
    :viewBox="`0 0 ${WAVE_STRETCHES - 1} ${HEIGHT}`"
    preserveAspectRatio="none"
    role="img"
    :aria-label="label"
  >
    <path :d="path" />
  </svg>
</template>

<style scoped>
.wave {
  width: 100%;
  height: 28px;
}

path {
  fill: var(--ink-2);
  stroke: none;
}
</style>
