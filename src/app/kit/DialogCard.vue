<script setup lang="ts">
import { NModal } from 'naive-ui';
import { X } from '@lucide/vue';
import { useEventListener } from '@vueuse/core';
import { nextTick, onBeforeUnmount, onMounted, ref, useId } from 'vue';
import InTurn from './InTurn.vue';

/**
 * A dialog over the desk: named by its title, closed by Esc, by its cross, or beside it. The focus goes
 * to what is done most likely, else to the dialog itself, so that its name is read; when it closes the
 * focus is back where it was.
 */
withDefaults(defineProps<{ title: string; width?: number }>(), { width: 560 });
const emit = defineEmits<{ close: [] }>();
const id = useId();
const card = ref<HTMLElement>();
const before = document.activeElement as HTMLElement | null;

const LIKELY = '[autofocus], .n-button--primary-type:not([disabled])';
onMounted(async () => {
  await nextTick();
  const find = () => card.value?.querySelector<HTMLElement>(LIKELY);
  (find() ?? card.value)?.focus();
  // What the dialog holds comes some a frame.
  requestAnimationFrame(() => {
    if (document.activeElement === card.value) find()?.focus();
  });
});
onBeforeUnmount(() => {
  void nextTick(() => {
    if (document.activeElement === document.body) before?.focus?.();
  });
});

/** A press that began before the dialog was there, as the second of a double click, is not meant for it. */
let pressedBeside = false;
useEventListener(window, 'pointerdown', (event) => {
  pressedBeside = !card.value?.contains(event.target as Node);
});
function beside(show: boolean) {
  if (!show && pressedBeside && performance.now() - openedAt > DOUBLE_CLICK_MS) emit('close');
}
const openedAt = performance.now();
const DOUBLE_CLICK_MS = 500;
</script>

<template>
  <NModal
    show
    :auto-focus="false"
    :trap-focus="true"
    :close-on-esc="false"
    @update:show="beside"
    @esc="emit('close')"
  >
    <div
      ref="card"
      class="card"
      role="dialog"
      aria-modal="true"
      tabindex="-1"
      :aria-labelledby="id"
      :style="{ width: `min(${width}px, 92vw)` }"
      @keydown.esc.stop="emit('close')"
    >
      <header>
        <h2 :id="id">{{ title }}</h2>
        <button class="icon" type="button" aria-label="Close" @click="emit('close')">
          <X :size="18" />
        </button>
      </header>
      <InTurn><slot /></InTurn>
    </div>
  </NModal>
</template>

<style scoped>
.card {
  max-height: 86vh;
  padding: 18px 22px 22px;
  overflow: auto;
  border: 1px solid var(--line);
  border-radius: 7px;
  background: var(--page);
  color: var(--ink);
  outline: none;
}

header {
  display: flex;
  gap: 12px;
  align-items: center;
  justify-content: space-between;
  margin-bottom: 12px;
}

h2 {
  overflow-wrap: anywhere;
  font-size: 20px;
}
</style>
