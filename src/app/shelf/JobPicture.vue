<script setup lang="ts">
import type { PictureRow } from '../storage/db';

/** A song in miniature: how dense it is, and where stops and cautions stand. */
withDefaults(defineProps<{ picture: PictureRow | undefined; judged?: boolean }>(), {
  judged: true,
});
const COLUMN = 2;
const HEIGHT = 22;
</script>

<template>
  <svg
    v-if="picture"
    class="picture"
    :width="picture.density.length * COLUMN"
    :height="HEIGHT + 6"
    aria-hidden="true"
  >
    <template v-for="(n, i) in picture.density" :key="i">
      <rect
        v-if="n > 0"
        class="bar"
        :x="i * COLUMN"
        :y="HEIGHT + 6 - (n / 9) * HEIGHT"
        :width="COLUMN - 0.5"
        :height="(n / 9) * HEIGHT"
      />
    </template>
    <template v-for="(n, i) in judged ? picture.marks : []" :key="`m${i}`">
      <path
        v-if="n > 0"
        :class="n === 2 ? 'stop' : 'caution'"
        :d="
          n === 2 ? `M${i * COLUMN - 2} 0h6l-3 5z` : `M${i * COLUMN + 1} 0l2.5 2.5-2.5 2.5-2.5-2.5z`
        "
      />
    </template>
  </svg>
</template>

<style scoped>
.picture {
  display: block;
  overflow: visible;
}

.bar {
  fill: var(--faint);
}

.stop {
  fill: var(--wax);
}

.caution {
  fill: var(--ochre);
}
</style>
