<script setup lang="ts">
import { NButton, NInput, NSelect } from 'naive-ui';
import { Ear } from '@lucide/vue';
import { useClipboard } from '@vueuse/core';
import Papa from 'papaparse';
import { computed, nextTick, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import type { Inventory, PartInventory } from '../../core/score/inventory';
import { drumName } from '../../core/seating/drum-kinds';
import { keyCounts } from '../../core/seating/key-use';
import { programName } from '../../core/seating/programs';
import { suspectsOf, type Suspicion } from '../../core/seating/suspect';
import { count, noteName } from '../../core/target/words';
import type { PartView } from '../../core/wire/view';
import InkSwatch from '../parts/InkSwatch.vue';
import { frames } from '../kit/frame-queue';
import FoldedPart from '../kit/FoldedPart.vue';
import { useByAndBy } from '../kit/use-by-and-by';
import { saveFile } from '../storage/save-file';
import { fileStem } from '../stores/handover';
import { useJob, type LaidPiece } from '../stores/job';
import { usePlaying } from '../stores/playing';
import KeyStrip from './seating/KeyStrip.vue';

/** The parts of a source as people write them down on paper: one entry each, with what it seems to be. */
const job = useJob();
const playing = usePlaying();

const search = ref('');
const order = ref<'file' | 'name' | 'notes' | 'channel' | 'range'>('file');
const ORDERS = [
  { label: 'As in the file', value: 'file' },
  { label: 'By name', value: 'name' },
  { label: 'By channel', value: 'channel' },
  { label: 'Most notes first', value: 'notes' },
  { label: 'Lowest first', value: 'range' },
];

interface Entry {
  readonly part: PartInventory;
  readonly view: PartView | null;
  readonly index: number;
  readonly counts: Uint32Array;
  readonly what: string;
  readonly suspects: readonly Suspicion[];
  readonly bars: string;
}

/** The length that half of the notes do not pass; of long parts a thousand notes tell it. */
function medianMs({ columns }: PartView, clock: { msAt(tick: number): number }): number {
  const step = Math.max(1, Math.floor(columns.count / 1000));
  const list: number[] = [];
  for (let i = 0; i < columns.count; i += step)
    list.push(clock.msAt(columns.end[i]!) - clock.msAt(columns.start[i]!));
  return list.sort((a, b) => a - b)[list.length >> 1] ?? 0;
}

/** What is counted of the parts is counted in a frame of its own: of a million notes it takes a while. */
const counted = shallowRef<{ piece: LaidPiece; inventory: Inventory } | null>(null);
watch(
  [() => job.shown?.source, () => job.source?.inventory],
  ([piece, inventory]) =>
    frames.add(counted, () => (counted.value = piece && inventory ? { piece, inventory } : null), {
      alone: true,
    }),
  { immediate: true },
);
onBeforeUnmount(() => frames.drop(counted));
const entries = computed<Entry[]>(() => {
  if (!counted.value) return [];
  const { piece, inventory } = counted.value;
  const roles = job.shown?.music.roles ?? [];
  return inventory.parts.map((part) => {
    const at = piece.parts.findIndex((p) => p.id === part.id);
    const view = piece.parts[at] ?? null;
    const counts = keyCounts(view ? [view.columns] : []);
    const drums = part.channel === 10;
    const what = drums
      ? `drums: ${count([...counts].filter((n) => n > 0).length, 'key')}`
      : part.programs.length === 0
        ? 'no program'
        : part.programs.map((p) => `${programName(p)} (${p + 1})`).join(', ');
    const bar = (tick: number) => piece.bars.barAt(tick) + 1;
    return {
      part,
      view,
      index: Math.max(0, at),
      counts,
      what,
      suspects: [
        ...roles.filter((r) => r.part === part.id),
        ...suspectsOf(part, counts, view ? medianMs(view, piece.clock) : 0),
      ],
      bars:
        part.firstTick === null || part.endTick === null
          ? ''
          : `bars ${bar(part.firstTick)}–${bar(Math.max(part.firstTick, part.endTick - 1))}`,
    };
  });
});
const many = computed(() => (job.source?.inventory.parts.length ?? 0) > 6);
const playingParts = computed(() => {
  const wanted = search.value.trim().toLowerCase();
  const list = entries.value.filter(
    (e) =>
      e.part.notes > 0 &&
      (wanted === '' ||
        `${e.part.name} ${e.what} ${e.suspects.map((s) => s.says).join(' ')}`
          .toLowerCase()
          .includes(wanted)),
  );
  const by: Record<typeof order.value, (a: Entry, b: Entry) => number> = {
    file: () => 0,
    name: (a, b) => a.part.name.localeCompare(b.part.name),
    channel: (a, b) => a.part.channel - b.part.channel,
    notes: (a, b) => b.part.notes - a.part.notes,
    range: (a, b) => (a.part.lowest ?? 0) - (b.part.lowest ?? 0),
  };
  return list.sort(by[order.value]);
});
const setUp = useByAndBy(() => playingParts.value.length, 2);
const silent = computed(() => entries.value.filter((e) => e.part.notes === 0));

/** As it came in, whatever the plan does to it. */
async function hearFirstBar({ part }: Entry) {
  playing.listen = 'source';
  await nextTick();
  await playing.hearBar({ part: part.id, at: part.firstTick ?? 0 });
}

/** Drum keys in use, the most struck first. */
const drumKeys = ({ counts }: Entry) =>
  [...counts.keys()]
    .filter((key) => counts[key]! > 0)
    .sort((a, b) => counts[b]! - counts[a]!)
    .map((key) => ({ key, name: drumName(key) ?? noteName(key), n: counts[key]! }));

const further = ({ part }: Entry) =>
  [
    `${count(part.polyphony, 'voice')} at once`,
    part.lowestVelocity === part.highestVelocity
      ? `velocity ${part.lowestVelocity}`
      : `velocity ${part.lowestVelocity}–${part.highestVelocity}`,
    part.controllers.length > 0 ? `controllers ${part.controllers.join(', ')}` : '',
    part.bends > 0 ? count(part.bends, 'bend') : '',
    part.aftertouch > 0 ? `${part.aftertouch} aftertouch` : '',
    part.programs.length > 1 ? `${part.programs.length} programs` : '',
    part.doubled > 0 ? `${part.doubled} doubled` : '',
    part.stuck > 0 ? `${part.stuck} without an end` : '',
  ]
    .filter(Boolean)
    .join(' · ');

/** What stands on paper: one line for each part. */
const listed = () =>
  entries.value.map(({ part, what, suspects, bars }) => ({
    part: part.name,
    track: part.track + 1,
    channel: part.channel,
    what,
    notes: part.notes,
    lowest: part.lowest ?? '',
    highest: part.highest ?? '',
    voices: part.polyphony,
    bars,
    'velocity from': part.lowestVelocity ?? '',
    'velocity to': part.highestVelocity ?? '',
    controllers: part.controllers.join(' '),
    bends: part.bends,
    doubled: part.doubled,
    seems: suspects.map((s) => (s.why ? `${s.says} (${s.why})` : s.says)).join('; '),
  }));
function saveList() {
  const text = Papa.unparse(listed(), { escapeFormulae: true });
  const name = `${fileStem(job.source?.name ?? 'parts')}-parts.csv`;
  saveFile(new TextEncoder().encode(`${text}\r\n`), name, 'text/csv');
}
// Columns parted by tabs: that is what a table takes.
const { copy, copied, isSupported: canCopy } = useClipboard();
const copyList = () => void copy(Papa.unparse(listed(), { delimiter: '\t', escapeFormulae: true }));
</script>

<template>
  <section class="intake-parts" aria-labelledby="intake-parts">
    <h3 id="intake-parts">
      Parts <span class="soft n">{{ playingParts.length }}</span>
    </h3>
    <div class="row">
      <NInput
        v-if="many"
        v-model:value="search"
        size="small"
        clearable
        placeholder="Find"
        :input-props="{ 'aria-label': 'Find parts' }"
      />
      <NSelect
        v-if="entries.length > 2"
        v-model:value="order"
        size="small"
        :options="ORDERS"
        aria-label="Order of the parts"
      />
      <NButton v-if="canCopy" size="small" @click="copyList">
        {{ copied ? 'Copied' : 'Copy' }}
      </NButton>
      <NButton size="small" @click="saveList">Save as CSV</NButton>
    </div>
    <ul class="entries">
      <li v-for="entry in playingParts.slice(0, setUp)" :key="entry.part.id" class="entry">
        <div class="name">
          <InkSwatch :index="entry.index" />
          <strong :title="`Track ${entry.part.track + 1}`">{{ entry.part.name }}</strong>
          <button
            class="icon"
            type="button"
            :aria-pressed="playing.alone.has(entry.part.id)"
            :aria-label="`Hear ${entry.part.name} alone`"
            title="Hear alone"
            @click="playing.toggleAlone(entry.part.id)"
          >
            <Ear :size="15" />
          </button>
        </div>
        <p class="soft small">
          <span :title="`In the bytes ${entry.part.channel - 1}`"
            >channel {{ entry.part.channel }}</span
          >
          · {{ entry.what }} · {{ count(entry.part.notes, 'note') }} ·
          <button
            class="link"
            type="button"
            :title="`Hear the first bar of ${entry.part.name}`"
            @click="hearFirstBar(entry)"
          >
            {{ entry.bars }}
          </button>
        </p>
        <KeyStrip
          :counts="entry.counts"
          :allowed="null"
          :label="`Keys of ${entry.part.name}, ${noteName(entry.part.lowest ?? 0)} to ${noteName(entry.part.highest ?? 0)}`"
        />
        <p class="soft small">{{ further(entry) }}</p>
        <p v-for="s in entry.suspects" :key="s.says" class="small">
          Seems to be {{ s.says }}{{ s.why ? `: ${s.why}` : '' }}.
        </p>
        <FoldedPart v-if="entry.part.channel === 10 && entry.view" class="small" title="Its drums">
          <ul class="drums">
            <li v-for="d in drumKeys(entry)" :key="d.key">
              <button
                class="icon"
                type="button"
                :aria-label="`Hear ${d.name}`"
                title="Hear it"
                @click="playing.hearKeys(entry.view!, [d.key])"
              >
                <Ear :size="13" />
              </button>
              <span>{{ d.name }} ({{ d.key }})</span>
              <span class="soft">{{ d.n.toLocaleString('en-GB') }}</span>
            </li>
          </ul>
        </FoldedPart>
      </li>
    </ul>
    <p v-if="playingParts.length === 0" class="soft">No part matches.</p>
    <FoldedPart
      v-if="silent.length > 0"
      class="small"
      :title="`${count(silent.length, 'part')} without notes`"
    >
      {{ silent.map((e) => `${e.part.name} (channel ${e.part.channel})`).join(', ') }}
    </FoldedPart>
  </section>
</template>

<style scoped>
.n {
  font: 400 12px var(--sans);
}

.row {
  display: flex;
  gap: 6px;
}

.row > :not(button) {
  flex: 1;
  min-width: 0;
}

.entry {
  min-width: 0;
  overflow-wrap: anywhere;
}

.small {
  font-size: 12px;
}

.small > :deep(summary) {
  color: var(--quill);
}

.drums {
  margin: 3px 0 0;
  padding: 0;
  list-style: none;
}

.drums li {
  display: grid;
  grid-template-columns: 26px 1fr auto;
  align-items: center;
}
</style>
