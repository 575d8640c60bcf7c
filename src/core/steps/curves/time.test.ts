import fc from 'fast-check';
import { expect, it } from 'vitest';
import { baseOf } from '../../plan/base';
import { runStep } from '../../plan/run-step';
import { curvesIn, delivered, presetsIn } from '../../reading/curves';
import type { Rendition } from '../../score/piece';
import { mapTick } from '../../time/time-map';
import { conductor, renditionOf, song, targetWith, Track } from '../../../../testing/score-builder';

const turns = fc
  .array(fc.tuple(fc.integer({ min: 1, max: 400 }), fc.nat(127)), { minLength: 1, maxLength: 40 })
  .map((list) => {
    let tick = 0;
    return list.map(([gap, value]) => [(tick += gap), value] as const);
  });
const told = ({ pieces }: Rendition, of: (tick: number) => number = (t) => t): string[] => {
  const parts = delivered(pieces[0]!);
  return [
    ...curvesIn(parts).flatMap((c) =>
      Array.from({ length: c.count }, (_, i) => `${c.kind} ${of(c.tick[i]!)} ${c.value[i]}`),
    ),
    ...presetsIn(parts).map((p) => `preset ${of(p.tick)} ${p.bank}.${p.program}`),
  ].sort();
};

/** Steps that move all of the time and cut nothing; set-up at tick 0 stays there by intent. */
const STEPS: readonly (readonly [step: string, params: object])[] = [
  ['rest-at-start', { bars: 2 }],
  ['set-ppq', { ticksPerQuarter: 960 }],
  ['shift', { ms: 730 }],
  ['one-tempo-holding-clock', { microsecondsPerQuarter: 600_000 }],
];

it.each(STEPS)(
  '%s: every point of a curve and every preset goes where the map says',
  (step, params) => {
    fc.assert(
      fc.property(turns, (list) => {
        const track = new Track('Foot').note(9, 0, 240, 60, 90);
        list.forEach(([tick, value], i) => {
          track.control(tick, 9, 11, value);
          if (i % 5 === 0) track.control(tick, 9, 0, i % 3).program(tick, 9, value);
          if (i % 7 === 0) track.event(tick, 0xe0, 9, value, 64);
        });
        const source = song([conductor(132).tempo(3000, 90), track], { endTick: 20_000 });
        const before = renditionOf(source, targetWith({ seats: [] }));
        const { rendition, outcome } = runStep(before, { step, params, scope: {} }, baseOf(source));
        expect(outcome.refused).toBeNull();
        const map = rendition.pieces[0]!.fromBase;
        expect(told(rendition)).toEqual(told(before, (t) => mapTick(map, t)));
      }),
      { numRuns: 30 },
    );
  },
);
