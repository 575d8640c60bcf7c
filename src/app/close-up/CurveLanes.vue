<script setup lang="ts">
import { NSelect } from 'naive-ui';
import { computed, ref, watch } from 'vue';
import type { Ink } from '../sheet/inks';
import { useJob, type LaidPiece } from '../stores/job';
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
      @wheel="emit('wheel', $event)"
      @pencil="emit('pencil')"
    />
    <NSelect
      v-model:value="picked"
      class="pick"
      size="tiny"
      multiple
      :max-tag-count="3"
      :options="options"
      aria-label="Curves that are shown"
      placeholder="No curve is shown"
    />
  </div>
</template>

<style scoped>
.lanes {
  display: flex;
  flex-direction: column;
  gap: 4px;
  min-height: 0;
}

.lanes > :not(.pick) {
  flex: 1;
}

.pick {
  flex: none;
  max-width: 520px;
  margin-left: 92px;
}
</style>
