<script setup lang="ts">
import FoldedPart from '../kit/FoldedPart.vue';
import { Undo2 } from '@lucide/vue';
import { computed } from 'vue';
import type { PlanStep } from '../../core/plan/plan';
import type { HandEdit, HandNote } from '../../core/steps/by-hand';
import { count, noteName } from '../../core/target/words';
import { useJob } from '../stores/job';

/** What was done by hand in one sitting, note by note; each line is undone by itself. */
const props = defineProps<{ step: PlanStep }>();
const job = useJob();

const MOST = 200;
const params = computed(
  () => props.step.params as { edits?: readonly HandEdit[]; drawn?: readonly HandNote[] },
);
const signed = (n: number) => (n > 0 ? `+${n}` : `−${-n}`);
const say = (e: HandEdit) =>
  e.gone
    ? 'taken out'
    : [
        e.ticks ? `${signed(e.ticks)} ticks` : '',
        e.us ? `${signed(Math.round(e.us / 1000))} ms` : '',
        e.semitones ? `${signed(e.semitones)} semitones` : '',
        e.longerTicks ? `length ${signed(e.longerTicks)} ticks` : '',
        e.louder ? `velocity ${signed(e.louder)}` : '',
      ]
        .filter(Boolean)
        .join(', ');
const lines = computed(() => {
  const notes = props.step.scope.notes ?? [];
  const { edits = [], drawn = [] } = params.value;
  return [
    ...edits.flatMap((edit) => {
      const note = notes[edit.note];
      const says = say(edit);
      if (!note || says === '') return [];
      const what = `${note.part.track || `channel ${note.part.channel}`}, ${noteName(note.noteNumber)} at tick ${note.startTick}`;
      return [{ key: `e${edit.note}`, says: `${what}: ${says}`, edit, drawn: null }];
    }),
    ...drawn.map((d, i) => ({
      key: `d${i}`,
      says: `${d.part.track || `channel ${d.part.channel}`}, ${noteName(d.noteNumber)} at tick ${d.tick}: drawn`,
      edit: null,
      drawn: d,
    })),
  ];
});

function undo(line: (typeof lines.value)[number]) {
  const { edits = [], drawn = [] } = params.value;
  const next = {
    edits: edits.filter((e) => e !== line.edit),
    drawn: drawn.filter((d) => d !== line.drawn),
  };
  if (next.edits.length + next.drawn.length === 0) {
    job.removeStep(props.step.key, 'Nothing by hand any more');
    return;
  }
  // Places of notes that are edited no more go too: nothing is named that is not meant.
  const kept = next.edits.map((e) => e.note);
  const notes = (props.step.scope.notes ?? []).filter((_, i) => kept.includes(i));
  const place = new Map(kept.toSorted((a, b) => a - b).map((n, i) => [n, i]));
  const changed = {
    edits: next.edits.map((e) => ({ ...e, note: place.get(e.note)! })),
    drawn: next.drawn,
  };
  const scope = notes.length > 0 ? { notes } : {};
  job.editStep(props.step.key, { ...props.step, params: changed, scope }, `Undone: ${line.says}`);
}
</script>

<template>
  <FoldedPart class="lines" :title="count(lines.length, 'line')">
    <ul>
      <li v-for="line in lines.slice(0, MOST)" :key="line.key">
        <span>{{ line.says }}</span>
        <button
          class="icon"
          type="button"
          :disabled="job.readOnly"
          :aria-label="`Undo: ${line.says}`"
          title="Undo this line alone"
          @click="undo(line)"
        >
          <Undo2 :size="14" />
        </button>
      </li>
    </ul>
    <p v-if="lines.length > MOST" class="soft">
      The first {{ MOST }} of {{ lines.length.toLocaleString('en-GB') }} are listed.
    </p>
  </FoldedPart>
</template>

<style scoped>
.lines {
  font-size: 12px;
}

.lines > :deep(summary) {
  width: fit-content;
  color: var(--quill);
}

ul {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 1px;
  max-height: 220px;
  margin: 4px 0 0;
  padding: 0;
  overflow: auto;
  list-style: none;
}

li {
  display: flex;
  gap: 6px;
  align-items: center;
  justify-content: space-between;
}
</style>
