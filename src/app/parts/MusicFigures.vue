<script setup lang="ts">
import { computed } from 'vue';
import { FIGURES, percentOf, type Figures } from '../../core/compare/say-figures';

/** What a listener follows of the source in what is delivered: four shares, or those that there are. */
const { figures } = defineProps<{ figures: Figures }>();
const MEANS = {
  tune: 'notes of the tune that are heard again in their place; octaves are forgiven',
  bass: 'notes of the lowest line that are heard again in their place',
  beat: 'strokes of the drums that are heard again, the strong ones counted more',
  chords: 'pitch classes of each beat that are heard again',
} as const;
const shown = computed(() =>
  FIGURES.flatMap((name) => {
    const share = figures[name];
    return share === null ? [] : [{ name, percent: percentOf(share), means: MEANS[name] }];
  }),
);
</script>

<template>
  <ul v-if="shown.length > 0" class="figures" aria-label="How much of the music is there">
    <li v-for="{ name, percent, means } in shown" :key="name" :title="means">
      <span class="name">{{ name }}</span>
      <span class="share">{{ percent }} %</span>
      <span class="bar" aria-hidden="true"><span :style="{ width: `${percent}%` }" /></span>
    </li>
  </ul>
</template>

<style scoped>
.figures {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  display: grid;
  grid-template-columns: auto auto;
  gap: 0 5px;
  color: var(--ink-2);
  font-size: 12px;
  line-height: 1.3;
}

.share {
  font-variant-numeric: tabular-nums;
  text-align: right;
}

.bar {
  grid-column: 1 / -1;
  height: 3px;
  background: var(--quill-wash);
}

.bar span {
  display: block;
  height: 3px;
  background: var(--ink-2);
}
</style>
