<script setup lang="ts">
import { scaleLinear } from 'd3-scale';
import { computed, shallowRef, watch } from 'vue';
import { SILENT_DB } from '../../../core/sound/levels';
import type { PartView } from '../../../core/wire/view';
import { useJob } from '../../stores/job';
import { loudnessOf } from '../../stores/loudness';
import { useSeating } from '../../stores/seating';

/** How loud a part is as it is heard here, beside the middle of all that are seated. */
const props = defineProps<{ part: PartView }>();
const job = useJob();
const seating = useSeating();

const LEAST_DB = -60;
/** Of many parts some tell the middle. */
const MOST_OTHERS = 12;
const levels = shallowRef<{ own: number; middle: number | null } | null>(null);
let asked = 0;
async function measure() {
  const mine = ++asked;
  try {
    const own = await loudnessOf(props.part);
    const heard: number[] = [];
    const others = seating.all.filter((p) => !p.leftOut && p.id !== props.part.id);
    for (const other of others.slice(0, MOST_OTHERS)) {
      const db = await loudnessOf(other);
      if (mine !== asked) return;
      if (db !== null && db > SILENT_DB) heard.push(db);
    }
    if (mine !== asked) return;
    heard.sort((a, b) => a - b);
    levels.value = own === null ? null : { own, middle: heard[heard.length >> 1] ?? null };
  } catch {
    // Without a bank there is no meter; what is wrong with the sound is said where it plays.
    levels.value = null;
  }
}
watch([() => job.shown, () => props.part.id], measure, { immediate: true });

const x = scaleLinear([LEAST_DB, 0], [0, 100]).clamp(true);
const says = computed(() => {
  if (!levels.value) return '';
  const { own, middle } = levels.value;
  if (own <= SILENT_DB) return 'nothing is heard of it';
  const by = middle === null ? null : Math.round(own - middle);
  const level = `${own < 0 ? '−' : ''}${Math.abs(Math.round(own))} dB`;
  if (by === null) return level;
  if (Math.abs(by) < 2) return `${level}, as loud as the others`;
  return `${level}, ${Math.abs(by)} dB ${by > 0 ? 'louder' : 'softer'} than the others`;
});
</script>

<template>
  <div v-if="levels" class="meter" role="img" :aria-label="`Heard here: ${says}`">
    <span class="track" aria-hidden="true">
      <span class="own" :style="{ width: `${x(levels.own)}%` }"></span>
      <span
        v-if="levels.middle !== null"
        class="middle"
        :style="{ left: `${x(levels.middle)}%` }"
      />
    </span>
    <span class="soft">{{ says }}</span>
  </div>
</template>

<style scoped>
.meter {
  display: flex;
  gap: 9px;
  align-items: center;
  font-size: 12px;
}

.track {
  position: relative;
  flex: none;
  width: 120px;
  height: 9px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--page);
}

.own {
  display: block;
  height: 100%;
  border-radius: 3px 0 0 3px;
  background: var(--ink-2);
}

.middle {
  position: absolute;
  top: -3px;
  bottom: -3px;
  width: 2px;
  background: var(--quill);
}
</style>
