<script setup lang="ts">
/**
 * What will happen to a dropped file, in one drawing: it comes in, lies on the sheet with what is
 * amiss marked beside it, is mended, and plays at the device.
 */
const notes = [
  [0, 3, 26],
  [30, 2, 18],
  [52, 1, 30],
  [86, 2, 16],
  [106, 4, 34],
  [144, 3, 22],
] as const;
const lanterns = Array.from({ length: 9 }, (_, i) => {
  const t = i / 8;
  return { x: 8 + t * 144, y: 16 + Math.sin(Math.PI * t) * 26, lit: i % 4 === 1 };
});
const STEPS = [
  ['Drop a file', 'It is read, and kept as it is'],
  ['See it against the target', 'Each place that would go wrong is marked'],
  ['Mend it', 'Its cost is shown first; undo at any time'],
  ['Try it, hand it over', 'Written anew, read back, rehearsed'],
] as const;
const CENTRES = [90, 350, 620, 870] as const;
</script>

<template>
  <figure class="drawing">
    <svg viewBox="0 0 1000 190" role="img" aria-labelledby="desk-says">
      <title id="desk-says">
        A file is dropped, seen against the target with what is amiss marked, mended, tried, and
        handed over.
      </title>
      <!-- The file. -->
      <g transform="translate(42 26)">
        <path class="paper" d="M0 0h74l22 22v86H0z" />
        <path class="ink" d="M74 0v22h22" />
        <path class="ink" d="M28 78V44l34-8v34" />
        <ellipse class="fill" cx="22" cy="79" rx="8" ry="6" />
        <ellipse class="fill" cx="56" cy="71" rx="8" ry="6" />
      </g>
      <!-- The sheet with marks. -->
      <g transform="translate(256 34)">
        <rect class="paper" x="-10" y="-8" width="208" height="108" rx="4" />
        <path v-for="i in 5" :key="i" class="rule" :d="`M0 ${i * 17}h188`" />
        <path v-for="i in 4" :key="`b${i}`" class="rule" :d="`M${i * 47} 4v90`" />
        <rect
          v-for="([x, row, w], i) in notes"
          :key="`n${x}`"
          :class="i === 4 ? 'wax' : 'note'"
          :x="x + 4"
          :y="row * 17 + 4"
          :width="w"
          height="8"
          rx="1.5"
        />
        <circle class="wax" cx="127" cy="60" r="11" />
        <text class="mark" x="127" y="64">1</text>
      </g>
      <!-- The quill mends. -->
      <g transform="translate(536 34)">
        <rect class="paper" x="-10" y="-8" width="188" height="108" rx="4" />
        <path v-for="i in 5" :key="i" class="rule" :d="`M0 ${i * 17}h168`" />
        <rect class="ghost" x="76" y="72" width="34" height="8" rx="1.5" />
        <rect class="note" x="76" y="38" width="34" height="8" rx="1.5" />
        <path class="ink dash" d="M93 70V50" />
        <path class="ink" d="M88 55l5-6 5 6" />
        <path class="quill" d="M150 2c-24 10-36 34-42 60 24-8 42-28 42-60z" />
        <path class="ink" d="M104 70l34-52" />
      </g>
      <!-- The device. -->
      <g transform="translate(790 40)">
        <path class="ink" d="M0 12Q80 72 160 12" />
        <g v-for="l in lanterns" :key="l.x" :transform="`translate(${l.x} ${l.y})`">
          <path class="ink" d="M0 0v7" />
          <ellipse :class="l.lit ? 'lit' : 'paper'" cx="0" cy="15" rx="6" ry="8" />
        </g>
        <path class="ink" d="M-4 92h168M18 92V40M142 92V40" />
      </g>
      <path v-for="x in [177, 475, 735]" :key="x" class="ink" :d="`M${x} 84h30m-8-6l8 6-8 6`" />
      <g v-for="([what, how], i) in STEPS" :key="what">
        <text class="what" :x="CENTRES[i]" y="160">{{ what }}</text>
        <text class="how" :x="CENTRES[i]" y="180">{{ how }}</text>
      </g>
    </svg>
  </figure>
</template>

<style scoped>
.drawing {
  margin: 8px 0 18px;
}

svg {
  display: block;
  width: 100%;
  max-width: 1080px;
  margin: 0 auto;
}

.paper {
  fill: var(--page);
  stroke: var(--ink);
  stroke-width: 1.5;
}

.ink,
.quill {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.6;
  stroke-linecap: round;
  stroke-linejoin: round;
}

.quill {
  fill: var(--gold);
}

.dash {
  stroke-dasharray: 3 3;
}

.fill,
.note {
  fill: var(--ink);
}

.rule {
  fill: none;
  stroke: var(--line);
}

.wax {
  fill: var(--wax);
}

.ghost {
  fill: none;
  stroke: var(--wax);
  stroke-dasharray: 3 2;
}

.lit {
  fill: var(--gold);
  stroke: var(--ink);
  stroke-width: 1.5;
}

.mark {
  fill: var(--on-wax);
  font: 600 12px var(--sans);
  text-anchor: middle;
}

.what {
  fill: var(--ink);
  font: 600 16px var(--serif);
  text-anchor: middle;
}

.how {
  fill: var(--ink-2);
  font: 400 12.5px var(--sans);
  text-anchor: middle;
}
</style>
