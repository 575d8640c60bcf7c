<script setup lang="ts">
import { computed } from 'vue';
import { usePlaying } from '../stores/playing';
import { rowAt, xOf, type SheetLayout } from './layout';

/** Where it sounds: by itself, so that the sheet is not made anew while it runs. */
const props = defineProps<{ layout: SheetLayout }>();
const playing = usePlaying();
const at = computed(() => {
  const tick = playing.shownTick;
  const row = rowAt(props.layout, tick);
  return {
    x: xOf(props.layout, row, Math.min(tick, row.toTick)),
    y: row.top + props.layout.headHeight - 4,
    height: props.layout.areaHeight + 8,
  };
});
</script>

<template>
  <div
    class="playhead"
    :style="{ height: `${at.height}px`, transform: `translate(${at.x}px, ${at.y}px)` }"
  ></div>
</template>

<style scoped>
.playhead {
  position: absolute;
  top: 0;
  left: -1px;
  width: 2px;
  background: var(--lamp);
  pointer-events: none;
}
</style>
