<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, ref } from 'vue';
import { sayClock, sayPlace } from '../../core/time/meter-map';
import { count as sayCount, noteName } from '../../core/target/words';
import { useLooking } from '../stores/looking';
import SourceMark from '../parts/SourceMark.vue';

/** The notes of the sheet as a table: the chosen ones, else those of the finding in view, else all. */
const looking = useLooking();
const box = ref<HTMLElement>();

const rows = computed(() => {
  const piece = looking.piece;
  if (!piece) return { parts: new Uint32Array(0), indices: new Uint32Array(0) };
  const only = looking.outlined;
  const picked: [part: number, index: number, start: number][] = [];
  piece.parts.forEach((part, p) => {
    const { id, start, count } = part.columns;
    for (let i = 0; i < count; i++)
      if (only.size === 0 ? !part.leftOut : only.has(id[i]!)) picked.push([p, i, start[i]!]);
  });
  picked.sort((a, b) => a[2] - b[2]);
  return {
    parts: Uint32Array.from(picked, (r) => r[0]),
    indices: Uint32Array.from(picked, (r) => r[1]),
  };
});
const count = computed(() => rows.value.parts.length);
const ROW_PX = 26;
const virtual = useVirtualizer(
  computed(() => ({
    count: count.value,
    getScrollElement: () => box.value ?? null,
    estimateSize: () => ROW_PX,
    overscan: 12,
  })),
);

function rowOf(n: number) {
  const piece = looking.piece!;
  const part = piece.parts[rows.value.parts[n]!]!;
  const i = rows.value.indices[n]!;
  const { start, end, noteNumber, velocity, id } = part.columns;
  const ms = piece.clock.msAt(start[i]!);
  return {
    id: id[i]!,
    tick: start[i]!,
    part: part.name,
    source: part.ref.source,
    place: sayPlace(piece.bars.placeAt(start[i]!)),
    key: `${noteName(noteNumber[i]!)} ${noteNumber[i]}`,
    velocity: velocity[i]!,
    length: Math.round(piece.clock.msAt(end[i]!) - ms),
    clock: sayClock(ms),
  };
}

function choose(n: number) {
  const { id, tick } = rowOf(n);
  looking.chosen = new Set([id]);
  looking.bring(tick);
}
</script>

<template>
  <div class="notes">
    <p class="soft said">
      {{
        looking.outlined.size > 0
          ? sayCount(count, 'chosen note')
          : `${sayCount(count, 'note')}, in order`
      }}
    </p>
    <div class="head" aria-hidden="true">
      <span>place</span><span>key</span><span>vel</span><span>ms</span>
    </div>
    <div ref="box" class="box" role="grid" tabindex="0" aria-label="Notes" :aria-rowcount="count">
      <div role="rowgroup" :style="{ height: `${virtual.getTotalSize()}px`, position: 'relative' }">
        <div
          v-for="item in virtual.getVirtualItems()"
          :key="item.index"
          class="row"
          role="row"
          :aria-rowindex="item.index + 1"
          :style="{ transform: `translateY(${item.start}px)` }"
          :title="`${rowOf(item.index).part}, ${rowOf(item.index).clock}`"
          @click="choose(item.index)"
        >
          <span role="gridcell"
            ><button class="plain" type="button">
              <SourceMark :source="rowOf(item.index).source" /> {{ rowOf(item.index).place }}
            </button></span
          >
          <span role="gridcell">{{ rowOf(item.index).key }}</span>
          <span role="gridcell">{{ rowOf(item.index).velocity }}</span>
          <span role="gridcell">{{ rowOf(item.index).length }}</span>
        </div>
      </div>
    </div>
  </div>
</template>

<style scoped>
.notes {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: auto auto minmax(0, 1fr);
  gap: 4px;
  height: 100%;
  overflow: hidden;
}

.said {
  font-size: 12px;
}

.head,
.row {
  display: grid;
  grid-template-columns: 1.3fr 1fr 0.6fr 0.8fr;
  gap: 6px;
  width: 100%;
  padding: 0 6px;
  text-align: right;
}

.head {
  padding-right: 20px;
  color: var(--ink-2);
  font-size: 12px;
}

.head span:first-child,
.row span:first-child {
  text-align: left;
}

.box {
  overflow: auto;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
}

.row {
  position: absolute;
  top: 0;
  left: 0;
  height: 26px;
  align-items: center;
  border-bottom: 1px solid var(--line);
}

.row:hover {
  background: var(--band);
}
</style>
