<script setup lang="ts">
import { NButton, NInputNumber, NSelect } from 'naive-ui';
import { computed, ref, shallowRef, watch } from 'vue';
import type { Ink } from '../sheet/inks';
import { useJob, type LaidPiece } from '../stores/job';
import { count } from '../../core/target/words';
import type { Thinned } from '../../core/steps/curves/thinned';
import { sideEngine } from '../stores/engine';
import CurveLane from './CurveLane.vue';

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
const thinnable = computed(() => shown.value.filter((c) => c.curve.kind !== PRESSURE));
/** What it would come to, by curve; worked out beside the screen, and dropped where another is asked. */
const found = shallowRef<ReadonlyMap<string, Thinned>>(new Map());
const failed = ref(false);
/** Of another number it says nothing. */
const tried = computed(
  () => new Map([...found.value].filter(([, thinned]) => thinned.within === within.value)),
);
watch([within, thinnable], (_now, _before, onCleanup) => {
  const by = within.value;
  failed.value = false;
  found.value = new Map();
  if (by === null) return;
  const { division, tempos } = props.piece;
  const calls = thinnable.value.map((c) => {
    const { tick, value } = c.curve;
    const perSecond = c.block?.perSecond;
    const asked = { tick, value, within: by, division, tempos };
    return [
      c.id,
      sideEngine().ask('thin', perSecond === undefined ? asked : { ...asked, perSecond }),
    ] as const;
  });
  let dropped = false;
  onCleanup(() => {
    dropped = true;
    for (const [, call] of calls) call.cancel();
  });
  const all = calls.map(async ([id, call]) => [id, await call.result] as const);
  Promise.all(all)
    .then((answers) => {
      if (dropped) return;
      found.value = new Map(answers.flatMap(([id, thinned]) => (thinned ? [[id, thinned]] : [])));
    })
    .catch(() => {
      if (!dropped) failed.value = true;
    });
});
const saysThin = computed(() => {
  if (thinnable.value.length === 0) return 'no curve that can be thinned';
  if (failed.value) return 'it was not worked out; try another number';
  if (tried.value.size === 0) return 'working it out…';
  const before = shown.value.reduce((n, c) => n + (tried.value.has(c.id) ? c.n : 0), 0);
  const all = [...tried.value.values()];
  const after = all.reduce((n, t) => n + t.tick.length, 0);
  const error = all.reduce((most, t) => Math.max(most, t.error), 0);
  return `${count(before, 'value')} → ${after.toLocaleString('en-GB')}, at most ${error} off`;
});
function thin() {
  const by = within.value;
  if (by === null) return;
  const calls = thinnable.value.map(({ curve, block }) => ({
    step: 'thin-curve',
    params: {
      ...(curve.kind === BEND ? { bend: true } : { controllers: [curve.number] }),
      within: by,
      ...(block?.perSecond ? { perSecond: block.perSecond } : {}),
    },
    scope: { parts: [props.part.ref] },
    on: true,
  }));
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
  /* Above the line of the playhead, which goes through all of the close-up. */
  position: relative;
  z-index: 3;
  display: flex;
  flex: none;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
  margin-left: 92px;
  font-size: 12px;
  white-space: nowrap;
}

.below .soft {
  white-space: normal;
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
