import { onBeforeUnmount, ref, watch, type Ref } from 'vue';
import { frames } from './frame-queue';

/** How many frames’ worth is no more than a hand waits for without noticing. */
const AT_ONCE = 3;

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
      // A shorter list has fewer; a new one of the same length stays as it is. A few that are added to
      // one that stands are there at once: nothing behind them gives way meanwhile.
      const stands = before > 0 && shown.value === before;
      if (now < shown.value || (stands && now - before <= each * AT_ONCE)) shown.value = now;
      goOn();
    },
    { immediate: true },
  );
  onBeforeUnmount(() => frames.drop(me));
  return shown;
}
