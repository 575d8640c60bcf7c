import type { Ref } from 'vue';
import type { LaidPiece } from '../stores/job';
import { usePlaying } from '../stores/playing';
import { rowAt, type SheetLayout } from './layout';

interface Options {
  readonly frame: Ref<HTMLElement | undefined>;
  readonly piece: Ref<LaidPiece | null>;
  readonly layout: Ref<SheetLayout | null>;
  /** Brings a tick into view. */
  readonly bring: (tick: number) => void;
}

/** Arrow keys move the place: by beats, and by rows at the same distance from the row's start. */
export function useSheetKeys({ frame, piece, layout, bring }: Options) {
  const playing = usePlaying();

  function key(event: KeyboardEvent) {
    const p = piece.value;
    const l = layout.value;
    if (!p || !l || event.target !== frame.value) return;
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const tick = playing.shownTick;
    const place = p.bars.placeAt(tick);
    const row = rowAt(l, tick);
    const steps: Record<string, () => number> = {
      ArrowRight: () => p.bars.tickOf(place.bar, place.beat + 1),
      ArrowLeft: () => (place.tick > 0 ? p.bars.tickOf(place.bar, place.beat) : beatBefore(tick)),
      ArrowDown: () => tick - row.fromTick + (l.rows[row.index + 1]?.fromTick ?? row.fromTick),
      ArrowUp: () => tick - row.fromTick + (l.rows[row.index - 1]?.fromTick ?? row.fromTick),
      End: () => Math.max(0, p.endTick - 1),
    };
    const step = steps[event.key];
    if (!step) return;
    event.preventDefault();
    const to = Math.max(0, Math.min(p.endTick, step()));
    playing.seekShown(to);
    bring(to);
    function beatBefore(at: number) {
      const { bar, beat } = p!.bars.placeAt(Math.max(0, at - 1));
      return p!.bars.tickOf(bar, beat);
    }
  }

  return { key };
}
