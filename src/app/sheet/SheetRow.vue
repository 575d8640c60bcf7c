<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { frames } from '../kit/frame-queue';
import { letters, lettersThere } from './letters';
import { paintRow } from './paint';
import { type PaintInput } from './paint-input';

/** One row as a canvas of its own: painted when something in it changes, moved by the browser. */
const props = defineProps<{ paint: Omit<PaintInput, 'context'> }>();
const me = {};
const ask = () => frames.add(me, draw);
const canvas = ref<HTMLCanvasElement>();

function draw() {
  const element = canvas.value;
  const context = element?.getContext('2d');
  if (!element || !context) return;
  const { layout } = props.paint;
  const ratio = window.devicePixelRatio || 1;
  const width = Math.round(layout.width * ratio);
  const height = Math.round(layout.rowHeight * ratio);
  if (element.width !== width || element.height !== height) {
    element.width = width;
    element.height = height;
  }
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  paintRow({ ...props.paint, context });
}

onMounted(() => {
  ask();
  // Labels are measured: once the fonts are there they are drawn with them.
  if (!lettersThere()) void letters().then(ask);
});
onBeforeUnmount(() => frames.drop(me));
watch(() => props.paint, ask);
</script>

<template>
  <canvas
    ref="canvas"
    class="row"
    :style="{
      width: `${paint.layout.width}px`,
      height: `${paint.layout.rowHeight}px`,
      transform: `translateY(${paint.row.top}px)`,
    }"
  ></canvas>
</template>

<style scoped>
.row {
  position: absolute;
  top: 0;
  left: 0;
}
</style>
