import type { LaidPiece } from '../src/app/stores/job';
import { baseOf, baseRendition } from '../src/core/plan/base';
import { runPlan } from '../src/core/plan/run';
import type { Piece } from '../src/core/score/piece';
import { ticksPerQuarterOf } from '../src/core/score/score';
import type { SourceScore } from '../src/core/sources/source';
import type { Target } from '../src/core/target/schema';
import { makeMeterMap } from '../src/core/time/meter-map';
import { makeClock } from '../src/core/time/tempo-map';
import { ColumnKeys, toWire } from '../src/core/wire/to-view';
import type { NoteView, TurnsView } from '../src/core/wire/view';

/** A piece as the screen has it. */
export function laidPiece(piece: Piece): LaidPiece {
  const { wire } = toWire(piece, new ColumnKeys(), new Set());
  const parts = wire.parts.map((p) => ({
    ...p,
    columns: p.columns as NoteView,
    turns: p.turns as TurnsView | null,
  }));
  return {
    ...wire,
    parts,
    clock: makeClock(wire.division, wire.tempos),
    bars: makeMeterMap(ticksPerQuarterOf(wire.division), wire.meters),
  };
}

/** A source on its target as the screen has it, after these steps. */
export function laidSource(
  source: SourceScore,
  target: Target,
  steps: readonly { step: string; params: unknown }[] = [],
): LaidPiece {
  if (steps.length === 0) return laidPiece(baseRendition(baseOf(source), target).pieces[0]!);
  const plan = {
    steps: steps.map((s, i) => ({ ...s, key: String(i), scope: {}, on: true })),
  };
  return laidPiece(runPlan({ base: baseOf(source), target, plan }).rendition.pieces[0]!);
}
