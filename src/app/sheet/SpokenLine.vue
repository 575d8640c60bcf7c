<script setup lang="ts">
import { computed } from 'vue';
import { sayClock, sayPlace } from '../../core/time/meter-map';
import { count, noteName } from '../../core/target/words';
import { useLooking } from '../stores/looking';
import { usePlaying } from '../stores/playing';

/** The place and what is chosen, in words: for the eye, and for who listens to the page. */
const looking = useLooking();
const playing = usePlaying();
const spoken = computed(() => {
  const p = looking.piece;
  if (!p) return '';
  const tick = playing.shownTick;
  const where = playing.playing
    ? ''
    : `${sayPlace(p.bars.placeAt(tick))}, ${sayClock(p.clock.msAt(tick))}. `;
  const n = looking.chosen.size;
  if (n === 1) {
    const [id] = looking.chosen;
    for (const part of p.parts) {
      const i = part.columns.id.indexOf(id!);
      if (i >= 0)
        return `${where}${part.name}, ${noteName(part.columns.noteNumber[i]!)}, velocity ${part.columns.velocity[i]}, at ${sayPlace(p.bars.placeAt(part.columns.start[i]!))}`;
    }
  }
  return n > 0 ? `${where}${count(n, 'note')} chosen` : where.replace(/\. $/, '');
});
</script>

<template>
  <span class="spoken soft" aria-live="polite">{{ spoken }}</span>
</template>

<style scoped>
.spoken {
  overflow: hidden;
  font-size: 12px;
  text-align: right;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
