<script setup lang="ts">
import { turnedOf } from './turned';
import { NSelect } from 'naive-ui';
import { useElementSize, useScroll } from '@vueuse/core';
import { computed, markRaw, ref } from 'vue';
import { reachOf } from '../../core/target/limits';
import { useHand } from '../stores/hand';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { useRecording } from '../stores/recording';
import { useSettings } from '../stores/settings';
import SeverityMark from '../margin/SeverityMark.vue';
import { inkOf } from './inks';
import { bandsOf, BARS_PER_ROW, layOut } from './layout';
import MarkLayer from './MarkLayer.vue';
import { marksOf } from './marks';
import type { Ground } from './paint-input';
import PencilMarks from './PencilMarks.vue';
import PlayHead from './PlayHead.vue';
import SheetRow from './SheetRow.vue';
import SpokenLine from './SpokenLine.vue';
import { useFollower } from './use-follower';
import { useSheetKeys } from './use-sheet-keys';
import { useSheetPointer } from './use-sheet-pointer';
import { scaleFor } from './wave';

const job = useJob();
const looking = useLooking();
const settings = useSettings();
const hand = useHand();
const recording = useRecording();

const frame = ref<HTMLElement>();
const { width, height } = useElementSize(frame);
const { y: scrollTop } = useScroll(frame);

const piece = computed(() => looking.piece);
const layout = computed(() => {
  if (!piece.value || width.value < 50) return null;
  return markRaw(
    layOut({
      bars: piece.value.bars,
      endTick: piece.value.endTick,
      barsPerRow: settings.barsPerRow,
      width: width.value,
      height: Math.max(120, height.value - 6),
      wave: recording.listened !== null,
    }),
  );
});
const bands = computed(() =>
  piece.value && layout.value
    ? bandsOf(piece.value.parts, layout.value.areaHeight, job.target)
    : [],
);
const wave = computed(() =>
  recording.listened
    ? markRaw({
        peaks: recording.listened.peaks,
        layout: recording.shownLayout,
        scale: scaleFor(recording.listened.facts.peak),
      })
    : null,
);
const inks = computed(() => (piece.value?.parts ?? []).map((_, i) => inkOf(i, settings.light)));

/** Where nothing may stand: a rest that is owed, and past the end of the music. */
const ground = computed<Ground[]>(() => {
  if (!piece.value || !layout.value) return [];
  const out: Ground[] = [];
  if (!looking.before && !looking.trial)
    for (const f of job.findingsHere) {
      const span = f.spans[0];
      if (!span || f.reason !== null) continue;
      const owed = f.mends[0]?.title.replace('Put back ', '');
      if (f.code === 'rest-owed')
        out.push({ ...span, says: [`nothing may stand here: ${owed} owed`, `${owed} owed`] });
      if (f.code === 'first-note')
        out.push({ ...span, says: ['nothing may stand here yet', 'not yet'] });
    }
  const last = layout.value.rows.at(-1)!;
  out.push({ fromTick: piece.value.endTick, toTick: last.toTick, says: [] });
  return out;
});
const range = computed(() =>
  job.target?.notes && !looking.before ? reachOf(job.target, { seat: null }) : null,
);
const turned = computed(() => turnedOf(job.target));
const spans = computed(() =>
  looking.before || looking.trial ? [] : (looking.openFinding?.spans ?? []),
);

const MARGIN_PX = 240;
const rows = computed(() => {
  const l = layout.value;
  const p = piece.value;
  if (!l || !p) return [];
  const from = scrollTop.value - MARGIN_PX;
  const to = scrollTop.value + height.value + MARGIN_PX;
  return l.rows.filter((row) => row.top + l.rowHeight > from && row.top < to);
});
/** What every row is painted from; a new object when any of it changes. */
const shared = computed(() => {
  const l = layout.value;
  const p = piece.value;
  if (!l || !p) return null;
  return {
    layout: l,
    piece: p,
    bands: bands.value,
    inks: inks.value,
    light: settings.light,
    chosen: looking.outlined,
    spans: spans.value,
    ground: ground.value,
    ghosts: looking.before ? [] : (looking.trial?.ghosts ?? []),
    range: range.value,
    pitched: !(job.target?.seats.some((s) => s.kind === 'laneGroup') ?? false),
    wave: wave.value,
    turned: turned.value,
  };
});
const paints = computed(() => {
  const base = shared.value;
  if (!base) return new Map();
  return new Map(base.layout.rows.map((row) => [row.index, markRaw({ ...base, row })]));
});

const marked = computed(() =>
  piece.value && layout.value && !looking.before && !looking.trial
    ? marksOf(job.findingsHere, piece.value, layout.value, bands.value)
    : { marks: [], further: [], whole: [] },
);
const visible = computed(() => new Set(rows.value.map((r) => r.index)));
const byKey = computed(() => new Map(job.findings.map((f) => [f.key, f])));
const whole = computed(() => marked.value.whole.map((key) => byKey.value.get(key)!));

const { bringTick } = useFollower({ frame, layout });

const { sweep, down, moved, up, cancel, tickUnder } = useSheetPointer({
  frame,
  piece,
  layout,
  bands,
});
const { key } = useSheetKeys({ frame, piece, layout, bring: bringTick });

/** A bar that is looked at closely. */
function look(event: MouseEvent) {
  const tick = tickUnder(event);
  if (tick === null) return;
  if (hand.open) hand.show(tick);
  else hand.toggle(tick);
}

const perRow = computed({
  get: () => settings.barsPerRow,
  set: (n: number) => (settings.barsPerRow = n),
});
const rowOptions = [
  { label: 'Fit', value: 0 },
  ...BARS_PER_ROW.map((n) => ({ label: n === 1 ? '1 bar a row' : `${n} bars a row`, value: n })),
];
const pick = (k: string) => looking.lookAt(looking.finding === k ? null : k);
</script>

<template>
  <section class="sheet-side" aria-label="Sheet">
    <div class="strip">
      <NSelect
        v-model:value="perRow"
        class="rows"
        size="tiny"
        :options="rowOptions"
        aria-label="Bars in a row"
      />
      <span v-if="whole.length > 0" class="whole">
        <span class="soft">On the whole piece</span>
        <button
          v-for="f in whole"
          :key="f.key"
          class="plain mark-button"
          type="button"
          :class="{ open: looking.finding === f.key }"
          :aria-label="`Note ${f.number}, ${f.severity}: ${f.title}`"
          :title="f.title"
          @click="pick(f.key)"
        >
          <SeverityMark :severity="f.severity" :text="f.number" :quiet="f.reason !== null" />
        </button>
      </span>
      <SpokenLine class="spoken" />
    </div>
    <div
      ref="frame"
      class="frame"
      tabindex="0"
      role="application"
      aria-roledescription="sheet of music"
      aria-label="Sheet. Arrow keys move the place by beats and rows."
      @pointerdown="down"
      @pointermove="moved"
      @pointerup="up"
      @pointercancel="cancel"
      @dblclick="look"
      @keydown="key"
    >
      <div v-if="layout && shared" class="paper" :style="{ height: `${layout.height}px` }">
        <SheetRow v-for="row in rows" :key="row.index" :paint="paints.get(row.index)!" />
        <MarkLayer :marked="marked" :rows="visible" />
        <PencilMarks :layout="layout" :rows="visible" />
        <PlayHead :layout="layout" />
        <div
          v-if="sweep"
          class="sweep"
          :style="{
            left: `${Math.min(sweep.fromX, sweep.toX)}px`,
            top: `${Math.min(sweep.fromY, sweep.toY)}px`,
            width: `${Math.abs(sweep.toX - sweep.fromX)}px`,
            height: `${Math.abs(sweep.toY - sweep.fromY)}px`,
          }"
        ></div>
      </div>
    </div>
  </section>
</template>

<style scoped>
.sheet-side {
  display: grid;
  grid-template-rows: 34px minmax(0, 1fr);
  min-width: 0;
  min-height: 0;
}

.strip {
  display: flex;
  gap: 14px;
  align-items: center;
  padding: 0 14px;
  overflow: hidden;
}

.rows {
  flex: none;
  width: 122px;
}

/* Many of them in a narrow window are scrolled through. */
.whole {
  display: inline-flex;
  flex: 0 1 auto;
  gap: 2px;
  align-items: center;
  min-width: 60px;
  overflow: auto hidden;
  scrollbar-width: none;
}

.whole > * {
  flex: none;
}

@media (width <= 860px) {
  .whole .soft,
  .spoken {
    display: none;
  }
}

.spoken {
  flex: 1;
  min-width: 0;
}

.frame {
  position: relative;
  min-height: 0;
  overflow: hidden auto;
  scrollbar-gutter: stable;
  user-select: none;
}

.frame:focus-visible {
  outline-offset: -2px;
}

.paper {
  position: relative;
  margin-top: 4px;
}

.mark-button {
  display: grid;
  place-items: center;
  min-width: 24px;
  height: 24px;
  border-radius: 12px;
}

.whole .open {
  box-shadow:
    0 0 0 2px var(--page),
    0 0 0 4px var(--ink);
}

.sweep {
  position: absolute;
  border: 1px solid var(--quill);
  background: color-mix(in srgb, var(--quill) 14%, transparent);
  pointer-events: none;
}
</style>
