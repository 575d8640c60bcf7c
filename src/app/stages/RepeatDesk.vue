<script setup lang="ts">
import { NButton, NInputNumber, NSwitch } from 'naive-ui';
import { computed, ref, watch } from 'vue';
import { count } from '../../core/target/words';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import FoldedPart from '../kit/FoldedPart.vue';

/** Bars that are played again; each further pass may be a little otherwise, and says how. */
const job = useJob();
const looking = useLooking();
const piece = computed(() => job.shown?.delivered ?? null);

const fromBar = ref<number | null>(1);
const bars = ref<number | null>(4);
const times = ref<number | null>(3);
const differs = ref(true);
const velocity = ref<number | null>(8);
const ms = ref<number | null>(8);
watch(
  () => looking.chosenSpan,
  (span) => {
    const p = looking.piece;
    if (!span || !p) return;
    const first = p.bars.barAt(span.fromTick);
    fromBar.value = first + 1;
    bars.value = p.bars.barAt(Math.max(span.fromTick, span.toTick - 1)) - first + 1;
  },
  { immediate: true },
);

interface RepeatParams {
  readonly fromBar: number;
  readonly bars: number;
  readonly times: number;
  readonly velocity?: number;
  readonly ms?: number;
  readonly seed?: number;
}
const there = computed(() =>
  (job.plan?.now.steps ?? [])
    .filter((s) => s.step === 'repeat')
    .map((step) => ({
      step,
      params: step.params as RepeatParams,
      says: job.shown?.steps.find((s) => s.key === step.key)?.effect?.split('; ') ?? [],
    })),
);
const end = computed(() => {
  const p = piece.value;
  return p ? p.bars.barCount(p.endTick) : 1;
});
const ready = computed(
  () =>
    fromBar.value !== null &&
    bars.value !== null &&
    times.value !== null &&
    fromBar.value <= end.value,
);

function add() {
  if (!ready.value) return;
  const params: RepeatParams = {
    fromBar: fromBar.value!,
    bars: bars.value!,
    times: times.value!,
    ...(differs.value ? { velocity: velocity.value ?? 0, ms: ms.value ?? 0, seed: 1 } : {}),
  };
  job.addSteps(
    `Bars ${params.fromBar}–${params.fromBar + params.bars - 1}: ${count(params.times, 'time')} more`,
    [{ step: 'repeat', params, scope: {}, on: true }],
  );
}
const another = (step: (typeof there.value)[number]['step'], params: RepeatParams) =>
  job.editStep(
    step.key,
    { ...step, params: { ...params, seed: (params.seed ?? 1) + 1 } },
    'Repeated another way',
  );
/** Where a pass begins, so that it can be looked at. */
function show(params: RepeatParams, pass: number) {
  const p = piece.value;
  if (!p) return;
  looking.bring(p.bars.barStart(params.fromBar - 1 + params.bars * pass));
}
</script>

<template>
  <FoldedPart
    class="repeat"
    title="Repeat bars, vary each repeat slightly"
    :open="there.length > 0"
  >
    <form class="row" @submit.prevent="add">
      <label class="narrow">
        <span class="soft">From bar</span>
        <NInputNumber
          v-model:value="fromBar"
          size="small"
          :min="1"
          :max="end"
          :show-button="false"
          :input-props="{ 'aria-label': 'Repeat from bar' }"
        />
      </label>
      <label class="narrow">
        <span class="soft">Bars</span>
        <NInputNumber
          v-model:value="bars"
          size="small"
          :min="1"
          :max="1000"
          :show-button="false"
          :input-props="{ 'aria-label': 'Bars to repeat' }"
        />
      </label>
      <label class="narrow">
        <span class="soft">Times more</span>
        <NInputNumber
          v-model:value="times"
          size="small"
          :min="1"
          :max="64"
          :show-button="false"
          :input-props="{ 'aria-label': 'Times more' }"
        />
      </label>
      <label class="switch">
        <NSwitch v-model:value="differs" size="small" aria-label="Vary each repeat slightly" />
        <span>vary each</span>
      </label>
      <template v-if="differs">
        <label class="narrow">
          <span class="soft">Velocity ±</span>
          <NInputNumber
            v-model:value="velocity"
            size="small"
            :min="0"
            :max="64"
            :show-button="false"
            :input-props="{ 'aria-label': 'Velocity, up to so much louder or softer' }"
          />
        </label>
        <label class="narrow">
          <span class="soft">Time ± ms</span>
          <NInputNumber
            v-model:value="ms"
            size="small"
            :min="0"
            :max="60"
            :show-button="false"
            :input-props="{ 'aria-label': 'Milliseconds, up to so much earlier or later' }"
          />
        </label>
      </template>
      <NButton size="small" attr-type="submit" :disabled="!ready || job.readOnly">Repeat</NButton>
    </form>
    <ul v-if="there.length > 0" class="there">
      <li v-for="{ step, params, says } in there" :key="step.key">
        <p>
          Bars {{ params.fromBar }} to {{ params.fromBar + params.bars - 1 }},
          {{ count(params.times, 'time') }} more
          <NButton
            v-if="params.velocity !== undefined || params.ms !== undefined"
            size="tiny"
            :disabled="job.readOnly"
            @click="another(step, params)"
          >
            Another way
          </NButton>
          <button
            class="link"
            type="button"
            :disabled="job.readOnly"
            @click="job.removeStep(step.key, 'No longer repeated')"
          >
            not repeated
          </button>
        </p>
        <ol v-if="says.length > 1" class="passes">
          <li v-for="(line, i) in says.slice(1)" :key="i">
            <button class="plain" type="button" @click="show(params, i + 1)">{{ line }}</button>
          </li>
        </ol>
      </li>
    </ul>
  </FoldedPart>
</template>

<style scoped>
.repeat {
  margin-top: 12px;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: end;
  margin-top: 8px;
  font-size: 12px;
}

.narrow {
  width: 74px;
}

.switch {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 28px;
}

.there,
.passes {
  margin: 8px 0 0;
  padding: 0;
  font-size: 12px;
  list-style: none;
}

.passes li button {
  min-height: 24px;
  text-align: left;
}
</style>
