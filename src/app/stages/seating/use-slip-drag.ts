import { useEventListener } from '@vueuse/core';
import { ref } from 'vue';
import type { SortableEvent } from 'vue-draggable-plus';
import { useSeating } from '../../stores/seating';

/**
 * A drag moves no slip; it aims at the card under the pointer, which shows what would come of it,
 * and the plan says where the parts lie then.
 */
export function useSlipDrag() {
  const seating = useSeating();
  const dragging = ref(false);

  function begun(event: SortableEvent) {
    const id = event.item.dataset['part'];
    if (id && !seating.picked.has(id)) seating.pick(id, false);
    dragging.value = true;
  }
  function aimAt(x: number, y: number) {
    if (!dragging.value) return;
    const under = document.elementFromPoint(x, y);
    seating.aim = under?.closest<HTMLElement>('[data-to]')?.dataset['to'] ?? null;
  }
  useEventListener(window, 'pointermove', (e) => aimAt(e.clientX, e.clientY));
  // Under a finger the pointer's own events may end where a drag begins.
  useEventListener(window, 'touchmove', ({ touches: [touch] }) => {
    if (touch) aimAt(touch.clientX, touch.clientY);
  });
  function ended() {
    dragging.value = false;
    const to = seating.aim;
    seating.aim = null;
    // The package swallows the click that follows a drag; where the slip is gone by then none follows,
    // and the next one that is meant would be lost.
    setTimeout(() => document.dispatchEvent(new MouseEvent('click', { cancelable: true })));
    if (to !== null) seating.place(seating.chosen, to);
  }
  /** What every list of slips asks of the package. */
  const options = {
    group: { name: 'slips', pull: false, put: false },
    sort: false,
    animation: 0,
    forceFallback: true,
    fallbackOnBody: true,
    fallbackTolerance: 4,
    fallbackClass: 'slip-in-hand',
  } as const;
  return { begun, ended, options };
}
