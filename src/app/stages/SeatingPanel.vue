<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { isUnsaid } from '../../core/target/unsaid';
import { count } from '../../core/target/words';
import { contentOf } from '../../core/wire/content';
import { useJob } from '../stores/job';
import { usePlaces } from '../stores/places';
import { useSeating } from '../stores/seating';
import TabRow from '../kit/TabRow.vue';
import ForWhat from './ForWhat.vue';
import CaptionList from './CaptionList.vue';
import ChainLinks from './ChainLinks.vue';
import PlacesBoard from './places/PlacesBoard.vue';
import RepeatDesk from './RepeatDesk.vue';
import LaneDesk from './lanes/LaneDesk.vue';
import SeatDesk from './seating/SeatDesk.vue';

const job = useJob();
const seating = useSeating();
const places = usePlaces();
const slots = computed(() => (job.target && !isUnsaid(job.target) ? places.slots : []));
/** Where a target has files for places, they are what is looked at first. */
const tab = ref<'places' | 'seats'>('places');
watch(
  () => job.target?.id,
  () => (tab.value = 'places'),
);
const parts = computed(() => {
  const all = job.shown?.delivered.parts ?? [];
  return all.filter(contentOf(all, job.target)).length;
});
const tabs = computed(() => [
  {
    id: 'places' as const,
    name: job.target?.chains ? 'Patterns' : 'Places',
    count: slots.value.length,
  },
  { id: 'seats' as const, name: 'Parts and seats', count: parts.value },
]);
const onPlaces = computed(() => slots.value.length > 0 && tab.value === 'places');
</script>

<template>
  <section class="panel" tabindex="0" aria-labelledby="seating-title">
    <h2 id="seating-title" :class="{ sr: slots.length > 0 }">
      {{ onPlaces ? 'What lies where' : 'Who sits where' }}
    </h2>
    <ForWhat v-if="isUnsaid(job.target) && !job.readOnly" />
    <TabRow v-if="slots.length > 0" v-model="tab" label="Seating" :tabs="tabs" />
    <template v-if="onPlaces">
      <PlacesBoard />
      <ChainLinks v-if="job.target?.chains" />
    </template>
    <template v-else>
      <p v-if="!isUnsaid(job.target)" class="serif">
        <template v-if="job.target?.seating?.unseated === 'taken'">
          {{ job.target.name }} takes every part as it is. Leave out here what it should not get.
        </template>
        <template v-else-if="seating.ownSeats.length === 0">
          {{ job.target?.name }} has no seats: every part is left out, and listed in the receipt.
        </template>
        <template v-else>
          {{ job.target?.name }} has {{ count(seating.ownSeats.length, 'seat') }}. Drag a slip to a
          seat; or choose a part with <kbd>[</kbd> <kbd>]</kbd>, a seat with its digit, and press
          Enter. Delete leaves it out.
        </template>
      </p>
      <SeatDesk v-if="seating.seats.length > 0 || seating.leftOut.length > 0" />
      <LaneDesk v-if="seating.ownSeats.some((s) => s.kind === 'laneGroup')" />
      <RepeatDesk />
      <CaptionList v-if="job.target?.captions" />
    </template>
  </section>
</template>

<style scoped>
kbd {
  padding: 0 4px;
  border: 1px solid var(--line);
  border-radius: 4px;
  font: 12px/16px var(--sans);
}
</style>
