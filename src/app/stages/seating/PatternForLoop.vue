<script setup lang="ts">
import { NButton, NInputNumber, NSelect, NSwitch } from 'naive-ui';
import { computed, ref, shallowRef, watch } from 'vue';
import { ticksPerQuarterOf } from '../../../core/score/score';
import { drumName } from '../../../core/seating/drum-kinds';
import { keyCounts } from '../../../core/seating/key-use';
import type { StepCall } from '../../../core/steps/call';
import { count, noteName } from '../../../core/target/words';
import type { PartView } from '../../../core/wire/view';
import { useJob } from '../../stores/job';
import { usePlaying } from '../../stores/playing';
import { useSeating } from '../../stores/seating';
import { cellsOf, DIVIDE, loopNoteOf, patternOf, STRENGTHS } from './loop-pattern';

/** A note that stood for a sampled loop becomes what the loop played: a pattern, cell by cell. */
const props = defineProps<{ part: PartView }>();
const emit = defineEmits<{ close: [] }>();
const job = useJob();
const playing = usePlaying();
const seating = useSeating();

const MOST_ROWS = 12;
const piece = computed(() => job.shown?.delivered ?? null);
const quarter = computed(() => (piece.value ? ticksPerQuarterOf(piece.value.division) : 480));
const found = loopNoteOf(props.part.columns, quarter.value);
const loopKey = ref(found.key);
const beats = ref(found.beats);
const counts = computed(() => keyCounts([props.part.columns]));
const keys = computed(() =>
  Array.from(counts.value, (n, key) => ({ n, key }))
    .filter((k) => k.n > 0)
    .map(({ n, key }) => ({ label: `${noteName(key)} (${key}), ${count(n, 'note')}`, value: key })),
);

/** The seat for drums, where the target has one. */
const drumSeat = computed(
  () => seating.ownSeats.find((s) => 'channel' in s && s.channel === 10) ?? null,
);
const drums = ref(props.part.channel === 10 || drumSeat.value !== null);
const cells = shallowRef<ReadonlyMap<number, readonly number[]>>(new Map());
const width = computed(() => beats.value * DIVIDE);
const empty = () => Array.from({ length: width.value }, () => 0);
function begin() {
  const rows = drums.value ? [42, 38, 36] : [loopKey.value + 7, loopKey.value + 4, loopKey.value];
  cells.value = new Map(rows.map((key) => [Math.min(127, key), empty()]));
}
watch([drums, loopKey], begin, { immediate: true });
watch(width, (to) => {
  cells.value = new Map(
    [...cells.value].map(([key, row]) => [key, Array.from({ length: to }, (_, i) => row[i] ?? 0)]),
  );
});
const rows = computed(() => [...cells.value].sort(([a], [b]) => b - a));
const nameOf = (key: number) => (drums.value ? (drumName(key) ?? noteName(key)) : noteName(key));
const more = computed(() =>
  Array.from({ length: 128 }, (_, key) => key)
    .filter((key) => !cells.value.has(key) && (!drums.value || drumName(key)))
    .map((key) => ({ label: `${nameOf(key)} (${key})`, value: key })),
);
const addRow = (key: number | null) => {
  if (key !== null) cells.value = new Map([...cells.value, [key, empty()]]);
};
function press(key: number, i: number) {
  const row = [...cells.value.get(key)!];
  const at = STRENGTHS.findIndex((v) => v === row[i]);
  row[i] = STRENGTHS[(Math.max(0, at) + 1) % STRENGTHS.length]!;
  cells.value = new Map([...cells.value].map(([k, r]) => [k, k === key ? row : r]));
}
const sayCell = (velocity: number) =>
  velocity === 0 ? 'nothing' : velocity >= 80 ? 'loud' : 'soft';

// --- what another part plays ----------------------------------------------------------------------
const others = computed(() =>
  seating.all.filter((p) => p.id !== props.part.id).map((p) => ({ label: p.name, value: p.id })),
);
const from = ref<string | null>(null);
const fromBar = ref(1);
function take() {
  const p = seating.all.find((o) => o.id === from.value);
  if (!p || !piece.value) return;
  const start = piece.value.bars.barStart(fromBar.value - 1);
  cells.value = cellsOf(p.columns, start, quarter.value, beats.value, MOST_ROWS);
}

// --- the step -------------------------------------------------------------------------------------
const pattern = computed(() => patternOf(cells.value));
const calls = computed<StepCall[]>(() => {
  const scope = { parts: [props.part.ref] };
  const params = {
    noteNumber: loopKey.value,
    pattern: pattern.value,
    everyBeats: beats.value,
  };
  const replaced: StepCall = { step: 'replace-by-pattern', params, scope, on: true };
  const seat = drumSeat.value;
  if (!drums.value || !seat || !('channel' in seat) || props.part.seat === seat.id)
    return [replaced];
  const to = { seat: seat.id, channel: seat.channel };
  return [replaced, { step: 'route', params: to, scope, on: true }];
});
function apply() {
  job.addSteps(
    `${props.part.name}: ${noteName(loopKey.value)} is a pattern of ${count(pattern.value.length, 'note')}`,
    calls.value,
  );
  emit('close');
}
/** Twice round, at the tempo of its first note. */
function hear() {
  const p = piece.value;
  if (!p) return;
  const first = props.part.columns.start[0] ?? 0;
  const beatMs = p.clock.msAt(first + quarter.value) - p.clock.msAt(first);
  const channel = drums.value ? 10 : props.part.channel;
  void playing.hearNotes(
    [0, 1].flatMap((pass) =>
      pattern.value.map((n) => ({
        afterMs: (pass * beats.value + n.beat) * beatMs,
        lengthMs: n.lengthBeats * beatMs,
        channel: channel - 1,
        key: n.noteNumber,
        velocity: n.velocity,
        program: drums.value ? null : props.part.program,
      })),
    ),
  );
}
</script>

<template>
  <div class="pattern">
    <div class="row">
      <label>
        <span class="soft">The note</span>
        <NSelect
          v-model:value="loopKey"
          size="small"
          :options="keys"
          aria-label="Note that stands for the loop"
        />
      </label>
      <label class="narrow">
        <span class="soft">Quarters</span>
        <NInputNumber
          v-model:value="beats"
          size="small"
          :min="1"
          :max="8"
          :input-props="{ 'aria-label': 'Quarters of the pattern' }"
        />
      </label>
      <label class="drums">
        <NSwitch v-model:value="drums" size="small" aria-label="As drums" />
        <span>drums</span>
      </label>
    </div>
    <table :aria-label="`Pattern for ${noteName(loopKey)}`">
      <tbody>
        <tr v-for="[key, row] in rows" :key="key">
          <th scope="row">
            <button
              class="plain"
              type="button"
              :title="`Hear ${nameOf(key)}`"
              @click="
                playing.hearKeys({ channel: drums ? 10 : part.channel, program: part.program }, [
                  key,
                ])
              "
            >
              {{ nameOf(key) }}
            </button>
          </th>
          <td v-for="(velocity, i) in row" :key="i" :class="{ beat: i % DIVIDE === 0 }">
            <button
              type="button"
              class="cell"
              :class="sayCell(velocity)"
              :aria-pressed="velocity > 0"
              :aria-label="`${nameOf(key)}, place ${i + 1}: ${sayCell(velocity)}`"
              @click="press(key, i)"
            ></button>
          </td>
        </tr>
      </tbody>
    </table>
    <div class="row">
      <NSelect
        size="small"
        filterable
        :value="null"
        :options="more"
        :disabled="cells.size >= MOST_ROWS"
        placeholder="Another key…"
        aria-label="Another key"
        @update:value="addRow"
      />
      <template v-if="others.length > 0">
        <NSelect
          v-model:value="from"
          size="small"
          :options="others"
          placeholder="As another part plays…"
          aria-label="Part whose pattern is taken"
        />
        <NInputNumber
          v-if="from"
          v-model:value="fromBar"
          class="bar"
          size="small"
          :min="1"
          :input-props="{ 'aria-label': 'From bar' }"
        />
        <NButton v-if="from" size="small" @click="take">Take it</NButton>
      </template>
    </div>
    <div class="row">
      <NButton size="small" :disabled="pattern.length === 0" @click="hear">Hear it</NButton>
      <NButton
        size="small"
        type="primary"
        :disabled="pattern.length === 0 || job.readOnly"
        @click="apply"
      >
        Put {{ count(pattern.length, 'note') }} in its place
      </NButton>
      <NButton size="small" @click="emit('close')">Close</NButton>
    </div>
  </div>
</template>

<style scoped>
.pattern {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: end;
}

.row > label {
  flex: 1;
  min-width: 120px;
  font-size: 12px;
}

.row > .narrow {
  flex: none;
  width: 84px;
  min-width: 0;
}

.row > .drums {
  display: flex;
  flex: none;
  gap: 6px;
  align-items: center;
  min-width: 0;
  min-height: 28px;
}

.row > .n-select {
  flex: 1;
  min-width: 120px;
}

.bar {
  width: 76px;
}

table {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
}

th {
  width: 92px;
  font-size: 12px;
  font-weight: 400;
  text-align: left;
}

th button {
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

td {
  padding: 1px;
}

td.beat {
  border-left: 1px solid var(--ink-2);
}

.cell {
  display: block;
  width: 100%;
  height: 24px;
  padding: 0;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--page);
}

.loud {
  background: var(--ink);
}

.soft.cell {
  box-shadow: inset 0 -10px 0 var(--ink);
}
</style>
