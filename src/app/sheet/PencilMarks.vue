<script setup lang="ts">
import { Pencil } from '@lucide/vue';
import { computed } from 'vue';
import { useLooking } from '../stores/looking';
import { useRehearsal } from '../stores/rehearsal';
import { rowAt, xOf, type SheetLayout } from './layout';

/** What was tried and heard, at its place, until it is done. */
const props = defineProps<{ layout: SheetLayout; rows: ReadonlySet<number> }>();
const looking = useLooking();
const rehearsal = useRehearsal();
const marks = computed(() =>
  looking.before || looking.trial
    ? []
    : rehearsal.notes.flatMap(({ note, tick, ms }) => {
        const row = rowAt(props.layout, tick);
        if (note.done || !props.rows.has(row.index)) return [];
        const top = row.top + props.layout.headHeight + props.layout.areaHeight - 22;
        return [{ note, ms, tick, x: xOf(props.layout, row, tick) - 4, y: top }];
      }),
);
function go(ms: number, tick: number) {
  rehearsal.go(ms * 1000);
  looking.bring(tick);
}
</script>

<template>
  <button
    v-for="m in marks"
    :key="m.note.key"
    type="button"
    class="plain pencil"
    :style="{ transform: `translate(${m.x}px, ${m.y}px)` }"
    :aria-label="`Heard: ${m.note.says}`"
    :title="m.note.says"
    @click="go(m.ms, m.tick)"
  >
    <Pencil :size="15" aria-hidden="true" />
  </button>
</template>

<style scoped>
.pencil {
  position: absolute;
  top: 0;
  left: 0;
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
  border: 1px solid var(--edge);
  border-radius: 12px;
  background: var(--page);
  color: var(--ink-2);
}
</style>
