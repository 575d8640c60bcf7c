<script setup lang="ts">
import { computed } from 'vue';
import { noteName } from '../../core/target/words';

/** A stretch of keys: those that are allowed stand out, the others lie on hatched ground. */
const props = defineProps<{
  allowed: readonly number[];
  label: string;
  names?: ReadonlyMap<number, string>;
}>();

const BLACK = new Set([1, 3, 6, 8, 10]);
const HEIGHT = 54;
const there = computed(() => new Set(props.allowed));
const stretch = computed(() => {
  const low = Math.min(...props.allowed, 127);
  const high = Math.max(...props.allowed, 0);
  // From a C to a B around what is allowed, so that the eye finds its octave.
  return {
    from: Math.max(0, Math.floor((low - 3) / 12) * 12),
    to: Math.min(127, Math.ceil((high + 4) / 12) * 12 - 1),
  };
});
const keys = computed(() => {
  const { from, to } = stretch.value;
  const out: { key: number; x: number; black: boolean }[] = [];
  let white = 0;
  for (let key = from; key <= to; key++) {
    const black = BLACK.has(key % 12);
    out.push({ key, x: black ? white - 0.32 : white, black });
    if (!black) white++;
  }
  return { list: out, width: Math.max(1, white) };
});
const ordered = computed(() =>
  [...keys.value.list].sort((a, b) => Number(a.black) - Number(b.black)),
);
const octaves = computed(() => keys.value.list.filter((k) => k.key % 12 === 0));
const title = (key: number) => {
  const own = props.names?.get(key);
  return `${noteName(key)} (${key})${own ? `, ${own}` : ''}${there.value.has(key) ? '' : ': not there'}`;
};
</script>

<template>
  <svg
    class="keys"
    :class="{ wide: keys.width > 45 }"
    :viewBox="`0 0 ${keys.width * 10} ${HEIGHT + (keys.width > 45 ? 20 : 15)}`"
    :style="{ maxWidth: `${keys.width * 12}px` }"
    role="img"
    :aria-label="label"
  >
    <defs>
      <pattern
        id="not-there"
        width="4"
        height="4"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <rect width="4" height="4" class="ground" />
        <line x1="0" y1="0" x2="0" y2="4" class="hatch" />
      </pattern>
    </defs>
    <g v-for="k in ordered" :key="k.key">
      <rect
        :x="k.x * 10"
        y="0.5"
        :width="k.black ? 6.4 : 10"
        :height="k.black ? HEIGHT * 0.6 : HEIGHT"
        :class="[k.black ? 'black' : 'white', there.has(k.key) ? 'there' : 'missing']"
      >
        <title>{{ title(k.key) }}</title>
      </rect>
      <circle
        v-if="there.has(k.key)"
        :cx="k.x * 10 + (k.black ? 3.2 : 5)"
        :cy="k.black ? HEIGHT * 0.6 - 5 : HEIGHT - 6"
        r="1.7"
        :class="k.black ? 'dot-on-black' : 'dot'"
      />
    </g>
    <text
      v-for="k in octaves"
      :key="k.key"
      :x="k.x * 10 + 1"
      :y="HEIGHT + (keys.width > 45 ? 17 : 12)"
      class="octave"
    >
      {{ noteName(k.key) }}
    </text>
  </svg>
</template>

<style scoped>
.keys {
  display: block;
  width: 100%;
}

.white,
.black {
  stroke: var(--ink-2);
  stroke-width: 0.5;
}

.white.there {
  fill: var(--page);
}

.black.there {
  fill: var(--ink);
}

.missing {
  fill: url('#not-there');
}

.ground {
  fill: var(--hatch-ground);
}

.hatch {
  stroke: var(--hatch);
  stroke-width: 1.4;
}

.dot {
  fill: var(--quill);
}

.dot-on-black {
  fill: var(--paper);
}

.octave {
  fill: var(--ink-2);
  font: 11px var(--sans);
}

/* More keys than there is room for are drawn smaller, and their names are not. */
.wide .octave {
  font-size: 17px;
}
</style>
