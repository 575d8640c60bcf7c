<script setup lang="ts">
import { NButton, NInputNumber, NSelect } from 'naive-ui';
import { computed, ref, watch } from 'vue';
import type { Ink } from '../sheet/inks';
import { useJob, type LaidPiece } from '../stores/job';
import { count } from '../../core/target/words';
import CurveLane from './CurveLane.vue';
import { thinnedBy, type Thinned } from './thinned';

/** Lanes for the curves of a part, one or several, chosen from what is there. */
const props = defineProps<{
  piece: LaidPiece;
  part: LaidPiece['parts'][number];
  ink: Ink;
  fromTick: number;
  ticksPerPixel: number;
  drawing: boolean;
  grid: number;
}>();
const emit = defineEmits<{ wheel: [event: WheelEvent]; pencil: [] }>();
const job = useJob();
const BEND = 0xe0;
const PRESSURE = 0xd0;
const USUAL: Readonly<Record<number, string>> = {
  1: 'Modulation',
  2: 'Breath',
  7: 'Level',
  10: 'Pan',
  11: 'Expression',
  64: 'Pedal',
  74: 'Brightness',
};

const all = computed(() =>
  (props.part.turns?.curves ?? []).map((curve) => {
    const { kind, number } = curve;
    const list = job.target?.curves?.list ?? [];
    const index = list.findIndex((b) =>
      kind === BEND ? b.bend === true : kind === 0xb0 && b.controllers?.includes(number),
    );
    const block = list[index] ?? null;
    const several = (block?.controllers?.length ?? 1) > 1;
    const name =
      kind === BEND
        ? (block?.name ?? 'Bend')
        : kind === 0xd0
          ? 'Pressure'
          : block
            ? `${block.name}${several ? ` ${number}` : ''}`
            : `${USUAL[number] ?? 'Controller'} ${number}`;
    return { curve, block, index, name, id: `${kind} ${number}`, n: curve.tick.length };
  }),
);
const picked = ref<string[]>([]);
// What the target listens to first, and of that what moves most.
watch(
  [() => props.part.id, () => all.value.map((c) => c.id).join()],
  () => {
    const there = new Set(all.value.map((c) => c.id));
    const kept = picked.value.filter((id) => there.has(id));
    const best = [...all.value].sort(
      (a, b) => Number(b.block !== null) - Number(a.block !== null) || b.n - a.n,
    );
    picked.value = kept.length > 0 ? kept : best.slice(0, 1).map((c) => c.id);
  },
  { immediate: true },
);
const shown = computed(() => all.value.filter((c) => picked.value.includes(c.id)));

/** How far a value may stand from the curve while thinning is tried; null where it is not. */
const within = ref<number | null>(null);
const tried = computed((): ReadonlyMap<string, Thinned> => {
  const by = within.value;
  const { clock } = props.piece;
  const us = (tick: number) => clock.msAt(tick) * 1000;
  return new Map(
    by === null
      ? []
      : shown.value
          .filter((c) => c.curve.kind !== PRESSURE)
          .map((c) => [c.id, thinnedBy(c.curve, by, c.block?.perSecond, us)]),
  );
});
const saysThin = computed(() => {
  const before = shown.value.reduce((n, c) => n + (tried.value.has(c.id) ? c.n : 0), 0);
  const all = [...tried.value.values()];
  const after = all.reduce((n, t) => n + t.points.length, 0);
  const error = all.reduce((most, t) => Math.max(most, t.error), 0);
  return `${count(before, 'value')} → ${after.toLocaleString('en-GB')}, at most ${error} off`;
});
function thin() {
  const by = within.value;
  if (by === null) return;
  const calls = shown.value.flatMap(({ id, curve, block }) =>
    tried.value.has(id)
      ? [
          {
            step: 'thin-curve',
            params: {
              ...(curve.kind === BEND ? { bend: true } : { controllers: [curve.number] }),
              within: by,
              ...(block?.perSecond ? { perSecond: block.perSecond } : {}),
            },
            scope: { parts: [props.part.ref] },
            on: true,
          },
        ]
      : [],
  );
  within.value = null;
  if (calls.length === 0) return;
  job.addSteps(`Thinned: ${shown.value.map((c) => c.name).join(', ')}`, calls);
}
const options = computed(() =>
  all.value.map((c) => ({ label: `${c.name} (${c.n.toLocaleString('en-GB')})`, value: c.id })),
);
</script>

<template>
  <div v-if="all.length > 0" class="lanes">
    <CurveLane
      v-for="c in shown"
      :key="c.id"
      :piece="piece"
      :part="part"
      :curve="c.curve"
      :name="c.name"
      :block="c.block"
      :block-index="c.index"
      :ink="ink"
      :from-tick="fromTick"
      :ticks-per-pixel="ticksPerPixel"
      :drawing="drawing"
      :grid="grid"
      :thinned="tried.get(c.id) ?? null"
      @wheel="emit('wheel', $event)"
      @pencil="emit('pencil')"
    />
    <div class="below">
      <NSelect
        v-model:value="picked"
        class="pick"
        size="tiny"
        multiple
        :max-tag-count="2"
        :options="options"
        aria-label="Curves that are shown"
        placeholder="No curve is shown"
      />
      <NButton
        v-if="within === null"
        size="tiny"
        :disabled="job.readOnly || shown.length === 0"
        @click="within = 1"
      >
        Thin…
      </NButton>
      <template v-else>
        <NInputNumber
          v-model:value="within"
          class="within"
          size="tiny"
          :min="0"
          :max="8192"
          :input-props="{ 'aria-label': 'How far a value may stand from the curve' }"
          @keydown.escape.stop="within = null"
        >
          <template #prefix>±</template>
        </NInputNumber>
        <span class="soft" aria-live="polite">{{ saysThin }}</span>
        <NButton size="tiny" type="primary" @click="thin">Thin</NButton>
        <NButton size="tiny" quaternary @click="within = null">Leave it</NButton>
      </template>
    </div>
  </div>
</template>

<style scoped>
.lanes {
  display: flex;
  flex-direction: column;
  gap: 4px;
  min-height: 0;
}

.lanes > :not(.below) {
  flex: 1;
}

.below {
  display: flex;
  flex: none;
  gap: 8px;
  align-items: center;
  margin-left: 92px;
  font-size: 12px;
  white-space: nowrap;
}

.pick {
  flex: 1;
  min-width: 120px;
  max-width: 380px;
}

.within {
  width: 92px;
}
</style>
