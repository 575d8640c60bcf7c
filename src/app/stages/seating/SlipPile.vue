<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import { ref } from 'vue';
import { VueDraggable, type SortableEvent } from 'vue-draggable-plus';
import type { PartView } from '../../../core/wire/view';
import { useJob } from '../../stores/job';
import { useSeating } from '../../stores/seating';
import PartSlip from './PartSlip.vue';

/**
 * Slips that lie together: at a seat, or on a pile. A drag moves none of them; it aims at the card
 * under the pointer, which shows what would come of it, and the plan says where they lie then.
 */
const props = defineProps<{ parts: readonly PartView[]; label: string }>();
const job = useJob();
const seating = useSeating();
const dragging = ref(false);

function begun(event: SortableEvent) {
  const id = event.item.dataset['part'];
  if (id && !seating.picked.has(id)) seating.pick(id, false);
  dragging.value = true;
}
useEventListener(window, 'pointermove', (event) => {
  if (!dragging.value) return;
  const under = document.elementFromPoint(event.clientX, event.clientY);
  seating.aim = under?.closest<HTMLElement>('[data-to]')?.dataset['to'] ?? null;
});
function ended() {
  dragging.value = false;
  const to = seating.aim;
  seating.aim = null;
  // The package swallows the click that follows a drag; where the slip is gone by then none follows,
  // and the next one that is meant would be lost.
  setTimeout(() => document.dispatchEvent(new MouseEvent('click', { cancelable: true })));
  if (to !== null) seating.place(seating.chosen, to);
}
</script>

<template>
  <VueDraggable
    :model-value="[...props.parts]"
    tag="ul"
    class="pile"
    :aria-label="label"
    :group="{ name: 'slips', pull: false, put: false }"
    :sort="false"
    :animation="0"
    :force-fallback="true"
    :fallback-on-body="true"
    :fallback-tolerance="4"
    fallback-class="slip-in-hand"
    :disabled="job.readOnly"
    @start="begun"
    @end="ended"
  >
    <PartSlip v-for="part in parts" :key="part.id" :part="part" />
  </VueDraggable>
</template>

<style scoped>
.pile {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  min-height: 26px;
  margin: 0;
  padding: 0;
  list-style: none;
}
</style>
