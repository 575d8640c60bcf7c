<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, watch } from 'vue';
import type { Target } from '../../core/target/schema';
import { frames } from '../kit/frame-queue';
import { useSettings } from '../stores/settings';
import { PALETTES } from '../theme/tokens';
import { aFewNotes, PICTURE_US } from './a-few-notes';
import { Pen } from './pen';
import { sceneOf } from './scenes';

/** A target as its scene draws it, with a few notes that it would take. */
const {
  target,
  width = 120,
  height = 66,
} = defineProps<{
  target: Target;
  width?: number;
  height?: number;
}>();
const settings = useSettings();
const canvas = ref<HTMLCanvasElement>();
/** The size at which scenes are composed; a small picture is that one, smaller. */
const STAGE = 420;

function draw() {
  const context = canvas.value?.getContext('2d');
  if (!context) return;
  const ratio = window.devicePixelRatio || 1;
  const scale = (width / STAGE) * ratio;
  canvas.value!.width = Math.round(width * ratio);
  canvas.value!.height = Math.round(height * ratio);
  context.setTransform(scale, 0, 0, scale, 0, 0);
  const pen = new Pen(
    context,
    STAGE,
    (STAGE * height) / width,
    PALETTES[settings.light],
    true,
    true,
  );
  pen.clear();
  const scene = sceneOf(target).load(aFewNotes(target), target);
  scene.draw(pen, scene.at(PICTURE_US), null);
}
const me = {};
const ask = () => frames.add(me, draw);
onMounted(ask);
onBeforeUnmount(() => frames.drop(me));
watch([() => target, () => settings.light, () => width], ask);
</script>

<template>
  <canvas
    ref="canvas"
    class="picture"
    :style="{ width: `${width}px`, height: `${height}px` }"
    aria-hidden="true"
  ></canvas>
</template>

<style scoped>
.picture {
  flex: none;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--page);
}
</style>
