<script setup lang="ts">
import { VueDraggable } from 'vue-draggable-plus';
import type { PartView } from '../../../core/wire/view';
import { useJob } from '../../stores/job';
import PartSlip from './PartSlip.vue';
import { useSlipDrag } from './use-slip-drag';

/** Slips that lie together: at a seat, or on a pile. */
const props = defineProps<{ parts: readonly PartView[]; label: string }>();
const job = useJob();
const { begun, ended, options } = useSlipDrag();
</script>

<template>
  <VueDraggable
    v-bind="options"
    :model-value="[...props.parts]"
    tag="ul"
    class="pile"
    :aria-label="label"
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
  /* Of many a few rows are seen: the seats that they are carried to stay in view. */
  max-height: 158px;
  overflow-y: auto;
  margin: 0 -3px 0 0;
  padding: 0 3px 3px 0;
  list-style: none;
}
</style>
