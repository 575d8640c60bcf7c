<script setup lang="ts">
import { computed } from 'vue';
import type { Target } from '../../core/target/schema';
import TallyDots from '../margin/TallyDots.vue';
import { useFit, type Song } from '../stores/fit';
import { sayFit } from './say-fit';
import { useLeadOn } from '../kit/use-lead-on';

/** One song on one target: what stops it, and what it would take. */
const { song, target } = defineProps<{ song: Song; target: Target }>();
const fit = useFit();
const leadOn = useLeadOn();
const found = computed(() => fit.cell(song, target));
const known = computed(() => (found.value === 'unread' ? null : found.value));
const state = computed(() => {
  const f = known.value;
  if (!f) return 'none';
  return f.mended.stops > 0
    ? 'open'
    : f.kept === f.seated && f.out.parts === 0
      ? 'clean'
      : 'changed';
});
async function open() {
  const lead = leadOn();
  await lead(`/job/${await fit.openCell(song, target)}/proof`);
}
</script>

<template>
  <button
    type="button"
    class="cell"
    :class="state"
    :aria-label="`${song.title} on ${target.name}`"
    @click="open"
  >
    <template v-if="known">
      <TallyDots :tally="{ ...known.now, remarks: 0 }" />
      <span class="takes">{{ sayFit(known) }}</span>
    </template>
    <span v-else class="soft">{{ found === 'unread' ? 'not read' : 'not tried' }}</span>
  </button>
</template>

<style scoped>
.cell {
  display: flex;
  gap: 4px 12px;
  align-items: center;
  width: 100%;
  min-width: 150px;
  padding: 6px 10px;
  border: 0;
  border-left: 4px solid transparent;
  background: none;
  text-align: left;
  flex-wrap: wrap;
  cursor: pointer;
}

.cell:hover {
  background: var(--quill-wash);
}

.cell.open {
  border-left-color: var(--wax);
}

.cell.changed {
  border-left: 4px dotted var(--ochre);
}

.cell.clean {
  border-left-color: var(--moss);
}

.takes {
  color: var(--ink-2);
  font-size: 12px;
}
</style>
