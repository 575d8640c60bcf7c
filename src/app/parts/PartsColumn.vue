<script setup lang="ts">
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { VueDraggable } from 'vue-draggable-plus';
import { contentOf } from '../../core/wire/content';
import { reachOf } from '../../core/target/limits';
import { useByAndBy } from '../kit/use-by-and-by';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { useSlipDrag } from '../stages/seating/use-slip-drag';
import PartCard from './PartCard.vue';

/** At the seat desk a card is carried to a seat like a slip. */
const { begun, ended, options } = useSlipDrag();
const route = useRoute();
const job = useJob();
const looking = useLooking();
const carries = computed(() => !job.readOnly && route.params['stage'] === 'seating');
/** Parts with notes first as they come; what only sets up a channel is passed over. */
const parts = computed(() => {
  const all = looking.piece?.parts ?? [];
  const has = contentOf(all, job.target);
  return all.map((part, index) => ({ part, index })).filter(({ part }) => has(part));
});
const setUp = useByAndBy(() => parts.value.length, 4);
/** Some targets have no seats for parts: places that are files, or all parts as they are. */
const needsSeat = computed(
  () =>
    job.target?.seating?.unseated !== 'taken' &&
    job.target?.seats.some((s) => s.kind !== 'file') === true,
);
const seatName = (id: string | null) => job.target?.seats.find((s) => s.id === id)?.name ?? null;
</script>

<template>
  <section class="panel" tabindex="0" aria-labelledby="parts-title">
    <h2 id="parts-title">
      Parts and seats <span class="soft count">{{ parts.length }}</span>
    </h2>
    <VueDraggable
      :key="String(carries)"
      v-bind="options"
      :model-value="parts"
      tag="ul"
      class="parts"
      :delay="250"
      :delay-on-touch-only="true"
      :disabled="!carries"
      @start="begun"
      @end="ended"
    >
      <PartCard
        v-for="{ part, index } in parts.slice(0, setUp)"
        :key="part.id"
        :part="part"
        :index="index"
        :seat="seatName(part.seat)"
        :range="job.target ? reachOf(job.target, part) : null"
        :needs-seat="needsSeat"
      />
    </VueDraggable>
    <p v-if="job.shown && parts.length === 0" class="serif">
      There are no notes in this source. Tempo, meter and markers can still be delivered.
    </p>
  </section>
</template>

<style scoped>
.count {
  font: 400 12px var(--sans);
}

.parts {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  margin: 0;
  padding: 0;
  list-style: none;
}
</style>
