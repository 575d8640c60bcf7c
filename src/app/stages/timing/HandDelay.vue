<script setup lang="ts">
import { NButton, NInputNumber } from 'naive-ui';
import { useEventListener } from '@vueuse/core';
import { median } from 'd3-array';
import { computed, ref } from 'vue';
import { usePlaying } from '../../stores/playing';
import { useSettings } from '../../stores/settings';

/** By how much the hand is late: eight clicks are tapped to, the median is kept. */
const playing = usePlaying();
const settings = useSettings();
const CLICKS = 8;
const EACH_MS = 600;
const FIRST_MS = 900;
const begun = ref<number | null>(null);
const taps = ref<number[]>([]);
const measuring = computed(() => begun.value !== null);

async function measure() {
  taps.value = [];
  const clicks = Array.from({ length: CLICKS }, (_, i) => FIRST_MS + i * EACH_MS);
  begun.value = await playing.hearClicks(clicks);
  setTimeout(end, FIRST_MS + CLICKS * EACH_MS);
}

function end() {
  begun.value = null;
  const found = median(taps.value);
  // Fewer say more of chance than of the hand.
  if (found !== undefined && taps.value.length >= CLICKS / 2)
    settings.handDelayMs = Math.max(0, Math.round(found));
}

useEventListener(
  window,
  'keydown',
  (event) => {
    if (begun.value === null || event.key.toLowerCase() !== 't' || event.repeat) return;
    event.preventDefault();
    event.stopPropagation();
    const at = performance.now() - begun.value;
    const click = Math.max(0, Math.min(CLICKS - 1, Math.round((at - FIRST_MS) / EACH_MS)));
    taps.value.push(at - (FIRST_MS + click * EACH_MS));
  },
  { capture: true },
);
</script>

<template>
  <div class="delay">
    <label>
      Hand’s delay
      <NInputNumber
        v-model:value="settings.handDelayMs"
        size="tiny"
        :min="0"
        :max="500"
        :show-button="false"
        :input-props="{ 'aria-label': 'Hand’s delay in milliseconds' }"
      >
        <template #suffix>ms</template>
      </NInputNumber>
    </label>
    <NButton size="tiny" :disabled="measuring" @click="measure">
      {{ measuring ? `Tap T to the clicks (${taps.length})` : 'Measure it…' }}
    </NButton>
  </div>
</template>

<style scoped>
.delay,
label {
  display: flex;
  gap: 6px;
  align-items: center;
}

.delay :deep(.n-input-number) {
  width: 72px;
}
</style>
