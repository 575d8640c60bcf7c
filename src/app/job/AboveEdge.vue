<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import { ref } from 'vue';

/** The edge between what stands above and the sheet: dragged, or moved with the arrow keys. In percent. */
const share = defineModel<number>({ required: true });
const LEAST = 15;
const MOST = 85;
const edge = ref<HTMLElement>();
const grabbed = ref(false);

const set = (to: number) => (share.value = Math.round(Math.max(LEAST, Math.min(MOST, to))));
function grab(event: PointerEvent) {
  (event.target as HTMLElement).setPointerCapture(event.pointerId);
  grabbed.value = true;
}
useEventListener(window, 'pointermove', (event) => {
  const box = edge.value?.parentElement?.getBoundingClientRect();
  if (grabbed.value && box) set(((event.clientY - box.top) / box.height) * 100);
});
useEventListener(window, 'pointerup', () => (grabbed.value = false));
</script>

<template>
  <div
    ref="edge"
    class="divider"
    role="separator"
    tabindex="0"
    aria-orientation="horizontal"
    aria-label="Height of the device"
    :aria-valuenow="share"
    :aria-valuemin="LEAST"
    :aria-valuemax="MOST"
    @pointerdown="grab"
    @keydown.up.prevent="set(share - 4)"
    @keydown.down.prevent="set(share + 4)"
  ></div>
</template>

<style scoped>
.divider {
  height: 7px;
  cursor: row-resize;
  touch-action: none;
}

.divider:hover,
.divider:active {
  background: var(--quill-wash);
}
</style>
