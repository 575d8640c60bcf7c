<script setup lang="ts">
import { NButton, NInputNumber, NSelect } from 'naive-ui';
import { computed, ref } from 'vue';
import type { StepCall } from '../../core/steps/call';
import type { PartView } from '../../core/wire/view';
import InkSwatch from '../parts/InkSwatch.vue';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import CaptionList from './CaptionList.vue';
import ChainLinks from './ChainLinks.vue';
import PlacesCarving from './PlacesCarving.vue';

const job = useJob();
const looking = useLooking();
const parts = computed(() =>
  (job.shown?.delivered.parts ?? [])
    .map((part, index) => ({ part, index }))
    .filter(({ part }) => part.columns.count > 0),
);
const OUT = '—out—';
const seats = computed(() => job.target?.seats.filter((s) => s.kind !== 'file') ?? []);
const places = computed(() => job.target?.seats.filter((s) => s.kind === 'file') ?? []);
/** More seats than these are not read out one by one. */
const MOST_NAMED = 6;
const namedSeats = computed(
  () =>
    `(${seats.value
      .map((s) => s.name + ('channel' in s ? `, channel ${s.channel}` : ''))
      .join('; ')})`,
);
const takesAll = computed(() => job.target?.seating?.unseated === 'taken');
const TAKEN = '—taken—';
const options = computed(() => [
  ...(takesAll.value || places.value.length > 0 ? [{ label: 'Taken', value: TAKEN }] : []),
  ...seats.value.map((s) => ({ label: s.name, value: s.id })),
  { label: 'Left out', value: OUT },
]);
const semitones = ref<Record<string, number | null>>({});

const call = (part: PartView, step: string, params: unknown): StepCall => ({
  step,
  params,
  scope: { parts: [part.ref] },
  on: true,
});

function place(part: PartView, to: string) {
  if (to === OUT) {
    job.addSteps(`${part.name}: left out`, [call(part, 'leave-out', {})]);
    return;
  }
  if (to === TAKEN) {
    // A part comes back by taking no seat of its own.
    job.addSteps(`${part.name}: taken again`, [
      call(part, 'route', { seat: '', channel: part.channel }),
    ]);
    return;
  }
  const seat = seats.value.find((s) => s.id === to);
  if (!seat) return;
  const params = {
    seat: seat.id,
    ...('channel' in seat ? { channel: seat.channel } : {}),
    ...('track' in seat && seat.track ? { track: seat.track } : {}),
  };
  job.addSteps(`${part.name}: seat at ${seat.name}`, [call(part, 'route', params)]);
}

function setChannel(part: PartView, channel: number | null) {
  if (channel === null || channel === part.channel) return;
  job.addSteps(`${part.name}: to channel ${channel}`, [call(part, 'set-channel', { channel })]);
}

function transpose(part: PartView, by: number) {
  if (by === 0) return;
  const word = by > 0 ? 'up' : 'down';
  job.addSteps(`${part.name}: ${word} ${Math.abs(by)} semitones`, [
    call(part, 'transpose', { semitones: by }),
  ]);
  semitones.value = { ...semitones.value, [part.id]: null };
}

function leaveOthersOut() {
  const others = parts.value.map(({ part }) => part).filter((p) => !p.leftOut && p.seat === null);
  if (others.length === 0) return;
  job.addSteps(`${others.length} parts without a seat: left out`, [
    { step: 'leave-out', params: {}, scope: { parts: others.map((p) => p.ref) }, on: true },
  ]);
}
const unseated = computed(
  () => parts.value.filter(({ part }) => !part.leftOut && part.seat === null).length,
);
</script>

<template>
  <section class="panel" tabindex="0" aria-labelledby="seating-title">
    <h2 id="seating-title">Who sits where</h2>
    <p class="serif">
      <template v-if="job.target?.seating?.unseated === 'taken'">
        {{ job.target.name }} takes every part as it is. Leave out here what it should not get.
      </template>
      <template v-else-if="seats.length === 0 && places.length === 0">
        {{ job.target?.name }} has no seats: every part is left out, and listed in the receipt.
      </template>
      <template v-else-if="places.length > 0">
        {{ job.target?.name }} has {{ places.length }} places, each a file of its own. Say which
        bars go to which place; what stands outside of them is listed as left out.
      </template>
      <template v-else>
        {{ job.target?.name }} has {{ seats.length === 1 ? 'one seat' : `${seats.length} seats`
        }}{{ seats.length <= MOST_NAMED ? ` ${namedSeats}` : '' }}. Channels count from 1, programs
        from 1.
      </template>
    </p>
    <PlacesCarving v-if="places.length > 0" />
    <ChainLinks v-if="job.target?.chains" />
    <CaptionList v-if="job.target?.captions" />
    <NButton
      v-if="unseated > 0 && seats.length > 0"
      class="others"
      size="small"
      :disabled="job.readOnly"
      @click="leaveOthersOut"
    >
      Leave out {{ unseated === 1 ? 'the one' : `the ${unseated}` }} without a seat
    </NButton>
    <ul class="list">
      <li
        v-for="{ part, index } in parts"
        :key="part.id"
        class="part"
        :class="{ here: looking.part === part.id }"
      >
        <div class="name">
          <InkSwatch :index="index" :faint="part.leftOut" />
          <span>{{ part.name }}</span>
        </div>
        <NSelect
          v-if="seats.length > 0 || takesAll || places.length > 0"
          size="small"
          :value="part.leftOut ? OUT : takesAll || places.length > 0 ? TAKEN : part.seat"
          placeholder="No seat"
          :options="options"
          :disabled="job.readOnly"
          :aria-label="`Seat of ${part.name}`"
          @update:value="place(part, $event)"
        />
        <div v-if="!part.leftOut" class="numbers">
          <label>
            <span class="soft">Channel</span>
            <NInputNumber
              size="small"
              :value="part.channel"
              :min="1"
              :max="16"
              :show-button="false"
              :update-value-on-input="false"
              :disabled="job.readOnly"
              :input-props="{ 'aria-label': `Channel of ${part.name}` }"
              @update:value="setChannel(part, $event)"
            />
          </label>
          <label>
            <span class="soft">Semitones</span>
            <NInputNumber
              size="small"
              :value="semitones[part.id] ?? null"
              placeholder="±"
              :min="-127"
              :max="127"
              :show-button="false"
              :disabled="job.readOnly"
              :input-props="{ 'aria-label': `Transpose ${part.name} by semitones` }"
              @update:value="semitones = { ...semitones, [part.id]: $event }"
              @keydown.enter="transpose(part, semitones[part.id] ?? 0)"
            />
          </label>
          <NButton
            size="small"
            :disabled="!semitones[part.id] || job.readOnly"
            @click="transpose(part, semitones[part.id] ?? 0)"
          >
            Move
          </NButton>
          <div class="octaves">
            <NButton
              size="small"
              title="Down an octave"
              :disabled="job.readOnly"
              @click="transpose(part, -12)"
            >
              Octave down
            </NButton>
            <NButton
              size="small"
              title="Up an octave"
              :disabled="job.readOnly"
              @click="transpose(part, 12)"
            >
              Octave up
            </NButton>
          </div>
        </div>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.others {
  margin-top: 10px;
}

.list {
  display: grid;
  gap: 9px;
  margin: 12px 0 0;
  padding: 0;
  list-style: none;
}

.part {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
  padding: 8px 10px 10px;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
  content-visibility: auto;
  contain-intrinsic-size: auto 120px;
}

.here {
  border-color: var(--quill);
}

.name {
  display: flex;
  gap: 8px;
  align-items: center;
  font-weight: 500;
}

.numbers {
  display: grid;
  grid-template-columns: 60px 84px minmax(0, 1fr);
  gap: 5px;
  align-items: end;
}

.numbers .soft {
  display: block;
  font-size: 12px;
}

.octaves {
  display: grid;
  grid-template-columns: 1fr 1fr;
  grid-column: 1 / -1;
  gap: 5px;
}

.numbers :deep(.n-button) {
  padding: 0 4px;
}
</style>
