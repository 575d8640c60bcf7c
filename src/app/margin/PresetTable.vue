<script setup lang="ts">
import { NSelect } from 'naive-ui';
import { computed } from 'vue';
import { sayClock, sayPlace } from '../../core/time/meter-map';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import {
  canChoose,
  presetCall,
  presetId,
  presetOf,
  presetPart,
  presetRows,
  type PresetRow,
} from '../stores/preset-table';

/** Which preset is there from which marker on: each cell a choice, the whole table one step. */
const job = useJob();
const looking = useLooking();

const block = computed(() => job.target?.presets ?? null);
const part = computed(() => (job.shown ? presetPart(job.shown.delivered) : null));
const options = computed(() =>
  (block.value?.list ?? []).map((p) => ({ label: p.name, value: presetId(p) })),
);
const rows = computed(() =>
  job.shown && block.value ? presetRows(job.shown.delivered, block.value) : [],
);
const listed = (id: string | null) => (block.value ? presetOf(block.value, id) : null);
const onOf = (id: string | null) => listed(id)?.on?.join(', ') ?? '';

function choose(row: PresetRow, id: string) {
  if (!part.value || !block.value || job.readOnly) return;
  const call = presetCall(rows.value, row, id, { block: block.value, part: part.value });
  const did =
    row.marker === null
      ? 'A preset at the start'
      : `${listed(id)?.name ?? 'Preset'} at ${row.marker}`;
  job.upsertSteps(did, [call], [call.step]);
}
const isOpen = (row: PresetRow) => !job.readOnly && part.value !== null && canChoose(row);
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
              v-if="isOpen(row)"
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
