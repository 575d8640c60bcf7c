<script setup lang="ts">
import { NButton, NInputNumber, NSelect } from 'naive-ui';
import { computed, ref } from 'vue';
import { carveAtMarkers, type Carved } from '../../core/target/carving';
import { noteName } from '../../core/target/words';
import { useJob } from '../stores/job';

/** Which bars go to which place: one step of the plan, edited as a list. */

const job = useJob();
const places = computed(
  () => job.target?.seats.flatMap((s) => (s.kind === 'file' ? [s] : [])) ?? [],
);
const step = computed(() => job.plan?.now.steps.find((s) => s.step === 'carve') ?? null);
const cuts = computed(() => (step.value?.params as { places: Carved[] } | undefined)?.places ?? []);
const nameOf = (id: string) => places.value.find((p) => p.id === id)?.name ?? id;
const free = computed(() =>
  places.value
    .filter((p) => !cuts.value.some((c) => c.place === p.id))
    .map((p) => ({ label: `${p.name} (${p.fileName})`, value: p.id })),
);
const place = ref<string | null>(null);
const fromBar = ref<number | null>(1);
const bars = ref<number | null>(4);
const source = computed(() => job.shown?.source ?? null);
const total = computed(() => source.value?.bars.barCount(source.value.endTick) ?? 1);

function set(list: readonly Carved[], did: string) {
  const params = { places: [...list] };
  if (!step.value) job.addSteps(did, [{ step: 'carve', params, scope: {}, on: true }]);
  else if (list.length === 0) job.removeStep(step.value.key, did);
  else job.editStep(step.value.key, { ...step.value, params }, did);
}

function add() {
  const to = places.value.find((p) => p.id === (place.value ?? free.value[0]?.value));
  if (!to || fromBar.value === null || bars.value === null) return;
  const cut = { place: to.id, fileName: to.fileName, fromBar: fromBar.value, bars: bars.value };
  set([...cuts.value, cut], `${to.name}: ${bars.value} bars from bar ${fromBar.value}`);
  place.value = null;
  fromBar.value = Math.min(total.value, fromBar.value + Math.ceil(bars.value));
}

const drop = (i: number) =>
  set(
    cuts.value.filter((_, n) => n !== i),
    `${nameOf(cuts.value[i]!.place)}: given up`,
  );

/** Markers are where a song changes: each stretch between two of them is offered a bed. */
function byMarkers() {
  const piece = source.value;
  if (!piece) return;
  const seats = job.target?.seats ?? [];
  const made = carveAtMarkers(piece.markers, piece.bars, piece.endTick, seats);
  set(made, `${made.length} places by markers`);
}
const hasMarkers = computed(() => (source.value?.markers.length ?? 0) > 0);
const kits = computed(() => job.target?.kits ?? []);
const kit = computed(() => job.shown?.delivered.delivery.metadata?.kit ?? null);
function chooseKit(id: string) {
  job.addSteps(`Kit ${kits.value.find((k) => k.id === id)?.name ?? id}`, [
    { step: 'metadata', params: { kit: id }, scope: {}, on: true },
  ]);
}
const sayKit = (id: string) =>
  kits.value
    .find((k) => k.id === id)
    ?.keys.map((k) => `${k.name} ${noteName(k.noteNumber)}`)
    .join(', ') ?? '';
</script>

<template>
  <div class="carving">
    <label v-if="kits.length > 0" class="kit">
      <span class="label">Kit</span>
      <NSelect
        size="small"
        :value="kit"
        placeholder="The one that fits best"
        :options="kits.map((k) => ({ label: k.name, value: k.id, title: sayKit(k.id) }))"
        :disabled="job.readOnly"
        aria-label="Kit"
        @update:value="chooseKit"
      />
    </label>
    <table v-if="cuts.length > 0" class="cuts">
      <thead>
        <tr>
          <th scope="col">Place</th>
          <th scope="col">From bar</th>
          <th scope="col">Bars</th>
          <th scope="col"><span class="sr">Give up</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(cut, i) in cuts" :key="cut.place + i">
          <td>
            {{ nameOf(cut.place) }} <span class="soft">{{ cut.fileName }}</span>
          </td>
          <td>{{ cut.fromBar }}</td>
          <td>{{ cut.bars }}</td>
          <td><button class="link" type="button" @click="drop(i)">give up</button></td>
        </tr>
      </tbody>
    </table>
    <div class="new">
      <NSelect
        v-model:value="place"
        size="small"
        filterable
        :options="free"
        :placeholder="free[0]?.label ?? 'All places are taken'"
        aria-label="Place"
      />
      <NInputNumber
        v-model:value="fromBar"
        size="small"
        :min="1"
        :max="total"
        :show-button="false"
        :input-props="{ 'aria-label': 'From bar' }"
      >
        <template #prefix>from bar</template>
      </NInputNumber>
      <NInputNumber
        v-model:value="bars"
        size="small"
        :min="0.5"
        :max="64"
        :show-button="false"
        :input-props="{ 'aria-label': 'Bars' }"
      >
        <template #suffix>bars</template>
      </NInputNumber>
      <NButton size="small" :disabled="job.readOnly || free.length === 0" @click="add"
        >Carve</NButton
      >
    </div>
    <NButton
      v-if="hasMarkers && cuts.length === 0"
      size="small"
      :disabled="job.readOnly"
      @click="byMarkers"
    >
      A bed for each marker
    </NButton>
  </div>
</template>

<style scoped>
.carving {
  display: grid;
  gap: 8px;
  margin-top: 10px;
}

.label {
  display: block;
  margin-bottom: 2px;
  color: var(--ink-2);
  font-size: 12px;
}

.cuts {
  width: 100%;
  border-collapse: collapse;
}

.cuts th,
.cuts td {
  padding: 3px 6px 3px 0;
  border-bottom: 1px solid var(--line);
  text-align: left;
}

.cuts th {
  color: var(--ink-2);
  font-size: 12px;
  font-weight: 500;
}

.new {
  display: grid;
  grid-template-columns: 1fr 1fr auto;
  gap: 5px;
}

.new > :first-child {
  grid-column: 1 / -1;
}
</style>
