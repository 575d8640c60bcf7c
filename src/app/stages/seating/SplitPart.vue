<script setup lang="ts">
import { NButton, NInputNumber, NSelect } from 'naive-ui';
import { watchDebounced } from '@vueuse/core';
import { computed, ref, shallowRef } from 'vue';
import { keyCounts } from '../../../core/seating/key-use';
import { rolesParted } from '../../../core/seating/suspect';
import type { StepCall } from '../../../core/steps/call';
import { count, noteName } from '../../../core/target/words';
import type { PartView } from '../../../core/wire/view';
import { useJob } from '../../stores/job';
import KeyStrip from './KeyStrip.vue';

/** One part made several: what each would get is worked out and shown before it is a step. */
const props = defineProps<{ part: PartView }>();
const emit = defineEmits<{ close: [] }>();
const job = useJob();

const WAYS = [
  { label: 'By pitch', value: 'key' },
  { label: 'By hand', value: 'hand' },
  { label: 'By voice', value: 'voice' },
  { label: 'By velocity', value: 'velocity' },
  { label: 'By place in the chord', value: 'column' },
  { label: 'In turn, strike by strike', value: 'turn' },
];
const by = ref('key');
const counts = computed(() => keyCounts([props.part.columns]));
/** Where nothing is played between two bands of keys, two roles may lie. */
const parted = rolesParted(counts.value);
const border = ref(parted?.above ?? Math.round((props.part.lowest + props.part.highest) / 2));
const setBorder = (key: number) =>
  (border.value = Math.max(props.part.lowest + 1, Math.min(props.part.highest, key)));
const velocity = ref(64);
const voices = ref(2);
const params = computed(() => {
  if (by.value === 'key') return { by: by.value, at: border.value };
  if (by.value === 'velocity') return { by: by.value, at: velocity.value };
  return by.value === 'hand' ? { by: by.value } : { by: by.value, voices: voices.value };
});
const call = computed<StepCall>(() => ({
  step: 'split',
  params: params.value,
  scope: { parts: [props.part.ref] },
  on: true,
}));

const pieces = shallowRef<readonly PartView[] | null>(null);
watchDebounced(
  call,
  async (asked) => {
    const before = new Set(job.shown?.delivered.parts.map((p) => p.name));
    const found = await job.tryOut([asked]);
    if (asked !== call.value || !found) return;
    pieces.value = found.piece.parts.filter((p) => !before.has(p.name));
  },
  { immediate: true, debounce: 120 },
);
const tellsApart = computed(() => (pieces.value?.length ?? 0) > 1);

function apply() {
  const how = WAYS.find((w) => w.value === by.value)!.label.toLowerCase();
  job.addSteps(`${props.part.name}: split ${how}`, [call.value]);
  emit('close');
}
</script>

<template>
  <div class="split">
    <div class="row">
      <NSelect v-model:value="by" size="small" :options="WAYS" aria-label="How it is split" />
      <NInputNumber
        v-if="by === 'voice' || by === 'column' || by === 'turn'"
        v-model:value="voices"
        class="voices"
        size="small"
        :min="2"
        :max="8"
        :input-props="{ 'aria-label': 'Into how many' }"
      />
    </div>
    <KeyStrip
      v-if="by === 'key'"
      :counts="counts"
      :allowed="null"
      :border="border"
      :label="`Keys of ${part.name}, parted before ${noteName(border)}`"
      @border="setBorder"
    />
    <p v-if="by === 'key' && parted && border === parted.above" class="soft small">
      Nothing is played between {{ noteName(parted.below) }} and {{ noteName(parted.above) }}: two
      roles may lie there.
    </p>
    <label v-if="by === 'key'" class="border">
      <span class="soft">The upper one begins at {{ noteName(border) }} ({{ border }})</span>
      <input
        v-model.number="border"
        type="range"
        :min="part.lowest + 1"
        :max="Math.max(part.lowest + 1, part.highest)"
        aria-label="Border between the two"
      />
    </label>
    <label v-if="by === 'velocity'" class="border">
      <span class="soft">The louder one begins at velocity {{ velocity }}</span>
      <input
        v-model.number="velocity"
        type="range"
        min="2"
        max="127"
        aria-label="Border between soft and loud"
      />
    </label>
    <ul v-if="pieces && tellsApart" class="pieces">
      <li v-for="p in pieces" :key="p.id">
        <p>
          {{ p.name }} <span class="soft">{{ count(p.columns.count, 'note') }}</span>
        </p>
        <KeyStrip :counts="keyCounts([p.columns])" :allowed="null" :label="`Keys of ${p.name}`" />
      </li>
    </ul>
    <p v-else-if="pieces" class="soft">All notes fall on one side: nothing would be split.</p>
    <div class="row">
      <NButton size="small" type="primary" :disabled="!tellsApart || job.readOnly" @click="apply">
        Split in {{ pieces && tellsApart ? pieces.length : 2 }}
      </NButton>
      <NButton size="small" @click="emit('close')">Close</NButton>
    </div>
  </div>
</template>

<style scoped>
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 7px;
}

.row {
  display: flex;
  gap: 6px;
}

.voices {
  flex: none;
  width: 90px;
}

.small {
  font-size: 12px;
}

.border {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 3px;
  font-size: 12px;
}

input[type='range'] {
  width: 100%;
  accent-color: var(--quill);
}

.pieces {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  margin: 0;
  padding: 0;
  font-size: 12px;
  list-style: none;
}
</style>
