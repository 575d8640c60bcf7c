<script setup lang="ts">
import { useElementSize, usePreferredReducedMotion } from '@vueuse/core';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { useRehearsal } from '../stores/rehearsal';
import { usePlaying } from '../stores/playing';
import { useSettings } from '../stores/settings';
import { PALETTES } from '../theme/tokens';
import { Pen } from './pen';

/** The device while it plays, drawn anew for each picture of the screen; in words once a second. */
const rehearsal = useRehearsal();
const playing = usePlaying();
const settings = useSettings();
const canvas = ref<HTMLCanvasElement>();
const box = ref<HTMLElement>();
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
  const pen = new Pen(context, width.value, height.value, PALETTES[settings.light], still);
  pen.clear();
  const { scene, us } = rehearsal;
  if (scene) scene.draw(pen, scene.at(us));
}
/** While it plays each picture is drawn; at rest only what changes. */
let frame = 0;
function follow() {
  cancelAnimationFrame(frame);
  draw();
  if (playing.playing) frame = requestAnimationFrame(follow);
}
watch(
  [
    () => rehearsal.scene,
    () => playing.playing,
    () => playing.ms,
    width,
    height,
    () => settings.light,
  ],
  () => {
    if (!playing.playing) draw();
    else if (frame === 0) follow();
  },
  { flush: 'post' },
);
watch(
  () => playing.playing,
  (on) => {
    frame = 0;
    if (on) follow();
  },
);
const speak = () => {
  const { scene, us } = rehearsal;
  said.value = scene ? scene.describe(scene.at(us)) : '';
};
const talking = setInterval(speak, 1000);
watch(() => rehearsal.scene, speak);
onMounted(draw);
onBeforeUnmount(() => {
  cancelAnimationFrame(frame);
  clearInterval(talking);
});
</script>

<template>
  <section ref="box" class="scene" aria-label="The device">
    <canvas ref="canvas" role="img" :aria-label="rehearsal.definition?.says"></canvas>
    <div v-if="refused" class="refused" role="status">
      <p class="serif">It would not load this: {{ refused.says }}</p>
      <p class="soft">{{ refused.file || 'The delivery' }}, {{ refused.at }}</p>
    </div>
    <p v-if="!rehearsal.scene" class="soft wait">
      {{ rehearsal.problem ?? 'The device is given what would be handed over…' }}
    </p>
    <p class="sr" aria-live="polite" data-testid="scene-says">{{ said }}</p>
  </section>
</template>

<style scoped>
.scene {
  position: relative;
  min-height: 0;
  overflow: hidden;
  border-bottom: 1px solid var(--line);
  background: var(--page);
}

canvas {
  display: block;
  width: 100%;
  height: 100%;
}

.refused {
  position: absolute;
  top: 12px;
  left: 12px;
  max-width: calc(100% - 24px);
  padding: 8px 12px;
  border: 1px solid var(--wax);
  border-radius: 5px;
  background: var(--page);
}

.wait {
  position: absolute;
  inset: 0;
  display: grid;
  place-items: center;
}
</style>
