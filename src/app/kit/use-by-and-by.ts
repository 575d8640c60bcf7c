import { onBeforeUnmount, ref, watch, type Ref } from 'vue';

/** How many of a list are set up: some a frame, so that a long one holds up nothing. */
export function useByAndBy(total: () => number, each: number): Ref<number> {
  const shown = ref(Math.min(each, total()));
  let waiting = 0;
  function more() {
    waiting = 0;
    shown.value = Math.min(total(), shown.value + each);
    goOn();
  }
  function goOn() {
    if (shown.value < total()) waiting ||= requestAnimationFrame(more);
  }
  watch(
    total,
    (now) => {
      // A shorter list has fewer; a new one of the same length stays as it is.
      if (now < shown.value) shown.value = now;
      else if (shown.value === 0) shown.value = Math.min(each, now);
      goOn();
    },
    { immediate: true },
  );
  onBeforeUnmount(() => cancelAnimationFrame(waiting));
  return shown;
}
