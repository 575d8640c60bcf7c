import { ref, type Ref } from 'vue';
import type { LaidPiece } from '../stores/job';
import { useLooking } from '../stores/looking';
import { usePlaying } from '../stores/playing';
import { tickAtPoint, type Band, type SheetLayout } from './layout';
import { noteAt, notesIn } from './pick';

export interface Sweep {
  readonly fromX: number;
  readonly fromY: number;
  readonly toX: number;
  readonly toY: number;
}

interface Options {
  readonly frame: Ref<HTMLElement | undefined>;
  readonly piece: Ref<LaidPiece | null>;
  readonly layout: Ref<SheetLayout | null>;
  readonly bands: Ref<readonly Band[]>;
}

/** Click chooses a note or sets the place; a sweep chooses all it touches; shift adds. */
export function useSheetPointer({ frame, piece, layout, bands }: Options) {
  const looking = useLooking();
  const playing = usePlaying();
  const sweep = ref<Sweep | null>(null);
  let from: { x: number; y: number } | null = null;

  function pointOf(event: MouseEvent) {
    const { left, top } = frame.value!.getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top + frame.value!.scrollTop };
  }
  function down(event: PointerEvent) {
    if (event.button !== 0 || (event.target as HTMLElement).closest('button')) return;
    from = pointOf(event);
    frame.value!.setPointerCapture(event.pointerId);
  }
  function moved(event: PointerEvent) {
    if (!from) return;
    const { x, y } = pointOf(event);
    if (sweep.value || Math.hypot(x - from.x, y - from.y) > 5)
      sweep.value = { fromX: from.x, fromY: from.y, toX: x, toY: y };
  }
  function up(event: PointerEvent) {
    const p = piece.value;
    const l = layout.value;
    const start = from;
    const swept = sweep.value;
    from = null;
    sweep.value = null;
    if (!start || !p || !l) return;
    const idOf = ({ part, index }: { part: number; index: number }) =>
      p.parts[part]!.columns.id[index]!;
    const { x, y } = pointOf(event);
    if (swept) {
      const box = {
        left: Math.min(start.x, x),
        right: Math.max(start.x, x),
        top: Math.min(start.y, y),
        bottom: Math.max(start.y, y),
      };
      looking.chosen = new Set(notesIn(p, l, bands.value, box).map(idOf));
      looking.part = null;
      return;
    }
    const hit = noteAt(p, l, bands.value, x, y);
    if (hit) {
      const next = new Set(event.shiftKey ? looking.chosen : []);
      const id = idOf(hit);
      if (event.shiftKey && next.has(id)) next.delete(id);
      else next.add(id);
      looking.chosen = next;
    } else {
      looking.chosen = new Set();
      playing.seekShown(tickAtPoint(l, x, y));
    }
  }

  function cancel() {
    from = null;
    sweep.value = null;
  }

  /** The tick under the pointer; null where there is no music, or where a mark lies. */
  function tickUnder(event: MouseEvent): number | null {
    if (!layout.value || (event.target as HTMLElement).closest('button')) return null;
    const { x, y } = pointOf(event);
    return tickAtPoint(layout.value, x, y);
  }

  return { sweep, down, moved, up, cancel, tickUnder };
}
