import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtIn, conductor, freeze, rows, song, Track } from '../../../testing/score-builder';
import { testStep } from '../../../testing/step-tester';
import { baseOf } from '../plan/base';
import { runPlan } from '../plan/run';
import type { PlanStep } from '../plan/plan';
import { withSteps } from '../plan/made-by';
import { proof } from '../rules/proof';
import type { Rendition } from '../score/piece';
import type { SourceScore } from '../sources/source';
import { baseRendition } from '../plan/base';
import { PlanMemory } from '../plan/memory';

const target = builtIn('reed-ladder');
const lanesOf = (seat: string) => {
  const found = target.seats.find((s) => s.id === seat)!;
  return found.kind === 'laneGroup' ? [...found.laneNotes] : [];
};
const rungOf = (n: number) => target.chart!.rungs!.find((r) => r.rung === n)!;

const level = (n: number, more: object = {}) => ({
  seat: `chanter-${n}`,
  name: `Chanter, rung ${n}`,
  channel: 10 + n,
  track: 'Chanter',
  laneNotes: lanesOf(`chanter-${n}`),
  together: rungOf(n).together,
  strikesASecond: rungOf(n).strikesASecond,
  holdMs: target.chart!.holdMs,
  releaseGapMs: rungOf(n).releaseGapMs,
  ...more,
});
const from = lanesOf('chanter-5');
const hardest = { source: 'main', track: 'Chanter', channel: 15, occurrence: 0 };
const make = (levels: readonly object[], key = 'make'): PlanStep => ({
  key,
  step: 'make-levels',
  params: { from, levels },
  scope: { parts: [hardest] },
  on: true,
});

/** Strikes on the lanes of the hardest, from a second and a bar on. */
type Strike = readonly [sixteenth: number, lane: number, length: number, velocity: number];
const chart = (strikes: readonly Strike[]): SourceScore => {
  const track = new Track('Chanter');
  const seen = new Set<string>();
  for (const [at, lane, length, velocity] of strikes) {
    const slot = `${at}/${lane}`;
    if (seen.has(slot)) continue;
    seen.add(slot);
    track.note(15, 3840 + at * 120, length, from[lane]!, velocity);
  }
  return song([conductor(), track]);
};
const run = (source: SourceScore, steps: readonly PlanStep[]): Rendition =>
  runPlan({ base: baseOf(source), target, plan: { steps } }).rendition;
const partAt = (rendition: Rendition, seat: string) =>
  rendition.pieces[0]!.score.parts.find((p) => p.seat === seat);
const notesAt = (rendition: Rendition, seat: string) => {
  const part = partAt(rendition, seat);
  return part ? rows(part.notes) : [];
};

const busy = chart(
  Array.from({ length: 64 }, (_, i): Strike => [i, i % 7, 100, 60 + ((i * 13) % 60)]).concat(
    Array.from({ length: 16 }, (_, i): Strike => [i * 4, (i + 3) % 7, 100, 100]),
  ),
);

testStep('make-levels', [
  {
    name: 'fewer notes, fewer lanes, a seat and a track of their own',
    source: busy,
    params: { from, levels: [level(1), level(3)] },
    scope: { parts: [hardest] },
    expect: (r) => {
      const [one, three] = [notesAt(r, 'chanter-1'), notesAt(r, 'chanter-3')];
      expect(one.length).toBeGreaterThan(0);
      expect(one.length).toBeLessThan(three.length);
      expect(three.length).toBeLessThan(80);
      for (const n of one) expect(lanesOf('chanter-1')).toContain(n[2]);
      expect(partAt(r, 'chanter-1')!.channel).toBe(11);
    },
  },
  {
    name: 'what was touched by hand stands as it was left, on the ticks of the base',
    source: busy,
    params: {
      from,
      levels: [level(1, { kept: [{ tick: 4000, lengthTicks: 90, noteNumber: 48, velocity: 77 }] })],
    },
    scope: { parts: [hardest] },
    expect: (r) => expect(notesAt(r, 'chanter-1')).toEqual([[4000, 4090, 48, 77]]),
  },
  {
    name: 'of two parts it cannot make one',
    source: song([
      conductor(),
      new Track('A').note(1, 0, 90, 60, 80),
      new Track('B').note(2, 0, 90, 60, 80),
    ]),
    params: { from, levels: [level(1)] },
    refused: /One part is needed/,
  },
]);

describe('levels of one part', () => {
  it('keep what their rungs allow, whatever the hardest is', () => {
    const strike = fc.tuple(
      fc.integer({ min: 0, max: 100 }),
      fc.integer({ min: 0, max: 6 }),
      fc.integer({ min: 10, max: 900 }),
      fc.integer({ min: 1, max: 127 }),
    );
    fc.assert(
      fc.property(fc.array(strike, { minLength: 1, maxLength: 120 }), (strikes) => {
        const source = chart(strikes);
        const base = baseOf(source);
        const rendition = run(source, [make([1, 2, 3, 4].map((n) => level(n)))]);
        freeze(rendition);
        for (const n of [1, 2, 3, 4]) {
          const part = partAt(rendition, `chanter-${n}`)!;
          expect(part.notes.count).toBeGreaterThan(0);
          for (const [, , key] of rows(part.notes)) expect(lanesOf(part.seat!)).toContain(key);
        }
        const wrong = proof({ rendition, target, base }).filter(
          (f) =>
            f.rule === 'rungs' &&
            f.part !== undefined &&
            f.part !== null &&
            /~chanter-/.test(f.part),
        );
        expect(wrong.map((f) => f.code)).toEqual([]);
      }),
      { numRuns: 40, seed: 11 },
    );
  });

  it('are made anew when the hardest changes, but for one that was touched', () => {
    const kept = [{ tick: 4000, lengthTicks: 90, noteNumber: 48, velocity: 77 }];
    const maker = make([level(1, { kept }), level(2)]);
    const before = run(busy, [maker]);
    const thinner: PlanStep = {
      key: 'thin',
      step: 'thin',
      params: { apartMs: 900, per: 'seat', keep: 'first' },
      scope: { parts: [hardest] },
      on: true,
    };
    // It is for the hardest, so it stands before the step that makes the others of it.
    const steps = withSteps([maker], [thinner]);
    expect(steps.map((s) => s.key)).toEqual(['thin', 'make']);
    const after = run(busy, steps);
    expect(notesAt(after, 'chanter-2').length).toBeLessThan(notesAt(before, 'chanter-2').length);
    expect(notesAt(after, 'chanter-1')).toEqual(notesAt(before, 'chanter-1'));
  });

  it('what is for a level stands behind the step that makes it', () => {
    const maker = make([level(1), level(2)]);
    const louder: PlanStep = {
      key: 'loud',
      step: 'velocity',
      params: { scalePercent: 50 },
      scope: { parts: [{ ...hardest, track: 'Chanter, chanter-2' }] },
      on: true,
    };
    const all: PlanStep = {
      key: 'all',
      step: 'set-ppq',
      params: { ppq: 960 },
      scope: {},
      on: true,
    };
    expect(withSteps([maker], [louder, all]).map((s) => s.key)).toEqual(['all', 'make', 'loud']);
    const soft = notesAt(run(busy, withSteps([maker], [louder])), 'chanter-2');
    const plain = notesAt(run(busy, [maker]), 'chanter-2');
    expect(soft.map((n) => n[3])).toEqual(plain.map((n) => Math.round(n[3] / 2)));
  });

  it('a step of the hardest by hand does not reach their notes', () => {
    const [start, , key] = notesAt(run(busy, []), 'chanter-5')[0] ?? [3840, 0, from[0]!];
    const address = { part: hardest, startTick: start, noteNumber: key, occurrence: 0 };
    const hand: PlanStep = {
      key: 'hand',
      step: 'by-hand',
      params: { edits: [{ note: 0, ticks: 60 }] },
      scope: { notes: [address] },
      on: true,
    };
    const maker = make([level(1)]);
    const behind = run(busy, [maker, hand]);
    expect(notesAt(behind, 'chanter-1')).toEqual(notesAt(run(busy, [maker]), 'chanter-1'));
  });

  it('the same plan gives the same notes, remembered or not', () => {
    const base = baseOf(busy);
    const plan = { steps: [make([level(1), level(4)])] };
    const memory = new PlanMemory();
    const once = runPlan({ base, target, plan, memory }).rendition;
    const again = runPlan({ base, target, plan, memory }).rendition;
    const fresh = runPlan({ base: baseOf(busy), target, plan }).rendition;
    for (const seat of ['chanter-1', 'chanter-4']) {
      expect(notesAt(again, seat)).toEqual(notesAt(once, seat));
      expect(notesAt(fresh, seat)).toEqual(notesAt(once, seat));
    }
    expect(baseRendition(base, target).pieces[0]!.score.parts.length).toBe(1);
  });
});
