import { describe, expect, it } from 'vitest';
import { builtIn, conductor, song, Track } from '../../../testing/score-builder';
import { baseOf } from '../../core/plan/base';
import type { PlanStep } from '../../core/plan/plan';
import { runPlan } from '../../core/plan/run';
import { mapsOf } from '../../core/score/inventory';
import { ColumnKeys, toWire } from '../../core/wire/to-view';
import { touchLevels, type LevelsParams } from './hand-levels';
import type { LaidPiece } from './job';

const target = builtIn('reed-ladder');
const lanes = (n: number) => {
  const seat = target.seats.find((s) => s.id === `chanter-${n}`)!;
  return seat.kind === 'laneGroup' ? [...seat.laneNotes] : [];
};
const hardest = { source: 'main', track: 'Chanter', channel: 15, occurrence: 0 };
const track = new Track('Chanter');
for (let i = 0; i < 32; i++) track.note(15, 1920 + i * 240, 200, lanes(5)[i % 7]!, 90);
const source = song([conductor(), track]);
const level = (n: number) => ({
  seat: `chanter-${n}`,
  name: `Chanter, rung ${n}`,
  channel: 10 + n,
  track: 'Chanter',
  laneNotes: lanes(n),
  together: 1,
  strikesASecond: 2,
});
const maker: PlanStep = {
  key: 'make',
  step: 'make-levels',
  params: { from: lanes(5), levels: [level(1), level(2)] },
  scope: { parts: [hardest] },
  on: true,
};
const rest: PlanStep = {
  key: 'rest',
  step: 'rest-at-start',
  params: { bars: 1 },
  scope: {},
  on: true,
};

function laid(steps: readonly PlanStep[]): LaidPiece {
  const piece = runPlan({ base: baseOf(source), target, plan: { steps } }).rendition.pieces[0]!;
  const { wire } = toWire(piece, new ColumnKeys(), new Set());
  return { ...wire, ...mapsOf(piece.score) } as unknown as LaidPiece;
}
const partAt = (piece: LaidPiece, n: number) => piece.parts.find((p) => p.seat === `chanter-${n}`)!;
const asItIs = (tick: number) => tick;
const levelsOf = (step: PlanStep) => (step.params as LevelsParams).levels;

describe('levels touched by hand', () => {
  const steps = [rest, maker];
  const piece = laid(steps);
  const ids = new Set([partAt(piece, 1).columns.id[0]!]);

  it('stand as they were left, and the others go on being made', () => {
    const { steps: changed, notes } = touchLevels(piece, steps, ids, { semitones: 2 }, asItIs);
    expect(notes).toBe(1);
    expect(changed.map((s) => s.key)).toEqual(['make']);
    const [one, two] = levelsOf(changed[0]!);
    expect(two!.kept).toBeUndefined();
    const before = partAt(piece, 1).columns;
    expect(one!.kept).toHaveLength(before.count);
    expect(one!.kept![0]).toMatchObject({
      noteNumber: before.noteNumber[0]! + 2,
      velocity: before.velocity[0],
    });
    // Ticks of the base: the rest that was put before it is taken off again.
    const after = laid([rest, changed[0]!]);
    expect([...partAt(after, 1).columns.start]).toEqual([...before.start]);
    expect([...partAt(after, 2).columns.start]).toEqual([...partAt(piece, 2).columns.start]);
  });
  it('lose a note that is taken out', () => {
    const { steps: changed } = touchLevels(piece, steps, ids, { gone: true }, asItIs);
    const [one] = levelsOf(changed[0]!);
    expect(one!.kept).toHaveLength(partAt(piece, 1).columns.count - 1);
  });
  it('two at once are two levels of one step', () => {
    const both = new Set([...ids, partAt(piece, 2).columns.id[1]!]);
    const { steps: changed, notes } = touchLevels(piece, steps, both, { louder: -200 }, asItIs);
    expect(notes).toBe(2);
    expect(changed).toHaveLength(1);
    for (const l of levelsOf(changed[0]!)) expect(l.kept!.some((n) => n.velocity === 1)).toBe(true);
  });
  it('the hardest itself and other parts are no business of it', () => {
    const own = new Set(piece.parts.find((p) => p.ref.track === 'Chanter')!.columns.id);
    expect(touchLevels(piece, steps, own, { ticks: 9 }, asItIs)).toEqual({ steps: [], notes: 0 });
    expect(touchLevels(piece, [rest], ids, { ticks: 9 }, asItIs).notes).toBe(0);
  });
});
