<script setup lang="ts">
import { NSelect } from 'naive-ui';
import { computed } from 'vue';
import { placesFor } from '../../core/reading/preset-places';
import { sayClock, sayPlace } from '../../core/time/meter-map';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';

/** Which preset is there from which marker on: each cell a choice, the whole table one step. */
const job = useJob();
const looking = useLooking();
const FROM_MARKERS = 'presets-from-markers';
const FIRST = 'first-preset';

const block = computed(() => job.target?.presets ?? null);
const part = computed(
  () =>
    job.shown?.delivered.parts.find((p) => !p.leftOut && p.seat !== null && p.turns) ??
    job.shown?.delivered.parts.find((p) => !p.leftOut && p.turns) ??
    null,
);
const idOf = (bank: number, program: number) => `${bank}.${program}`;
const options = computed(() =>
  (block.value?.list ?? []).map((p) => ({ label: p.name, value: idOf(p.bank, p.program) })),
);
interface Row {
  readonly tick: number;
  readonly marker: string | null;
  readonly preset: string | null;
  /** How long before its place it stands; null where there is none. */
  readonly leadMs: number | null;
}
const rows = computed((): Row[] => {
  const piece = job.shown?.delivered;
  if (!piece || !block.value) return [];
  const { bars, clock } = piece;
  const placeFor = placesFor(block.value.leadTo ?? 'markers', piece.markers, { bars, clock });
  const found = new Map<number, { preset: string; leadMs: number }>();
  const presets = part.value?.turns?.presets;
  presets?.tick.forEach((tick, i) => {
    const place = tick === 0 ? 0 : placeFor(tick);
    found.set(place, {
      preset: idOf(presets.bank[i]!, presets.program[i]!),
      leadMs: Math.round(clock.msAt(place) - clock.msAt(tick)),
    });
  });
  const marks = new Map(piece.markers.map((m) => [m.tick, m.text]));
  const ticks = new Set([0, ...marks.keys(), ...found.keys()]);
  return [...ticks]
    .sort((a, b) => a - b)
    .map((tick) => ({
      tick,
      marker: marks.get(tick) ?? null,
      preset: found.get(tick)?.preset ?? null,
      leadMs: found.get(tick)?.leadMs ?? null,
    }));
});
const listed = (id: string | null) =>
  block.value?.list.find((p) => idOf(p.bank, p.program) === id) ?? null;
const onOf = (id: string | null) => listed(id)?.on?.join(', ') ?? '';

const leadMs = computed(() => {
  const { leadLeastMs = 0, leadMostMs } = block.value ?? {};
  return Math.round(leadMostMs === undefined ? leadLeastMs : (leadLeastMs + leadMostMs) / 2);
});
function choose(row: Row, id: string) {
  const ref = part.value?.ref;
  const [bank, program] = id.split('.').map(Number) as [number, number];
  if (!ref || job.readOnly) return;
  const scope = { parts: [ref] };
  if (row.marker === null) {
    const call = { step: FIRST, params: { bank, program }, scope, on: true };
    return job.upsertSteps('A preset at the start', [call], [FIRST]);
  }
  // Every marker that has a preset stays in the table; those of one name have one.
  const table = new Map<string, { marker: string; bank: number; program: number }>();
  for (const r of rows.value) {
    const known = listed(r.preset);
    if (r.marker !== null && known)
      table.set(r.marker, { marker: r.marker, bank: known.bank, program: known.program });
  }
  table.set(row.marker, { marker: row.marker, bank, program });
  const params = { table: [...table.values()], leadMs: leadMs.value };
  const call = { step: FROM_MARKERS, params, scope, on: true };
  job.upsertSteps(`${listed(id)?.name ?? 'Preset'} at ${row.marker}`, [call], [FROM_MARKERS]);
}
/** Only what a marker names, or the start, can be chosen here. */
const canChoose = (row: Row) =>
  !job.readOnly && part.value !== null && (row.marker !== null || row.tick === 0);
const placeOf = (tick: number) =>
  job.shown ? sayPlace(job.shown.delivered.bars.placeAt(tick)) : '';
const clockOf = (tick: number) => sayClock(job.shown?.delivered.clock.msAt(tick) ?? 0);
</script>

<template>
  <div class="presets" tabindex="0" role="region" aria-label="Presets by marker">
    <p v-if="!part" class="soft">
      No part with presets is delivered yet. Seat one, and its presets stand here.
    </p>
    <table v-else>
      <thead>
        <tr>
          <th scope="col">Place</th>
          <th scope="col">Preset</th>
          <th scope="col">On</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.tick">
          <th scope="row">
            <button type="button" class="plain" @click="looking.bring(row.tick)">
              <strong>{{ row.marker ?? (row.tick === 0 ? 'The start' : 'No marker') }}</strong>
              <span class="soft">{{ placeOf(row.tick) }}, {{ clockOf(row.tick) }}</span>
            </button>
          </th>
          <td>
            <NSelect
              v-if="canChoose(row)"
              size="tiny"
              filterable
              :value="row.preset"
              :options="options"
              :aria-label="`Preset at ${row.marker ?? 'the start'}`"
              placeholder="As before"
              :consistent-menu-width="false"
              @update:value="choose(row, $event)"
            />
            <span v-else>{{ listed(row.preset)?.name ?? row.preset ?? '' }}</span>
            <span v-if="row.leadMs !== null && row.tick > 0" class="soft lead">
              {{ row.leadMs >= 0 ? `${row.leadMs} ms before` : `${-row.leadMs} ms behind` }}
            </span>
          </td>
          <td class="soft">{{ onOf(row.preset) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.presets {
  overflow: auto;
  padding-right: 4px;
}

table {
  width: 100%;
  border-collapse: collapse;
}

th,
td {
  padding: 5px 6px 5px 0;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
  text-align: left;
  vertical-align: top;
}

thead th {
  color: var(--ink-2);
  font-size: 12px;
}

.plain {
  display: grid;
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}

.soft {
  font-size: 12px;
}

.lead {
  display: block;
}
</style>
