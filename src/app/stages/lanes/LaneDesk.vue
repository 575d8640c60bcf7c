<script setup lang="ts">
import { computed } from 'vue';
import FoldedPart from '../../kit/FoldedPart.vue';
import { useJob } from '../../stores/job';
import { useLanes } from '../../stores/lanes';
import ChartRanks from './ChartRanks.vue';
import LaidPart from './LaidPart.vue';
import LevelTable from './LevelTable.vue';

/** Lanes of a chart: what would play well, how it is laid, what its easier levels are. */
const lanes = useLanes();
const job = useJob();
const several = computed(
  () => (job.shown?.source.parts.filter((p) => p.columns.count > 0).length ?? 0) > 1,
);
const inGroup = (seat: string | null) =>
  groups.value.some((g) => [g.hardest, ...g.easier].some((s) => s.id === seat));
/** Nobody sits at the lanes yet: then this is the first thing to know. */
const open = lanes.laid.length === 0;
const groups = computed(() => lanes.groups.filter((g) => lanes.playing(g.hardest)));
</script>

<template>
  <section class="lane-desk" aria-labelledby="lane-desk">
    <h3 id="lane-desk">On the lanes</h3>
    <LaidPart
      v-for="part in lanes.laid"
      :key="part.id"
      :part="part"
      :side-by-side="inGroup(part.seat)"
    />
    <LevelTable v-for="group in groups" :key="group.name" :group="group" />
    <FoldedPart v-if="several" title="Which part plays well as a chart" :open="open">
      <ChartRanks />
    </FoldedPart>
  </section>
</template>

<style scoped>
.lane-desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 10px;
  margin-top: 14px;
}

h3 {
  margin: 0;
}
</style>
