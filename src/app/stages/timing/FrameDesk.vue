<script setup lang="ts">
import { NInputNumber, NSelect } from 'naive-ui';
import { computed } from 'vue';
import { driftPerPass } from '../../../core/reading/drift';
import { sayFact } from '../../../core/target/facts';
import { plain } from '../../../core/target/words';
import { useCues } from '../../stores/cues';
import { useJob } from '../../stores/job';

/** Rate, shift and ending of a target that counts in frames, and what its length comes to. */
const job = useJob();
const cues = useCues();
const frames = computed(() => job.target?.frames ?? null);
const told = computed(() => job.shown?.delivered.delivery.metadata ?? {});
const rate = computed(() => cues.frameRate);
const shift = computed(() => Number(told.value.frameShift ?? '0') || 0);
const ending = computed(() => told.value.ending ?? null);
const endMs = computed(() => {
  const piece = job.shown?.delivered;
  return piece ? piece.clock.msAt(piece.endTick) : 0;
});
const length = computed(() => (endMs.value * rate.value) / 1000);
const whole = computed(() => Math.abs(length.value - Math.round(length.value)) < 1e-6);
const passes = computed(() => [1, 10, 100].map((n) => driftPerPass(endMs.value, rate.value, n)));

/** One step holds what was said here, however often it is changed. */
function say(more: Readonly<Record<string, string>>, did: string) {
  const own = job.plan?.now.steps.findLast(
    (s) =>
      s.step === 'metadata' &&
      Object.keys(s.params as object).every((k) =>
        ['frameRate', 'frameShift', 'ending'].includes(k),
      ),
  );
  const params = { ...(own?.params as object | undefined), ...more };
  const call = { step: 'metadata', params, scope: {}, on: true };
  if (own) job.editStep(own.key, call, did);
  else job.addSteps(did, [call]);
}
</script>

<template>
  <section v-if="frames" class="frames" aria-labelledby="frames-title">
    <h3 id="frames-title">In frames</h3>
    <div class="row">
      <NSelect
        size="small"
        :value="rate"
        :options="frames.perSecond.map((n) => ({ label: `${plain(n)} a second`, value: n }))"
        :disabled="job.readOnly"
        aria-label="Frames a second"
        @update:value="(n: number) => say({ frameRate: String(n) }, `${n} frames a second`)"
      />
      <label>
        Shift
        <NInputNumber
          size="small"
          :value="shift"
          :min="frames.shiftLowest"
          :max="frames.shiftHighest"
          :precision="0"
          :disabled="job.readOnly"
          :update-value-on-input="false"
          :input-props="{ 'aria-label': 'Shift in frames' }"
          @update:value="
            (n: number | null) => say({ frameShift: String(n ?? 0) }, `Shifted by ${n ?? 0} frames`)
          "
        />
      </label>
      <NSelect
        size="small"
        :value="ending"
        placeholder="Its end"
        :options="frames.endings.map((e) => ({ label: sayFact('ending', e), value: e }))"
        :disabled="job.readOnly"
        aria-label="What it does at the end"
        @update:value="(e: string) => say({ ending: e }, `At the end: ${sayFact('ending', e)}`)"
      />
    </div>
    <p class="soft" data-testid="frames-length">
      {{ plain(length) }} frames long{{
        shift === 0 ? '' : `, begins ${shift > 0 ? `${shift} later` : `${-shift} earlier`}`
      }}.
      <template v-if="ending === 'round-again' && !whole">
        Round again it is off by {{ plain(passes[0]!) }} ms after one pass,
        {{ plain(passes[1]!) }} after ten, {{ plain(passes[2]!) }} after a hundred.
      </template>
    </p>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.row :deep(.n-select) {
  flex: 1;
  min-width: 118px;
}

label {
  display: flex;
  gap: 6px;
  align-items: center;
}

label :deep(.n-input-number) {
  width: 96px;
}

p {
  margin-top: 6px;
  font-size: 12px;
}
</style>
