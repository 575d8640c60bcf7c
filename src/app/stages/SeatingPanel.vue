<script setup lang="ts">
import { computed } from 'vue';
import { isUnsaid } from '../../core/target/unsaid';
import { count } from '../../core/target/words';
import { useJob } from '../stores/job';
import { useSeating } from '../stores/seating';
import FoldedPart from '../kit/FoldedPart.vue';
import ForWhat from './ForWhat.vue';
import CaptionList from './CaptionList.vue';
import ChainLinks from './ChainLinks.vue';
import PlacesCarving from './PlacesCarving.vue';
import RepeatDesk from './RepeatDesk.vue';
import { slotsOf } from './slots';
import LaneDesk from './lanes/LaneDesk.vue';
import SeatDesk from './seating/SeatDesk.vue';

const job = useJob();
const seating = useSeating();
const places = computed(() => job.target?.seats.filter((s) => s.kind === 'file') ?? []);
const hasSlots = computed(() => (job.target ? slotsOf(job.target, '').length > 0 : false));
</script>

<template>
  <section class="panel" tabindex="0" aria-labelledby="seating-title">
    <h2 id="seating-title">Who sits where</h2>
    <ForWhat v-if="isUnsaid(job.target) && !job.readOnly" />
    <p v-else class="serif">
      <template v-if="job.target?.seating?.unseated === 'taken'">
        {{ job.target.name }} takes every part as it is. Leave out here what it should not get.
      </template>
      <template v-else-if="places.length > 0">
        {{ job.target?.name }} has {{ places.length }} places, each a file of its own. Say which
        bars go to which place; what stands outside of them is listed as left out.
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
    <PlacesCarving v-if="places.length > 0" />
    <SeatDesk v-if="seating.seats.length > 0 || seating.leftOut.length > 0" />
    <LaneDesk v-if="seating.ownSeats.some((s) => s.kind === 'laneGroup')" />
    <FoldedPart
      v-if="hasSlots && places.length === 0"
      :title="`Several files of it: carve bars into ${job.target?.chains ? 'patterns' : 'pads'}`"
    >
      <PlacesCarving />
    </FoldedPart>
    <RepeatDesk />
    <ChainLinks v-if="job.target?.chains" />
    <CaptionList v-if="job.target?.captions" />
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
