<script setup lang="ts">
import { computed } from 'vue';
import InkSwatch from '../../parts/InkSwatch.vue';
import { useLanes } from '../../stores/lanes';
import { useSeating } from '../../stores/seating';

/** Parts by how well they would play: dense enough, moving, seldom the same again. */
const MOST = 12;
const lanes = useLanes();
const seating = useSeating();
const shown = computed(() => lanes.ranked.slice(0, MOST));
</script>

<template>
  <ol class="ranks">
    <li v-for="{ part, chart } in shown" :key="part.id">
      <button class="plain who" type="button" @click="seating.pick(part.id, false)">
        <InkSwatch :index="seating.indexOf(part)" />
        <span>{{ part.name }}</span>
      </button>
      <span class="bar" aria-hidden="true">
        <span :style="{ width: `${Math.round(chart.worth * 100)}%` }"></span>
      </span>
      <span class="soft n">{{ Math.round(chart.worth * 100) }} of 100</span>
      <span class="soft why">{{ chart.why }}</span>
    </li>
  </ol>
  <p v-if="lanes.ranked.length > MOST" class="soft why">
    and {{ lanes.ranked.length - MOST }} more that would play less well
  </p>
</template>

<style scoped>
.ranks {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 7px;
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
}

li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 70px 70px;
  gap: 1px 9px;
  align-items: center;
}

.who {
  display: flex;
  gap: 6px;
  align-items: center;
  min-width: 0;
  min-height: 24px;
  text-align: left;
}

.who span:last-child {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.bar {
  height: 8px;
  border: 1px solid var(--line);
  border-radius: 4px;
}

.bar span {
  display: block;
  height: 100%;
  border-radius: 3px;
  background: var(--ink-2);
}

.n,
.why {
  font-size: 12px;
  font-variant-numeric: tabular-nums;
}

.why {
  grid-column: 1 / -1;
}
</style>
