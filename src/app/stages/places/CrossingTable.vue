<script setup lang="ts">
import { computed } from 'vue';
import type { Slot } from '../../../core/target/slots';
import { usePlaces } from '../../stores/places';
import PlaceCell from './PlaceCell.vue';
import type { Carry } from './use-carry';

/** Crossings as the device counts them: a row for where each leads from, a column for where to. */
const props = defineProps<{ slots: readonly Slot[]; carry: Carry }>();
const places = usePlaces();
/** In the order of the rounds that they lead between. */
const ends = (of: 'from' | 'to') =>
  places.slots.filter((s) => props.slots.some((c) => c[of] === s.id)).map((s) => s.id);
const rows = computed(() => ends('from'));
const columns = computed(() => ends('to'));
const at = computed(() => new Map(props.slots.map((s) => [`${s.from} ${s.to}`, s])));
const nameOf = (id: string) => places.slotOf(id)?.name ?? id;
</script>

<template>
  <table class="crossings">
    <thead>
      <tr>
        <th scope="col" class="corner">from ↓ to →</th>
        <th v-for="to in columns" :key="to" scope="col" :title="nameOf(to)">{{ nameOf(to) }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="from in rows" :key="from">
        <th scope="row" :title="nameOf(from)">{{ nameOf(from) }}</th>
        <td v-for="to in columns" :key="to">
          <PlaceCell
            v-if="at.get(`${from} ${to}`)"
            :place="at.get(`${from} ${to}`)!"
            :carry="carry"
            small
          />
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.crossings {
  width: 100%;
  border-collapse: separate;
  border-spacing: 3px;
  table-layout: fixed;
}

th {
  overflow: hidden;
  color: var(--ink-2);
  font-size: 12px;
  font-weight: 500;
  text-align: center;
  text-overflow: ellipsis;
  white-space: nowrap;
}

th[scope='row'] {
  text-align: left;
}

.corner {
  width: 76px;
  text-align: left;
}
</style>
