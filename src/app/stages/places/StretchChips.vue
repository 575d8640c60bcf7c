<script setup lang="ts">
import { computed } from 'vue';
import { count, sayTimes } from '../../../core/target/words';
import { sayStretch, usePlaces, type Carried } from '../../stores/places';
import type { Carry } from './use-carry';

/** What may be carried: whole songs, what stands between markers, what repeats, what was chosen. */
defineProps<{ carry: Carry }>();
const places = usePlaces();
const several = computed(() => places.songs.length > 1);
const chips = computed(() => {
  const out: (Carried & { readonly says: string })[] = [];
  if (places.chosen) out.push({ ...places.chosen, says: sayStretch(places.chosen) });
  places.songs.forEach(({ file, stretches, notes }, song) => {
    out.push({
      song,
      fromBar: 1,
      bars: notes.length,
      name: several.value ? file : 'The whole song',
      says: count(notes.length, 'bar'),
    });
    for (const s of stretches) {
      const { name, fromBar, bars, times } = s;
      const again = times > 1 ? `, ${sayTimes(times)}` : '';
      out.push({ song, fromBar, bars, name, says: `${sayStretch({ fromBar, bars })}${again}` });
    }
  });
  return out;
});
const isHeld = (c: Carried) => {
  const now = places.inHand;
  return now?.song === c.song && now.fromBar === c.fromBar && now.bars === c.bars;
};
</script>

<template>
  <ul class="chips" aria-label="Bars to carry">
    <li v-for="(c, i) in chips" :key="`${c.song}/${c.fromBar}/${c.bars}/${c.name}/${i}`">
      <button
        type="button"
        :aria-pressed="isHeld(c)"
        :title="`${c.name}: drag it to a place, or press it and then the place`"
        @pointerdown="carry.carry($event, c)"
        @click="carry.click(() => (isHeld(c) ? places.letGo() : places.take(c)))"
      >
        <b>{{ c.name }}</b> <span>{{ c.says }}</span>
      </button>
    </li>
  </ul>
</template>

<style scoped>
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  max-height: 92px;
  margin: 0;
  padding: 2px;
  overflow-y: auto;
  list-style: none;
}

li {
  max-width: 100%;
}

button {
  display: flex;
  gap: 6px;
  align-items: baseline;
  max-width: min(250px, 100%);
  min-height: 26px;
  padding: 2px 9px;
  border: 1px solid var(--line);
  border-bottom-width: 2px;
  border-radius: 5px;
  background: var(--page);
  color: var(--ink);
  font: 12px/18px var(--sans);
  cursor: grab;
  touch-action: none;
}

button b {
  overflow: hidden;
  font-weight: 600;
  text-overflow: ellipsis;
  white-space: nowrap;
}

button span {
  flex: none;
  color: var(--ink-2);
}

button[aria-pressed='true'] {
  border-color: var(--quill);
  background: var(--quill);
}

button[aria-pressed='true'] :is(b, span) {
  color: var(--on-quill);
}
</style>
