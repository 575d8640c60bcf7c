<script setup lang="ts">
import { NButton, NInputNumber } from 'naive-ui';
import { computed } from 'vue';
import { count } from '../../../core/target/words';
import { useJob } from '../../stores/job';
import { usePlaces } from '../../stores/places';
import { usePlaying } from '../../stores/playing';

/** The place that is open: which bars lie in it, to the half bar. */
const job = useJob();
const places = usePlaces();
const playing = usePlaying();
const slot = computed(() => places.slotOf(places.opened));
const lies = computed(() => (slot.value ? (places.lying.get(slot.value.id) ?? null) : null));
const placed = computed(() => lies.value?.placed ?? null);
const total = computed(() => places.barsIn(places.songOf(placed.value?.from ?? null)));
const bars = computed(() => placed.value?.bars ?? total.value);
const heard = computed(() => places.heard === slot.value?.id && playing.playing);
const shown = computed(() => job.shown?.piece === lies.value?.piece);
function set(fromBar: number | null, long: number | null) {
  if (slot.value && fromBar !== null && long !== null && long > 0)
    places.reach(slot.value, fromBar, long);
}
</script>

<template>
  <section v-if="slot" class="opened" :aria-label="slot.name">
    <p class="head">
      <b class="serif">{{ slot.name }}</b> <span class="soft">{{ slot.fileName }}</span>
      <span v-if="lies" class="soft facts">
        {{ count(lies.file.notes, 'note') }},
        {{ lies.stops > 0 ? count(lies.stops, 'stop') : 'no stop' }}
      </span>
      <button type="button" class="link shut" @click="places.opened = null">close</button>
    </p>
    <p v-if="!lies" class="soft">
      Empty{{ slot.says ? `; it takes ${slot.says}` : '' }}. Carry bars here.
    </p>
    <p v-else-if="!slot.takes(lies.file.bars)" class="wax">
      {{ lies.file.bars }} bars long; it takes {{ slot.says }}.
    </p>
    <div v-if="lies" class="does">
      <NInputNumber
        v-if="placed"
        class="n"
        size="small"
        :value="placed.fromBar"
        :min="1"
        :max="total"
        :disabled="job.readOnly"
        :input-props="{ 'aria-label': 'First bar of the place' }"
        @update:value="set($event, Math.min(bars, total - ($event ?? 1) + 1))"
      >
        <template #prefix>bar</template>
      </NInputNumber>
      <NInputNumber
        v-if="placed"
        class="n"
        size="small"
        :value="bars"
        :min="0.5"
        :step="bars > 1 ? 1 : 0.5"
        :max="Math.min(64, total - placed.fromBar + 1)"
        :disabled="job.readOnly"
        :input-props="{ 'aria-label': 'Length of the place in bars' }"
        @update:value="set(placed.fromBar, $event)"
      >
        <template #suffix>bars</template>
      </NInputNumber>
      <NButton size="small" @click="places.hear(slot)">{{ heard ? 'Stop' : 'Hear' }}</NButton>
      <NButton
        v-if="!shown"
        size="small"
        title="Show it on the sheet"
        @click="job.showPiece(lies.piece)"
      >
        Show
      </NButton>
      <NButton
        v-if="placed"
        size="small"
        title="Take it up, to lay it elsewhere"
        @click="places.takeFrom(slot)"
      >
        Move
      </NButton>
      <NButton v-if="placed" size="small" :disabled="job.readOnly" @click="places.empty(slot)">
        Empty
      </NButton>
    </div>
  </section>
</template>

<style scoped>
.opened {
  position: sticky;
  bottom: -6px;
  z-index: 2;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
  padding: 8px 10px;
  border: 1px solid var(--quill);
  border-radius: 5px;
  background: var(--page);
}

.opened p {
  margin: 0;
}

.head {
  display: flex;
  gap: 8px;
  align-items: baseline;
}

.shut {
  margin-left: 6px;
}

.does {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
}

.n {
  flex: 1 1 96px;
}

.facts {
  margin-left: auto;
}

.wax {
  color: var(--wax);
}
</style>
