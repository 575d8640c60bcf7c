import type { NoteView } from '../../core/wire/view';

/** What of a piece its density is counted from. */
interface Counted {
  readonly clock: { msAt(tick: number): number; tickAt(ms: number): number };
  readonly endTick: number;
  readonly parts: readonly { readonly leftOut: boolean; readonly columns: NoteView }[];
}

/** Notes that begin in each of `slots` equal stretches of clock time; parts left out do not count. */
export function densityOf(piece: Counted, slots: number): number[] {
  const counts = new Array<number>(slots).fill(0);
  const endMs = piece.clock.msAt(piece.endTick);
  if (!(endMs > 0)) return counts;
  // Slot edges as ticks, so that each note costs one comparison and no clock.
  const edges = Int32Array.from({ length: slots }, (_, i) =>
    piece.clock.tickAt((endMs * (i + 1)) / slots),
  );
  for (const part of piece.parts) {
    if (part.leftOut) continue;
    const { start, count } = part.columns;
    let slot = 0;
    for (let i = 0; i < count; i++) {
      while (slot < slots - 1 && start[i]! >= edges[slot]!) slot++;
      counts[slot]!++;
    }
  }
  return counts;
}
