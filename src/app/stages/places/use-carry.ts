import { useEventListener } from '@vueuse/core';
import { ref } from 'vue';
import { usePlaces, type Carried } from '../../stores/places';

/** So far a pointer moves before it carries; until then it is a click. */
const BEGINS_PX = 6;

/**
 * Bars carried by mouse or finger: they are in hand from the first move on, and laid into the place
 * under the pointer where it is let go.
 */
export function useCarry() {
  const places = usePlaces();
  /** Where the pointer is while it carries. */
  const at = ref<{ readonly x: number; readonly y: number } | null>(null);
  const over = ref<string | null>(null);
  let begun: { x: number; y: number; take: () => void } | null = null;
  /** A click follows where the pointer is let go; it is none. */
  let carried = false;

  function begin(event: PointerEvent, take: () => void) {
    if (event.button !== 0) return;
    carried = false;
    begun = { x: event.clientX, y: event.clientY, take };
    // A finger that carries holds nothing else: what lies under it is to be found.
    if (event.target instanceof Element && event.target.hasPointerCapture(event.pointerId))
      event.target.releasePointerCapture(event.pointerId);
  }
  useEventListener(window, 'pointermove', ({ clientX: x, clientY: y }) => {
    if (!begun) return;
    if (!at.value) {
      if (Math.hypot(x - begun.x, y - begun.y) < BEGINS_PX) return;
      carried = true;
      begun.take();
    }
    at.value = { x, y };
    const under = document.elementFromPoint(x, y)?.closest<HTMLElement>('[data-place]');
    over.value = under?.dataset['place'] ?? null;
  });
  function end(lays: boolean) {
    const slot = places.slotOf(over.value);
    if (at.value && lays && slot) places.put(slot);
    begun = null;
    at.value = null;
    over.value = null;
  }
  useEventListener(window, 'pointerup', () => end(true));
  useEventListener(window, 'pointercancel', () => end(false));

  return {
    at,
    over,
    begin,
    /** What a click does, unless it ended a carrying. */
    click(does: () => void) {
      if (!carried) does();
      carried = false;
    },
    carry: (event: PointerEvent, what: Carried) => begin(event, () => places.take(what)),
  };
}

export type Carry = ReturnType<typeof useCarry>;
