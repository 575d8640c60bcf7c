<script setup lang="ts">
import { Play } from '@lucide/vue';
import { extent } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { useTimeoutFn } from '@vueuse/core';
import { computed, onBeforeUnmount, shallowRef, watch } from 'vue';
import type { FindingView, MendView } from '../../worker/run-protocol';
import { useJob, type LaidPiece } from '../stores/job';
import { usePlaying } from '../stores/playing';
import { NOTHING_TRIED } from '../stores/tried';

/** The bars that a note is about, as they are and as its first mend would have them; each is heard. */
const props = defineProps<{ finding: FindingView; mend: MendView }>();
const job = useJob();
const playing = usePlaying();

const W = 124;
const H = 46;
const MOST_BARS = 4;
/** A piece of more notes is not run again for a small picture. */
const MOST_NOTES = 20_000;
const MOST_DRAWN = 400;
const after = shallowRef<{ piece: LaidPiece; shiftMs: number } | null>(null);
const now = computed(() => job.shown?.delivered ?? null);
const named = computed(() => new Set(props.finding.notes));

/** The bars of the first place, by the clock of what is shown. */
const stretch = computed(() => {
  const piece = now.value;
  const span = props.finding.spans[0];
  if (!piece || !span) return null;
  const first = piece.bars.barAt(span.fromTick);
  const last = Math.min(
    first + MOST_BARS - 1,
    piece.bars.barAt(Math.max(span.fromTick, span.toTick - 1)),
  );
  return {
    fromMs: piece.clock.msAt(piece.bars.barStart(first)),
    toMs: piece.clock.msAt(piece.bars.barStart(last + 1)),
  };
});

let round = 0;
const { start } = useTimeoutFn(
  async () => {
    const mine = ++round;
    const notes = now.value?.parts.reduce((n, p) => n + p.columns.count, 0) ?? 0;
    if (notes > MOST_NOTES || !stretch.value) return;
    const found = await job.peek(props.mend.steps);
    if (mine === round) after.value = found;
  },
  250,
  { immediate: false },
);
watch(
  [() => props.finding.key, () => JSON.stringify(props.mend.steps), () => job.shown],
  () => {
    round++;
    after.value = null;
    start();
  },
  { immediate: true },
);

interface Bar {
  readonly x: number;
  readonly w: number;
  readonly key: number;
  readonly named: boolean;
}
function notesIn(piece: LaidPiece, fromMs: number, toMs: number): Bar[] {
  const out: Bar[] = [];
  const x = scaleLinear([fromMs, toMs], [0, W]);
  for (const part of piece.parts) {
    if (part.leftOut) continue;
    const { columns } = part;
    for (let i = 0; i < columns.count && out.length < MOST_DRAWN; i++) {
      const at = piece.clock.msAt(columns.start[i]!);
      const end = piece.clock.msAt(columns.end[i]!);
      if (at >= toMs || end <= fromMs) continue;
      const left = Math.max(0, x(at));
      out.push({
        x: left,
        w: Math.max(1.5, Math.min(W, x(end)) - left),
        key: columns.noteNumber[i]!,
        named: named.value.has(columns.id[i]!) || named.value.has(columns.origin[i]!),
      });
    }
  }
  return out;
}
const pictures = computed(() => {
  const bars = stretch.value;
  if (!bars || !now.value || !after.value) return null;
  const { piece, shiftMs } = after.value;
  const was = notesIn(now.value, bars.fromMs, bars.toMs);
  const is = notesIn(piece, bars.fromMs + shiftMs, bars.toMs + shiftMs);
  const [low = 60, high = 72] = extent([...was, ...is], (n) => n.key);
  const y = scaleLinear([low - 1, high + 1], [H - 3, 3]);
  const laid = (list: Bar[]) => list.map((n) => ({ ...n, y: y(n.key) }));
  return [
    { id: 'as-is', says: 'As it is', notes: laid(was), steps: [], shiftMs: 0 },
    { id: 'mended', says: 'Mended', notes: laid(is), steps: props.mend.steps, shiftMs },
  ] as const;
});

/** These bars round and round, as they are or mended; nothing of it is in the plan. */
let heard = false;
function hear(of: { steps: readonly MendView['steps'][number][]; shiftMs: number }) {
  const bars = stretch.value;
  if (!bars) return;
  heard = true;
  playing.listen = 'delivered';
  playing.tried = { ...NOTHING_TRIED, steps: [...of.steps] };
  const fromMs = Math.max(0, bars.fromMs + of.shiftMs);
  playing.setLoop({ fromMs, toMs: bars.toMs + of.shiftMs });
  playing.seek(fromMs);
  void playing.play();
}
onBeforeUnmount(() => {
  round++;
  if (!heard) return;
  playing.tried = NOTHING_TRIED;
  playing.setLoop(null);
  playing.stop();
});
</script>

<template>
  <div v-if="pictures" class="pair">
    <figure v-for="p in pictures" :key="p.id">
      <svg :viewBox="`0 0 ${W} ${H}`" aria-hidden="true">
        <rect
          v-for="(n, i) in p.notes"
          :key="i"
          :class="{ named: n.named, mended: p.id === 'mended' }"
          :x="n.x"
          :y="n.y - 1.5"
          :width="n.w"
          height="3"
        />
      </svg>
      <figcaption>
        <button class="plain" type="button" @click.stop="hear(p)">
          <Play :size="11" fill="currentColor" /> {{ p.says }}
        </button>
      </figcaption>
    </figure>
  </div>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  margin-top: 6px;
}

figure {
  margin: 0;
}

figure > svg {
  display: block;
  width: 100%;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--page);
}

rect {
  fill: var(--edge);
}

rect.named {
  fill: var(--wax);
}

rect.named.mended {
  fill: var(--moss);
}

button {
  display: flex;
  gap: 5px;
  align-items: center;
  min-height: 24px;
  color: var(--quill);
  font-size: 12px;
}
</style>
