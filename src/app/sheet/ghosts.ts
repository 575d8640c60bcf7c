import type { LaidPiece } from '../stores/job';

/** Where a note was that a mend would change: ticks are those of the piece with the mend. */
export interface Ghost {
  /** Index of its part in the piece with the mend. */
  readonly part: number;
  readonly startTick: number;
  readonly endTick: number;
  readonly noteNumber: number;
}

const KEPT_WITHIN_MS = 1;
/** More are not told apart on a sheet; the count beside it is of all. */
const MOST_GHOSTS = 20_000;

/**
 * The notes of `before` that are otherwise in `after`: gone, moved beyond the shift that all share,
 * of another length or key, or in another part. In tick order.
 */
export function ghostsOf(
  before: LaidPiece,
  after: LaidPiece,
  shiftMs: number,
): { ghosts: Ghost[]; count: number } {
  const place = new Map<number, { part: number; index: number }>();
  after.parts.forEach((part, p) => {
    if (part.leftOut) return;
    const { id, count } = part.columns;
    for (let i = 0; i < count; i++) place.set(id[i]!, { part: p, index: i });
  });
  const partOf = new Map(after.parts.map((p, i) => [p.id, i]));
  const there = (tick: number) =>
    Math.max(0, after.clock.tickAt(before.clock.msAt(tick) + shiftMs));
  const ghosts: Ghost[] = [];
  let count = 0;
  for (const part of before.parts) {
    if (part.leftOut) continue;
    const { start, end, noteNumber, id, count: notes } = part.columns;
    for (let i = 0; i < notes; i++) {
      const now = place.get(id[i]!);
      if (now && kept(now, i)) continue;
      count++;
      if (ghosts.length >= MOST_GHOSTS) continue;
      ghosts.push({
        part: now?.part ?? partOf.get(part.id) ?? 0,
        startTick: there(start[i]!),
        endTick: there(end[i]!),
        noteNumber: noteNumber[i]!,
      });
    }
    function kept(now: { part: number; index: number }, i: number): boolean {
      const columns = after.parts[now.part]!.columns;
      const at = now.index;
      const near = (a: number, b: number) =>
        Math.abs(after.clock.msAt(b) - before.clock.msAt(a) - shiftMs) <= KEPT_WITHIN_MS + 1e-6;
      return (
        columns.noteNumber[at] === noteNumber[i] &&
        near(start[i]!, columns.start[at]!) &&
        near(end[i]!, columns.end[at]!)
      );
    }
  }
  return { ghosts: ghosts.sort((a, b) => a.startTick - b.startTick), count };
}
