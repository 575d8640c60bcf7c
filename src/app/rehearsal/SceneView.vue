<script setup lang="ts">
import { useElementSize, usePreferredReducedMotion, useRafFn } from '@vueuse/core';
import { Hand } from '@lucide/vue';
import { computed, markRaw, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { useHandsOn } from '../stores/hands-on';
import { scaleFor } from '../sheet/wave';
import { useRecording } from '../stores/recording';
import { useRehearsal } from '../stores/rehearsal';
import { usePlaying } from '../stores/playing';
import { useSettings } from '../stores/settings';
import { PALETTES } from '../theme/tokens';
import { Pen } from './pen';

/** The device while it plays, drawn anew for each picture of the screen; in words once a second. */
const rehearsal = useRehearsal();
const handsOn = useHandsOn();
const recording = useRecording();
/** Beside what is delivered it lies as the plan has it. */
const wave = computed(() =>
  recording.listened
    ? markRaw({
        peaks: recording.listened.peaks,
        layout: recording.layout,
        scale: scaleFor(recording.listened.facts.peak),
      })
    : null,
);
const playing = usePlaying();
const settings = useSettings();
const canvas = ref<HTMLCanvasElement>();
const box = ref<HTMLElement>();
const scene = ref<HTMLElement>();
const { width, height } = useElementSize(box);
const motion = usePreferredReducedMotion();
const said = ref('');
/** Why nothing moves, where nothing was loaded at all. */
const refused = computed(() => {
  const played = rehearsal.reply?.played;
  return played && played.events.length === 0 ? (played.refused[0] ?? null) : null;
});

function draw() {
  const element = canvas.value;
  const context = element?.getContext('2d');
  if (!element || !context || width.value < 20 || height.value < 20) return;
  const ratio = window.devicePixelRatio || 1;
  const [w, h] = [Math.round(width.value * ratio), Math.round(height.value * ratio)];
  if (element.width !== w || element.height !== h) [element.width, element.height] = [w, h];
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  const still = motion.value === 'reduce';
  const pen = new Pen(
    context,
    width.value,
    height.value,
    PALETTES[settings.light],
    still,
    false,
    wave.value,
  );
  pen.clear();
  const { scene, us } = rehearsal;
  if (scene) scene.draw(pen, scene.at(us), handsOn.seen);
}
/** While it plays each picture is drawn; at rest only what changes. */
const moves = computed(() => playing.playing || handsOn.on);
const following = useRafFn(
  () => {
    draw();
    if (!moves.value) following.pause();
  },
  { immediate: false },
);
watch(
  [
    () => rehearsal.scene,
    wave,
    () => playing.playing,
    () => playing.ms,
    width,
    height,
    () => settings.light,
  ],
  () => {
    if (!moves.value) draw();
    else following.resume();
  },
  { flush: 'post' },
);
watch([() => playing.playing, () => handsOn.on], ([plays, inHand], [, before]) => {
  // The button that was pressed does not keep the keys.
  if (inHand && !before) scene.value?.focus();
  if (plays || inHand) following.resume();
  else draw();
});
// --- the pointer on the device -------------------------------------------------------------------
/** From end to end by so many pixels, upwards. */
const WHOLE_WAY_PX = 160;
let pulled: { readonly doing: string; readonly y: number; readonly share: number } | null = null;
const underPointer = (event: PointerEvent) =>
  handsOn.on
    ? (rehearsal.scene?.under?.(event.offsetX, event.offsetY, width.value, height.value) ?? null)
    : null;
const over = ref<string | null>(null);
function pull(event: PointerEvent) {
  const doing = underPointer(event);
  if (doing === null) return;
  canvas.value?.setPointerCapture(event.pointerId);
  pulled = { doing, y: event.offsetY, share: handsOn.dialAt() };
  if (doing !== 'dial') handsOn.press(doing);
}
function move(event: PointerEvent) {
  if (pulled?.doing === 'dial')
    handsOn.turn(pulled.share + (pulled.y - event.offsetY) / WHOLE_WAY_PX);
  else over.value = underPointer(event);
}
function letGo() {
  if (pulled && pulled.doing !== 'dial') handsOn.release(pulled.doing);
  pulled = null;
}

const speak = () => {
  const { scene, us } = rehearsal;
  said.value = handsOn.on ? handsOn.says : scene ? scene.describe(scene.at(us)) : '';
};
const talking = setInterval(speak, 1000);
watch(() => rehearsal.scene, speak);
onMounted(draw);
onBeforeUnmount(() => clearInterval(talking));
</script>

<template>
  <section
    ref="scene"
    class="scene"
    tabindex="-1"
    :class="{ taken: handsOn.on }"
    aria-label="The device"
  >
    <p v-if="refused" class="refused" role="status">
      <b class="serif">It would not load this: {{ refused.says }}</b>
      <span class="soft">{{ refused.file || 'The delivery' }}, {{ refused.at }}</span>
    </p>
    <div ref="box" class="stand">
      <canvas
        ref="canvas"
        role="img"
        :class="{ over: over !== null }"
        :aria-label="rehearsal.definition?.says"
        @pointerdown="pull"
        @pointermove="move"
        @pointerup="letGo"
        @pointercancel="letGo"
      ></canvas>
    </div>
    <p v-if="!rehearsal.scene" class="soft wait">
      {{ rehearsal.problem ?? 'Loading the files into the device…' }}
    </p>
    <div v-if="handsOn.possible || handsOn.on" class="foot">
      <button
        v-if="handsOn.possible || handsOn.on"
        class="take"
        type="button"
        :aria-pressed="handsOn.on"
        :title="handsOn.on ? 'Give the keys back (Esc)' : handsOn.takes?.says"
        @click="handsOn.on ? handsOn.leave() : void handsOn.take()"
      >
        <Hand :size="15" />{{ handsOn.on ? 'Give the keys back' : 'Hands on' }}
      </button>
      <span class="soft">{{ handsOn.on ? handsOn.says : handsOn.takes?.says }}</span>
    </div>
    <p class="sr" aria-live="polite" data-testid="scene-says">{{ said }}</p>
  </section>
</template>

<style scoped>
canvas.over {
  cursor: pointer;
  touch-action: none;
}

.scene {
  position: relative;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  min-height: 0;
  overflow: hidden;
  border-bottom: 1px solid var(--line);
  background: var(--page);
}

.scene:focus {
  outline: none;
}

.scene.taken {
  box-shadow: inset 0 0 0 2px var(--quill);
}

.stand {
  grid-row: 2;
  min-height: 0;
  overflow: hidden;
}

canvas {
  display: block;
  width: 100%;
  height: 100%;
}

.refused {
  display: flex;
  flex-wrap: wrap;
  grid-row: 1;
  gap: 0 10px;
  align-items: baseline;
  margin: 0;
  padding: 5px 12px;
  border-bottom: 1px solid var(--wax);
  background: var(--page);
}

.refused b {
  font-weight: 400;
}

.foot {
  display: flex;
  grid-row: 3;
  gap: 10px;
  align-items: center;
  padding: 3px 10px 4px;
  border-top: 1px solid var(--line);
  background: var(--band);
  white-space: nowrap;
  overflow: hidden;
}

.take {
  display: flex;
  flex: none;
  gap: 6px;
  align-items: center;
  padding: 3px 9px;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
  color: var(--ink);
  cursor: pointer;
}

.take[aria-pressed='true'] {
  border-color: var(--quill);
  background: var(--quill);
  color: var(--on-quill);
}

.wait {
  position: absolute;
  inset: 0;
  display: grid;
  place-items: center;
}
</style>
