<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import { ref } from 'vue';

/** The edge of the right-hand side: dragged, or moved with the arrow keys. Width in pixels. */
const width = defineModel<number>({ required: true });
const NARROWEST = 240;
const WIDEST = 720;
const grabbed = ref<{ x: number; width: number } | null>(null);

const set = (to: number) => (width.value = Math.round(Math.max(NARROWEST, Math.min(WIDEST, to))));
function grab(event: PointerEvent) {
  (event.target as HTMLElement).setPointerCapture(event.pointerId);
  grabbed.value = { x: event.clientX, width: width.value };
}
useEventListener(window, 'pointermove', (event) => {
  if (grabbed.value) set(grabbed.value.width + grabbed.value.x - event.clientX);
});
useEventListener(window, 'pointerup', () => (grabbed.value = null));
</script>

<template>
  <div
    class="edge"
    role="separator"
    tabindex="0"
    aria-orientation="vertical"
    aria-label="Width of the tools"
    :aria-valuenow="width"
    :aria-valuemin="NARROWEST"
    :aria-valuemax="WIDEST"
    @pointerdown="grab"
    @keydown.left.prevent="set(width + 20)"
    @keydown.right.prevent="set(width - 20)"
  ></div>
</template>

<style scoped>
.edge {
  width: 7px;
  height: 100%;
  margin-left: -4px;
  cursor: col-resize;
  touch-action: none;
}

.edge:hover,
.edge:active {
  background: var(--quill-wash);
}
</style>
