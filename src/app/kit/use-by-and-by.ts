import { onBeforeUnmount, ref, watch, type Ref } from 'vue';
import { frames } from './frame-queue';

/** How many of a list are set up: some a frame, so that a long one holds up nothing. */
export function useByAndBy(total: () => number, each: number): Ref<number> {
  const shown = ref(0);
  const me = {};
  function more() {
    shown.value = Math.min(total(), shown.value + each);
    goOn();
  }
  function goOn() {
    if (shown.value < total()) frames.add(me, more, { alone: true });
  }
  watch(
    total,
    (now, before = 0) => {
      // A shorter list has fewer; a new one of the same length stays as it is. What is added to one that
      // stands is there at once: nothing behind it gives way meanwhile.
      if (now < shown.value || (before > 0 && shown.value === before && now - before <= each))
        shown.value = now;
      goOn();
    },
    { immediate: true },
  );
  onBeforeUnmount(() => frames.drop(me));
  return shown;
}
