import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  conductor,
  freeze,
  renditionOf,
  rows,
  song,
  targetWith,
  Track,
} from '../../../testing/score-builder';
import { baseOf } from '../plan/base';
import { runStep } from '../plan/run-step';
import type { Rendition } from '../score/piece';

/** Notes that leave room on both sides for what is tried here; every tempo and meter moves along. */
const tune = fc
  .array(
    fc.record({
      start: fc.integer({ min: 4000, max: 9000 }),
      length: fc.integer({ min: 1, max: 900 }),
      key: fc.integer({ min: 40, max: 80 }),
      velocity: fc.integer({ min: 1, max: 127 }),
    }),
    { minLength: 1, maxLength: 30 },
  )
  .map((list) => {
    const track = new Track('Line').control(4000, 1, 7, 90).program(4000, 1, 3);
    // The same key at one tick twice is one strike: their order at a tick has no meaning.
    const once = new Map(list.map((n) => [`${n.start} ${n.key}`, n]));
    for (const n of [...once.values()].sort((a, b) => a.start - b.start))
      track.note(1, n.start, n.length, n.key, n.velocity);
    return song([conductor(97, 6, 8).tempo(5000, 120).marker(4200, 'Second lamp'), track], {
      endTick: 12_000,
    });
  });

const told = ({ pieces }: Rendition) =>
  pieces.map(({ score }) => ({
    notes: score.parts.map((p) => rows(p.notes)),
    events: score.parts.map((p) => [Array.from(p.events.tick), Array.from(p.events.data2)]),
    tempos: score.conductor.tempos.map((t) => [t.tick, t.microsecondsPerQuarter]),
    markers: score.conductor.markers.map((m) => [m.tick, m.text]),
    ends: score.tracks.map((t) => t.endTick),
  }));

/** A step with something said, and the step that takes it back. */
const PAIRS: readonly [
  name: string,
  there: (n: number) => [step: string, params: object],
  back: (n: number) => [step: string, params: object],
][] = [
  [
    'up, then down',
    (n) => ['transpose', { semitones: n }],
    (n) => ['transpose', { semitones: -n }],
  ],
  [
    'later, then earlier',
    (n) => ['move-notes', { ticks: 7 * n }],
    (n) => ['move-notes', { ticks: -7 * n }],
  ],
  [
    'moved up, then down',
    (n) => ['move-notes', { semitones: n }],
    (n) => ['move-notes', { semitones: -n }],
  ],
  [
    'bars put in, then taken out',
    (n) => ['rest-at-start', { bars: n }],
    (n) => ['trim-start', { bars: n }],
  ],
  [
    'a finer PPQ, then the old',
    (n) => ['set-ppq', { ticksPerQuarter: 480 * n }],
    () => ['set-ppq', { ticksPerQuarter: 480 }],
  ],
];

describe('what was done and taken back is as it was', () => {
  for (const [name, there, back] of PAIRS)
    it(name, () => {
      fc.assert(
        fc.property(tune, fc.integer({ min: 1, max: 24 }), (source, n) => {
          const base = baseOf(source);
          const before = freeze(renditionOf(source, targetWith({ seats: [] })));
          const run = (from: Rendition, [step, params]: [string, object]) => {
            const { rendition, outcome } = runStep(from, { step, params, scope: {} }, base);
            expect(outcome.refused).toBeNull();
            return rendition;
          };
          expect(told(run(run(before, there(n)), back(n)))).toEqual(told(before));
        }),
        { numRuns: 60 },
      );
    });
});
