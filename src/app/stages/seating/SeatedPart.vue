<script setup lang="ts">
import { NButton, NInputNumber } from 'naive-ui';
import { computed, ref } from 'vue';
import { fitting, shifted } from '../../../core/seating/key-use';
import { rolesParted } from '../../../core/seating/suspect';
import { hearingOf } from '../../../core/target/hearing';
import { count, countOf, noteName } from '../../../core/target/words';
import type { PartView } from '../../../core/wire/view';
import InkSwatch from '../../parts/InkSwatch.vue';
import InTurn from '../../kit/InTurn.vue';
import { useJob } from '../../stores/job';
import { useSeating, type SeatView } from '../../stores/seating';
import KeyMapTable from './KeyMapTable.vue';
import KeyStrip from './KeyStrip.vue';
import LevelMeter from './LevelMeter.vue';
import PatternForLoop from './PatternForLoop.vue';
import SetUpLevels from './SetUpLevels.vue';
import SplitPart from './SplitPart.vue';
import { SET_UP } from './set-up';

/** What can be done with a part at its seat: its pitch, its keys one by one, its channel. */
const props = defineProps<{
  part: PartView;
  view: SeatView;
  names: ReadonlyMap<number, string>;
}>();
const LONG_MS = 1500;
const job = useJob();
const seating = useSeating();

/** Semitones that are tried out, shown in the strip before they are a step. */
const tried = ref<number | null>(null);
const tool = ref<'keys' | 'split' | 'pattern' | null>(null);
const written = computed(
  () =>
    (seating.stepOf(props.part, 'transpose')?.params as { semitones?: number } | undefined)
      ?.semitones ?? 0,
);
const by = computed(() => (tried.value ?? written.value) - written.value);
/** Counted once: a part may have a million notes. */
const own = computed(() => seating.countsOfAll([props.part.columns]));
const counts = computed(() => shifted(own.value, by.value));
const fits = computed(() =>
  props.view.allowed ? fitting(counts.value, props.view.allowed) : props.part.columns.count,
);

/** The shift under which most notes fit; the nearest of equals, octaves before others. */
const best = computed(() => {
  const { allowed } = props.view;
  if (!allowed) return null;
  let found = { by: 0, fits: fitting(own.value, allowed), worth: -Infinity };
  for (let shift = -36; shift <= 36; shift++) {
    const n = fitting(shifted(own.value, shift), allowed);
    const worth =
      n / props.part.columns.count - (Math.abs(shift) * 0.0005 + (shift % 12 === 0 ? 0 : 0.03));
    if (worth > found.worth) found = { by: shift, fits: n, worth };
  }
  return found.by === 0 || found.fits <= fitting(own.value, allowed) ? null : found;
});

function apply(semitones: number) {
  tried.value = null;
  seating.transpose(props.part, semitones);
}
function setChannel(channel: number | null) {
  if (channel === null || channel === props.part.channel) return;
  const call = { step: 'set-channel', params: { channel }, scope: { parts: [props.part.ref] } };
  job.upsertSteps(
    `${props.part.name}: to channel ${channel}`,
    [{ ...call, on: true }],
    ['set-channel'],
  );
}
/** Two bands of keys with nothing between them may be two roles in one part. */
const parted = computed(() => (props.part.channel === 10 ? null : rolesParted(own.value)));

/** One or two keys that are held for long may stand for a loop of somebody’s sampler. */
const heldLong = computed(() => {
  const { clock } = job.shown?.delivered ?? {};
  const { columns } = props.part;
  if (!clock || columns.count === 0 || keysInUse.value > 2) return false;
  const at = columns.count >> 1;
  return clock.msAt(columns.end[at]!) - clock.msAt(columns.start[at]!) >= LONG_MS;
});
const keysInUse = computed(() => own.value.filter((n) => n > 0).length);

/** How hard it is struck, in percent of what is written; a step that does more than that is left alone. */
const louder = computed(() => {
  const step = seating.stepOf(props.part, 'velocity');
  const params = (step?.params ?? {}) as { scalePercent?: number };
  return step && Object.keys(params).join() === 'scalePercent' ? step : null;
});
const percent = computed(
  () => (louder.value?.params as { scalePercent?: number } | undefined)?.scalePercent ?? 100,
);
function setPercent(scalePercent: number | null) {
  if (scalePercent === null || scalePercent === percent.value) return;
  const did = `${props.part.name}: velocity by ${scalePercent} percent`;
  const call = { step: 'velocity', params: { scalePercent }, scope: { parts: [props.part.ref] } };
  if (louder.value && scalePercent === 100)
    job.removeStep(louder.value.key, `${props.part.name}: velocity as written`);
  else if (louder.value) job.editStep(louder.value.key, { ...call, on: true }, did);
  else job.addSteps(did, [{ ...call, on: true }]);
}
/** What stands at its start and the target hears: level, place from left to right, depth. */
const controllers = computed(() => {
  const hears = job.target ? hearingOf(job.target) : null;
  return hears ? SET_UP.filter((c) => hears.controller(c.number)) : [];
});
const way = (n: number) => `${n > 0 ? 'Up' : 'Down'} ${count(Math.abs(n), 'semitone')}`;
/** A seat with a channel of its own gives it to whoever sits there. */
const ownChannel = computed(() => props.view.seat && 'channel' in props.view.seat);
</script>

<template>
  <section class="part" :aria-label="`${part.name} at ${view.name}`">
    <div class="name">
      <InkSwatch :index="seating.indexOf(part)" />
      <strong>{{ part.name }}</strong>
      <span v-if="written !== 0" class="soft">
        {{ way(written).toLowerCase() }} from what is written
      </span>
    </div>
    <KeyStrip
      :counts="counts"
      :allowed="view.allowed"
      :names="names"
      :label="`Keys of ${part.name}`"
    />
    <p v-if="view.allowed" class="says" :class="{ amiss: fits < part.columns.count }">
      {{ countOf(fits, part.columns.count, 'note') }} fit
    </p>
    <div class="row">
      <NButton size="small" :disabled="job.readOnly" @click="apply(-12)">Octave down</NButton>
      <NButton size="small" :disabled="job.readOnly" @click="apply(12)">Octave up</NButton>
      <label class="semitones">
        <span class="soft">Semitones</span>
        <NInputNumber
          size="small"
          :value="tried ?? written"
          :min="-127"
          :max="127"
          :disabled="job.readOnly"
          :input-props="{ 'aria-label': `Transpose ${part.name} by semitones` }"
          @update:value="tried = $event"
          @keydown.enter="apply(by)"
        />
      </label>
      <NButton size="small" :disabled="by === 0 || job.readOnly" @click="apply(by)">Move</NButton>
    </div>
    <p v-if="best" class="best">
      <button class="link" type="button" :disabled="job.readOnly" @click="apply(best.by)">
        {{ way(best.by) }}</button>: {{ countOf(best.fits, part.columns.count, 'note') }} would fit.
    </p>
    <p v-if="parted && tool !== 'split'" class="best">
      Two roles in one?
      <button class="link" type="button" :disabled="job.readOnly" @click="tool = 'split'">
        Split it before {{ noteName(parted.above) }}…
      </button>
    </p>
    <p v-if="heldLong && tool !== 'pattern'" class="best">
      A sampled loop?
      <button class="link" type="button" :disabled="job.readOnly" @click="tool = 'pattern'">
        Write out what it plays…
      </button>
    </p>
    <InTurn>
      <LevelMeter :part="part" />
      <SetUpLevels v-if="controllers.length > 0" :part="part" :controllers="controllers" />
    </InTurn>
    <InTurn>
      <label class="channel wide">
        <span class="soft">Velocity</span>
        <NInputNumber
          size="small"
          :value="percent"
          :min="1"
          :max="1000"
          :step="5"
          :update-value-on-input="false"
          :disabled="job.readOnly"
          :input-props="{ 'aria-label': `Velocity of ${part.name} in percent` }"
          @update:value="setPercent"
        >
          <template #suffix>%</template>
        </NInputNumber>
      </label>
      <label v-if="!ownChannel" class="channel">
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
          @update:value="setChannel"
        />
      </label>
    </InTurn>
    <div v-if="tool === null" class="row">
      <button class="link" type="button" :disabled="job.readOnly" @click="tool = 'keys'">
        Key by key…
      </button>
      <button class="link" type="button" :disabled="job.readOnly" @click="tool = 'split'">
        Split…
      </button>
      <button class="link" type="button" :disabled="job.readOnly" @click="tool = 'pattern'">
        A note into a pattern…
      </button>
    </div>
    <KeyMapTable
      v-else-if="tool === 'keys'"
      :part="part"
      :view="view"
      :names="names"
      @close="tool = null"
    />
    <PatternForLoop v-else-if="tool === 'pattern'" :part="part" @close="tool = null" />
    <SplitPart v-else :part="part" @close="tool = null" />
  </section>
</template>

<style scoped>
.part {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
}

.name,
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: end;
}

.name {
  align-items: center;
}

.semitones {
  width: 104px;
}

.semitones .soft,
.says,
.channel .soft {
  font-size: 12px;
}

.channel {
  display: flex;
  gap: 8px;
  align-items: center;
  width: 130px;
}

.wide {
  width: 190px;
}

.amiss {
  color: var(--wax);
}

.link {
  justify-self: start;
}
</style>
