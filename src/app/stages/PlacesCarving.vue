<script setup lang="ts">
import { NButton, NInputNumber, NSelect } from 'naive-ui';
import { computed, ref } from 'vue';
import { carveAtMarkers, type Carved } from '../../core/target/carving';
import { noteName } from '../../core/target/words';
import { fileStem } from '../stores/handover';
import { unmapTick } from '../../core/time/time-map';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { useWheel } from '../stores/wheel';
import { slotsOf } from './slots';

/** Which bars go to which place: one step of the plan, edited as a list. */

const job = useJob();
const looking = useLooking();
const wheel = useWheel();
const slots = computed(() =>
  job.target ? slotsOf(job.target, fileStem(job.record?.title ?? '')) : [],
);
const step = computed(() => job.plan?.now.steps.find((s) => s.step === 'carve') ?? null);
const cuts = computed(() => (step.value?.params as { places: Carved[] } | undefined)?.places ?? []);
const slotOf = (id: string) => slots.value.find((p) => p.id === id);
const nameOf = (id: string) => slotOf(id)?.name ?? id;
const free = computed(() =>
  slots.value
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
  const to = slotOf(place.value ?? free.value[0]?.value ?? '');
  if (!to || fromBar.value === null || bars.value === null) return;
  const cut = { place: to.id, fileName: to.fileName, fromBar: fromBar.value, bars: bars.value };
  set([...cuts.value, cut], `${to.name}: ${bars.value} bars from bar ${fromBar.value}`);
  place.value = null;
  fromBar.value = Math.min(total.value, fromBar.value + Math.ceil(bars.value));
}

/** Bars that the chosen notes stand in: swept on the sheet, counted on the source. */
const swept = computed(() => {
  const piece = looking.piece;
  const own = source.value;
  const span = looking.chosenSpan;
  if (!piece || !own || !span) return null;
  const barAt = (tick: number) => own.bars.barAt(unmapTick(piece.fromBase ?? undefined, tick));
  const from = barAt(span.fromTick);
  return { fromBar: from + 1, bars: Math.max(from, barAt(span.toTick - 1)) - from + 1 };
});
function takeSwept() {
  if (!swept.value) return;
  fromBar.value = swept.value.fromBar;
  bars.value = swept.value.bars;
  add();
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
    <NButton
      v-if="kits.length > 1"
      size="small"
      title="The loop goes round, each time in the next kit"
      @click="wheel.goThrough('kit')"
    >
      Hear it in each kit in turn
    </NButton>
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
          <td
            :class="{ wrong: slotOf(cut.place)?.takes(cut.bars) === false }"
            :title="slotOf(cut.place)?.says"
          >
            {{ cut.bars }}
            <span v-if="slotOf(cut.place)?.takes(cut.bars) === false" class="sr"
              >not a length that it takes</span
            >
          </td>
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
      v-if="swept && free.length > 0"
      size="small"
      :disabled="job.readOnly"
      @click="takeSwept"
    >
      {{ nameOf(place ?? free[0]!.value) }} from the chosen bars {{ swept.fromBar }} to
      {{ swept.fromBar + swept.bars - 1 }}
    </NButton>
    <p v-else-if="free.length > 0" class="soft">
      Sweep bars on the sheet to carve them{{
        slotOf(place ?? free[0]!.value)?.says ? `; ${slotOf(place ?? free[0]!.value)!.says}` : ''
      }}.
    </p>
    <NButton
      v-if="hasMarkers && cuts.length === 0 && job.target?.seats.some((s) => s.kind === 'file')"
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

.wrong {
  color: var(--wax);
  font-weight: 600;
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
