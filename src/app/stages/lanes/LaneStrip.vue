<script setup lang="ts">
import { scaleLinear } from 'd3-scale';
import { computed } from 'vue';
import type { PartView } from '../../../core/wire/view';
import { eachIn } from '../../close-up/geometry';
import { useLooking } from '../../stores/looking';
import { usePlaying } from '../../stores/playing';
import { useJob } from '../../stores/job';

/** Four bars of lanes, one part under the other on the same bars: what stays and what goes is seen. */
const props = defineProps<{
  parts: readonly {
    readonly name: string;
    readonly part: PartView | null;
    readonly laneNotes: readonly number[];
  }[];
}>();
const BARS = 4;
const WIDTH = 420;
const LANE = 6;
const GAP = 7;
const job = useJob();
const looking = useLooking();
const playing = usePlaying();

const piece = computed(() => job.shown?.delivered ?? null);
/** From the chosen bars, else from where the music is. */
const firstBar = computed(() => {
  const p = piece.value;
  if (!p) return 0;
  const first = p.firstTick ?? 0;
  const at = looking.chosenSpan?.fromTick ?? (playing.shownTick > 0 ? playing.shownTick : first);
  return p.bars.barAt(Math.max(0, at));
});
const span = computed(() => {
  const p = piece.value;
  return p
    ? { from: p.bars.barStart(firstBar.value), to: p.bars.barStart(firstBar.value + BARS) }
    : { from: 0, to: 1 };
});
const x = computed(() => scaleLinear([span.value.from, span.value.to], [0, WIDTH]).clamp(true));
const rows = computed(() => {
  let top = 0;
  return props.parts.map(({ name, part, laneNotes }) => {
    const y = top;
    top += laneNotes.length * LANE + GAP;
    let path = '';
    let notes = 0;
    const { from, to } = span.value;
    if (part)
      eachIn(part, from, to, ({ start, end, noteNumber }, i) => {
        const lane = laneNotes.indexOf(noteNumber[i]!);
        if (lane < 0 || start[i]! < from) return;
        notes++;
        const left = x.value(start[i]!);
        const wide = Math.max(3, x.value(end[i]!) - left - 0.5);
        path += `M${left.toFixed(1)} ${y + lane * LANE + 1}h${wide.toFixed(1)}v${LANE - 2}h${(-wide).toFixed(1)}z`;
      });
    return { name, y, lanes: laneNotes.length, path, notes };
  });
});
const height = computed(() =>
  Math.max(10, props.parts.reduce((n, p) => n + p.laneNotes.length * LANE + GAP, 0) - GAP),
);
const bars = computed(() =>
  Array.from({ length: BARS + 1 }, (_, i) =>
    x.value(piece.value!.bars.barStart(firstBar.value + i)),
  ),
);
const label = computed(
  () =>
    `Bars ${firstBar.value + 1} to ${firstBar.value + BARS}: ${rows.value
      .map((r) => `${r.name} ${r.notes} notes`)
      .join(', ')}`,
);
</script>

<template>
  <svg
    v-if="piece"
    class="lanes"
    :viewBox="`0 0 ${WIDTH} ${height}`"
    role="img"
    :aria-label="label"
  >
    <g v-for="row in rows" :key="row.name">
      <path
        class="ground"
        :d="
          Array.from({ length: row.lanes }, (_, i) => `M0 ${row.y + i * 6 + 3}H${WIDTH}`).join('')
        "
      />
      <path class="notes" :d="row.path" />
    </g>
    <path class="bars" :d="bars.map((b) => `M${b} 0V${height}`).join('')" />
  </svg>
</template>

<style scoped>
.lanes {
  width: 100%;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--page);
}

.ground {
  fill: none;
  stroke: var(--line);
  stroke-width: 0.5;
}

.bars {
  fill: none;
  stroke: var(--ink-2);
  stroke-width: 0.6;
  opacity: 0.6;
}

.notes {
  fill: var(--ink);
}
</style>
