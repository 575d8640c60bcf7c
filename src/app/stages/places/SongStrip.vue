<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { scaleLinear } from 'd3-scale';
import { computed, ref } from 'vue';
import { sayStretch, usePlaces } from '../../stores/places';

/** A song from its first bar to its last: how full each bar is, what is laid where, what is in hand. */
const props = defineProps<{ song: number }>();
const places = usePlaces();
const TALL = 34;
const box = ref<HTMLElement>();
const { width } = useElementSize(box);
const own = computed(() => places.songs[props.song]!);
const bars = computed(() => own.value.notes.length);
const x = computed(() =>
  scaleLinear()
    .domain([1, bars.value + 1])
    .range([0, width.value]),
);
const density = computed(() => {
  const most = Math.max(1, ...own.value.notes);
  return own.value.notes
    .map((n, i) => {
      if (n === 0) return '';
      const h = 3 + (n / most) * (TALL - 6);
      const [from, to] = [x.value(i + 1), x.value(i + 2)];
      const gap = to - from > 4 ? 1 : 0;
      return `M${from.toFixed(1)} ${TALL}v${(-h).toFixed(1)}h${(to - from - gap).toFixed(1)}v${h.toFixed(1)}z`;
    })
    .join('');
});
const LABEL_PX = 40;
const NUMBER_PX = 20;
/** Bar numbers with room between them, by 1, 4, 8, 16 … */
const numbers = computed(() => {
  const every = [1, 4, 8, 16, 32, 64, 128, 256].find((n) => x.value(1 + n) > 26) ?? 512;
  const out: number[] = [];
  for (let bar = 1; bar <= bars.value; bar += every) out.push(bar);
  // One that would be cut at the end is left off.
  return out.filter((n) => x.value(n) + NUMBER_PX <= width.value);
});
const laid = computed(() =>
  places.placed
    .filter((p) => places.songOf(p.from) === props.song)
    .map((p) => {
      const long = p.bars ?? bars.value;
      const from = x.value(p.fromBar);
      const wide = Math.max(3, x.value(p.fromBar + long) - from - 1);
      const name = places.slotOf(p.place)?.name ?? p.place;
      return { key: `${p.place}`, from, wide, name, says: wide > LABEL_PX ? name : '' };
    }),
);
const mine = computed(() => (places.inHand?.song === props.song ? places.inHand : null));

// --- sweeping ------------------------------------------------------------------------------------
let anchor: number | null = null;
const barAt = (event: PointerEvent) => {
  const left = box.value?.getBoundingClientRect().left ?? 0;
  return Math.max(1, Math.min(bars.value, Math.floor(x.value.invert(event.clientX - left))));
};
function hold(a: number, b: number) {
  const fromBar = Math.min(a, b);
  places.take({ song: props.song, fromBar, bars: Math.abs(a - b) + 1, name: 'Swept' });
}
function begin(event: PointerEvent) {
  if (event.button !== 0) return;
  box.value?.setPointerCapture(event.pointerId);
  anchor = barAt(event);
  hold(anchor, anchor);
}
function sweep(event: PointerEvent) {
  if (anchor !== null) hold(anchor, barAt(event));
}
/** Arrows move what is in hand, with Shift they make it longer or shorter. */
function keys(event: KeyboardEvent) {
  const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
  if (by === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  const now = mine.value ?? { fromBar: 1, bars: 0 };
  if (!mine.value) return hold(1, 1);
  if (event.shiftKey) {
    const last = Math.min(bars.value, now.fromBar + now.bars - 1 + by);
    return hold(now.fromBar, Math.max(now.fromBar, last));
  }
  const from = Math.max(1, Math.min(bars.value - now.bars + 1, now.fromBar + by));
  hold(from, from + now.bars - 1);
}
</script>

<template>
  <div
    ref="box"
    class="song"
    role="group"
    tabindex="0"
    :aria-label="`Bars of ${own.file}: sweep to choose; arrows move, Shift and arrows lengthen. ${mine ? sayStretch(mine) : 'None chosen'}`"
    @pointerdown="begin"
    @pointermove="sweep"
    @pointerup="anchor = null"
    @pointercancel="anchor = null"
    @keydown="keys"
  >
    <svg :width="width" :height="TALL + (laid.length > 0 ? 32 : 15)" aria-hidden="true">
      <text v-for="n in numbers" :key="n" class="n" :x="x(n) + 1" y="10">{{ n }}</text>
      <g :transform="`translate(0 14)`">
        <rect class="ground" :width="width" :height="TALL" />
        <path class="full" :d="density" />
        <rect
          v-if="mine"
          class="hand"
          :x="x(mine.fromBar)"
          y="0.5"
          :width="Math.max(3, x(mine.fromBar + mine.bars) - x(mine.fromBar))"
          :height="TALL - 1"
        />
      </g>
      <g v-for="l in laid" :key="l.key" :transform="`translate(${l.from} ${TALL + 15})`">
        <rect class="laid" :width="l.wide" height="16" rx="2">
          <title>{{ l.name }}</title>
        </rect>
        <text v-if="l.says" class="l" x="4" y="12">{{ l.says }}</text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.song {
  margin-top: 5px;
  min-width: 0;
  border-radius: 4px;
  cursor: col-resize;
  touch-action: none;
}

svg {
  display: block;
}

.n {
  fill: var(--ink-2);
  font: 11px var(--sans);
}

.ground {
  fill: var(--page);
  stroke: var(--line);
}

.full {
  fill: var(--ink-2);
  fill-opacity: 0.38;
}

.hand {
  fill: var(--quill);
  fill-opacity: 0.22;
  stroke: var(--quill);
}

.laid {
  fill: var(--ink);
}

.l {
  fill: var(--page);
  font: 600 11px var(--sans);
}
</style>
