import { madeBy, MAKE_LEVELS } from '../../core/plan/made-by';
import type { PlanStep } from '../../core/plan/plan';
import type { Level, LevelNote } from '../../core/steps/levels';
import { unmapTick } from '../../core/time/time-map';
import type { Pending } from '../close-up/draw';
import type { LaidPiece } from './job';

export interface LevelsParams {
  readonly from: readonly number[];
  readonly levels: readonly Level[];
}

/** Steps that make levels, with one note or more of theirs changed by hand. */
export interface Touched {
  readonly steps: readonly PlanStep[];
  readonly notes: number;
}

/**
 * Levels whose notes are changed by hand stand as they are from then on: they are no longer made of
 * the hardest. `later` moves a tick on the clock.
 */
export function touchLevels(
  piece: LaidPiece,
  steps: readonly PlanStep[],
  ids: ReadonlySet<number>,
  more: Partial<Pending> & { gone?: boolean },
  later: (tick: number, us: number) => number,
): Touched {
  const next = new Map<string, PlanStep>();
  let touched = 0;
  for (const { ref, seat, columns } of piece.parts) {
    const chosen = (i: number) => ids.has(columns.id[i]!) && columns.origin[i] === 0;
    if (!Array.from({ length: columns.count }, (_, i) => i).some(chosen)) continue;
    const maker = madeBy(steps, ref, MAKE_LEVELS);
    if (!maker) continue;
    const kept: LevelNote[] = [];
    for (let i = 0; i < columns.count; i++) {
      const mine = chosen(i);
      if (mine) touched++;
      if (mine && more.gone) continue;
      const m = mine ? more : {};
      const start = Math.max(0, later(columns.start[i]! + (m.ticks ?? 0), m.us ?? 0));
      const long = columns.end[i]! - columns.start[i]! + (m.longerTicks ?? 0);
      kept.push({
        tick: Math.max(0, unmapTick(piece.fromBase ?? undefined, start)),
        lengthTicks: Math.max(1, long),
        noteNumber: Math.max(0, Math.min(127, columns.noteNumber[i]! + (m.semitones ?? 0))),
        velocity: Math.max(1, Math.min(127, columns.velocity[i]! + (m.louder ?? 0))),
      });
    }
    const there = next.get(maker.key) ?? maker;
    const params = there.params as LevelsParams;
    const levels = params.levels.map((l) => (l.seat === seat ? { ...l, kept } : l));
    next.set(maker.key, { ...there, params: { ...params, levels } });
  }
  return { steps: [...next.values()], notes: touched };
}
