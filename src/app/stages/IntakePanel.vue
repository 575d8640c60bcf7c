<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { bpmOf } from '../../core/time/tempo-map';
import { sayClock, sayPlace } from '../../core/time/meter-map';
import { count, plain } from '../../core/target/words';
import { frames } from '../kit/frame-queue';
import { useJob } from '../stores/job';
import { NSelect } from 'naive-ui';
import RecordingCard from './timing/RecordingCard.vue';
import ForWhat from './ForWhat.vue';
import TempoCurve from './TempoCurve.vue';
import ModuleDesk from './module/ModuleDesk.vue';
import IntakeParts from './IntakeParts.vue';
import ReadAs from './ReadAs.vue';
import SourceList from './SourceList.vue';

const job = useJob();
/** The parts have many small drawings: they are made when the first screen stands. */
const later = ref(false);
const setUpParts = () => frames.add(later, () => (later.value = true), { alone: true });
onMounted(() => requestIdleCallback(setUpParts, { timeout: 400 }));
onBeforeUnmount(() => frames.drop(later));
const inventory = computed(() => job.source?.inventory ?? null);
const piece = computed(() => job.shown?.source ?? null);
const at = (tick: number) => (piece.value ? sayPlace(piece.value.bars.placeAt(tick)) : '');

const division = computed(() => {
  const d = inventory.value?.division;
  if (!d) return '';
  return 'ppq' in d ? `${d.ppq} PPQ` : `${d.framesPerSecond} frames × ${d.ticksPerFrame} ticks`;
});
const MOST = 12;
const tempos = computed(() => inventory.value?.tempos ?? []);
const tempoMarks = computed(() =>
  tempos.value.map((t) => ({
    ms: piece.value?.clock.msAt(t.tick) ?? 0,
    bpm: bpmOf(t.microsecondsPerQuarter),
  })),
);
const looked = computed(
  () => job.sourcesNow.find((f) => job.sources.get(f.key) === job.source) ?? null,
);
/** What a file holds several of. */
const KINDS = {
  song: {
    title: 'Song',
    says: 'Orders that are never reached from the first begin songs of their own.',
    counts: 'strike',
  },
  sequence: {
    title: 'Sequence',
    says: 'Format 2: each track is a piece of its own.',
    counts: 'note',
  },
} as const;
const kind = computed(() => KINDS[job.source?.module ? 'song' : 'sequence']);
const sequence = computed(() => (job.source?.sequence ?? 0) + 1);
const sequences = computed(() =>
  (job.source?.sequences ?? []).map((s, i) => ({
    label: `${i + 1}: ${s.name ?? 'without a name'}, ${count(s.notes, kind.value.counts)}`,
    value: i,
  })),
);

function chooseSequence(index: number) {
  const source = looked.value;
  if (source) void job.replaceSource(source.sha256, source.name, index, source.key);
}
</script>

<template>
  <section class="panel" tabindex="0" aria-labelledby="intake-title">
    <ForWhat v-if="job.record?.targetOpen && !job.readOnly" />
    <h2 id="intake-title">What came in</h2>
    <SourceList />
    <div class="card"><RecordingCard /></div>
    <ReadAs />
    <h3 v-if="job.sourcesNow.length > 1" class="of">{{ looked?.name }}</h3>
    <template v-if="inventory">
      <dl class="facts">
        <dt>Format</dt>
        <dd v-if="job.source?.readAs">Format of {{ job.source.readAs }}, {{ division }}</dd>
        <dd v-else-if="job.source?.module">
          Module ({{ job.source.module.toUpperCase() }}), {{ division }}
        </dd>
        <dd v-else>SMF {{ inventory.format }}, {{ division }}</dd>
        <dt>Tracks</dt>
        <dd>{{ inventory.tracks }}</dd>
        <dt>Notes</dt>
        <dd>{{ inventory.notes.toLocaleString('en-GB') }}</dd>
        <dt>Length</dt>
        <dd>{{ inventory.bars }} bars, {{ sayClock(inventory.endMs) }}</dd>
        <dt>First note</dt>
        <dd>
          {{
            inventory.firstNoteTick === null
              ? 'none'
              : `${at(inventory.firstNoteTick)}, ${sayClock(inventory.firstNoteMs ?? 0)}`
          }}
        </dd>
        <dt>Size</dt>
        <dd>{{ job.source?.bytes.toLocaleString('en-GB') }} bytes</dd>
      </dl>

      <template v-if="inventory.sequences > 1">
        <h3>{{ kind.title }}</h3>
        <p class="soft">
          {{ kind.says }} Number {{ sequence }} of {{ inventory.sequences }} is shown; the others
          stay in the source.
        </p>
        <NSelect
          class="which"
          size="small"
          :value="sequence - 1"
          :options="sequences"
          :disabled="job.readOnly"
          :aria-label="kind.title"
          @update:value="chooseSequence"
        />
      </template>

      <template v-if="job.source && job.source.damage.length > 0">
        <h3>Damage</h3>
        <ul class="lines">
          <li v-for="says in job.source.damage" :key="says" class="serif">{{ says }}</li>
        </ul>
      </template>

      <ModuleDesk v-if="job.source?.module" />

      <h3>Tempo</h3>
      <p v-if="tempos.length === 0" class="soft">Not written: 120 BPM is assumed.</p>
      <TempoCurve v-if="tempoMarks.length > 1" :marks="tempoMarks" :end-ms="inventory.endMs" />
      <ul v-if="tempos.length > 0" class="rows">
        <li v-for="t in tempos.slice(0, MOST)" :key="t.tick">
          <span>{{ at(t.tick) }}</span>
          <span>{{ plain(bpmOf(t.microsecondsPerQuarter)) }} BPM</span>
        </li>
      </ul>
      <p v-if="tempos.length > MOST" class="soft">and {{ tempos.length - MOST }} more</p>

      <h3>Meter</h3>
      <p v-if="inventory.meters.length === 0" class="soft">Not written: 4/4 is assumed.</p>
      <ul v-else class="rows">
        <li v-for="m in inventory.meters.slice(0, MOST)" :key="m.tick">
          <span>{{ at(m.tick) }}</span>
          <span>{{ m.numerator }}/{{ m.denominator }}</span>
        </li>
      </ul>
      <p v-if="inventory.meters.length > MOST" class="soft">
        and {{ inventory.meters.length - MOST }} more
      </p>

      <template v-if="inventory.markers.length > 0">
        <h3>Markers</h3>
        <ul class="rows">
          <li v-for="m in inventory.markers.slice(0, MOST)" :key="`${m.tick}${m.text}`">
            <span>{{ at(m.tick) }}</span>
            <span class="text">{{ m.text }}</span>
          </li>
        </ul>
        <p v-if="inventory.markers.length > MOST" class="soft">
          and {{ inventory.markers.length - MOST }} more
        </p>
      </template>

      <IntakeParts v-if="later" />

      <template
        v-if="
          inventory.texts.length +
            inventory.sysex +
            inventory.unknownMeta +
            inventory.extraChunks.length >
          0
        "
      >
        <h3>Also in it</h3>
        <ul class="lines">
          <li v-if="inventory.sysex > 0">{{ inventory.sysex }} sysex events</li>
          <li v-if="inventory.unknownMeta > 0">{{ inventory.unknownMeta }} unknown meta events</li>
          <li v-for="c in inventory.extraChunks" :key="c.type">
            a chunk “{{ c.type }}” of {{ c.bytes.toLocaleString('en-GB') }} bytes
          </li>
          <li v-for="t in inventory.texts.slice(0, MOST)" :key="`${t.track}-${t.tick}-${t.text}`">
            <span class="soft">{{ t.kind }}:</span> {{ t.text }}
            <span v-if="t.encoding !== 'ascii'" class="soft">(read as {{ t.encoding }})</span>
          </li>
          <li v-if="inventory.texts.length > MOST" class="soft">
            and {{ inventory.texts.length - MOST }} more texts
          </li>
        </ul>
      </template>
      <template v-if="inventory.emptyTracks.length > 1">
        <h3>Tracks without notes</h3>
        <p class="soft names">
          {{
            inventory.emptyTracks
              .map((t) => `${t.track + 1}${t.name ? ` (${t.name})` : ''}`)
              .join(', ')
          }}
        </p>
      </template>
    </template>
  </section>
</template>

<style scoped>
.which {
  margin-top: 6px;
}

.names {
  overflow-wrap: anywhere;
}

.card {
  margin: 14px 0;
}

.rows,
.lines {
  margin: 0;
  padding: 0;
  list-style: none;
}

.rows li {
  display: flex;
  gap: 12px;
  justify-content: space-between;
  padding: 1px 0;
}

.text {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.lines li {
  padding: 2px 0;
  overflow-wrap: anywhere;
}
</style>
