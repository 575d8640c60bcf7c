import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { testRule } from '../../../../testing/rule-tester';
import { conductor, renditionOf, song, targetWith, Track } from '../../../../testing/score-builder';
import { writeOutputs } from '../../outputs/index';
import { baseOf } from '../../plan/base';
import { runStep } from '../../plan/run-step';
import { rehearse } from '../../standin/index';
import { isByNote, LIMIT_OVER, MEASURES, type Limit } from '../../target/limit-schema';
import { parseTarget } from '../../target/parse';
import { at, BAR, piece } from '../../../../testing/songs';
import { proof } from '../proof';
import { ownLimits } from './own-limits';

const limit = (own: Partial<Limit> & Pick<Limit, 'measure' | 'over'>): Limit => ({
  title: 'Broken',
  why: 'It is not played',
  ...own,
});
const seats = [
  { kind: 'channel' as const, id: 'ebb', name: 'Ebb', channel: 1 },
  { kind: 'channel' as const, id: 'flood', name: 'Flood', channel: 2 },
];
const holding = (...limits: Limit[]) => targetWith({ seats, limits });

testRule(ownLimits, {
  valid: [
    {
      name: 'four in a row where four may be',
      target: holding(limit({ measure: 'run', over: 'note', most: 4 })),
      source: piece(at([0, 9, 60], [480, 9, 60], [960, 9, 60], [1440, 9, 60], [1920, 9, 62])),
    },
    {
      name: 'another seat is meant',
      target: holding(
        limit({ measure: 'run', over: 'note', most: 1, where: { seats: ['flood'] } }),
      ),
      source: piece(at([0, 9, 60], [480, 9, 60])),
    },
    {
      name: 'on the half of the beat, and on it',
      target: holding(limit({ measure: 'place-in-beat', over: 'note', oneOf: [0, 0.5] })),
      source: piece(at([0, 9, 60], [240, 9, 60], [1920, 9, 60])),
    },
  ],
  invalid: [
    {
      name: 'the fifth and the sixth of a row; another key begins anew',
      code: 'own-limit',
      target: holding(limit({ measure: 'run', over: 'note', most: 4 })),
      source: piece(
        at(
          ...[0, 1, 2, 3, 4, 5].map((n): [number, number, number] => [n * 480, 9, 60]),
          [2880, 9, 62],
        ),
      ),
      at: [1920, 2400],
      measured: 5,
      notes: 2,
    },
    {
      name: 'struck too softly, in bars 2 and 3 alone',
      code: 'own-limit',
      target: holding(
        limit({ measure: 'velocity', over: 'note', least: 40, where: { fromBar: 2, toBar: 3 } }),
      ),
      source: piece(at([0, 9, 60, 9], [BAR, 9, 60, 30], [BAR * 3, 9, 60, 9])),
      at: [BAR],
      measured: 30,
      notes: 1,
      lossless: [false, false],
    },
    {
      name: 'between the halves of the beat',
      code: 'own-limit',
      target: holding(limit({ measure: 'place-in-beat', over: 'note', oneOf: [0, 0.5] })),
      source: piece(at([0, 9, 60], [120, 9, 60])),
      at: [120],
      measured: 0.25,
    },
    {
      name: 'an empty bar: no note of it can be passed over',
      code: 'own-limit',
      target: holding(limit({ measure: 'notes', over: 'bar', least: 1, severity: 'caution' })),
      source: piece(at([0, 9, 60], [BAR * 2, 9, 60]), BAR * 3),
      severity: 'caution',
      at: [BAR],
      measured: 0,
      notes: 0,
    },
    {
      name: 'three in a second where two are taken',
      code: 'own-limit',
      target: holding(limit({ measure: 'notes', over: 'second', most: 2 })),
      source: piece(at([0, 9, 60], [240, 9, 61], [480, 9, 62], [960, 9, 63])),
      at: [480],
      measured: 3,
      notes: 1,
    },
  ],
});

describe('limits of its own', () => {
  it('are checked when the target is parsed: bounds, what is measured of what, seats', () => {
    const says = (own: Limit) =>
      parseTarget({ ...holding(), limits: [own] }).problems.map((p) => `${p.path} ${p.says}`);
    expect(says(limit({ measure: 'run', over: 'file', most: 3 }))[0]).toContain('of each note');
    expect(says(limit({ measure: 'run', over: 'note' }))[0]).toContain('needs a bound');
    expect(says(limit({ measure: 'run', over: 'note', least: 4, most: 3 }))[0]).toContain('above');
    const where = { seats: ['neap'] };
    expect(says(limit({ measure: 'run', over: 'note', most: 3, where }))[0]).toContain('“neap”');
  });

  const note = fc.tuple(
    fc.integer({ min: 0, max: 64 }).map((n) => n * 120),
    fc.integer({ min: 1, max: 8 }).map((n) => n * 60),
    fc.constantFrom(60, 61, 64, 67, 72),
    fc.integer({ min: 1, max: 127 }),
    fc.constantFrom(1, 2),
  );
  const tunes = fc.array(note, { minLength: 1, maxLength: 40 }).map((list) => {
    const tracks = [new Track('Ebb'), new Track('Flood')];
    // What sounds ends before its key is struck again: overlaps of one key are another rule.
    const free = new Map<string, number>();
    const once = [...list].sort((a, b) => a[0] - b[0]);
    for (const [start, length, key, velocity, channel] of once) {
      const id = `${channel} ${key}`;
      if ((free.get(id) ?? 0) > start) continue;
      free.set(id, start + length);
      tracks[channel - 1]!.note(channel, start, length, key, velocity);
    }
    return song([conductor(97, 3, 4).tempo(2880, 140), ...tracks], { endTick: 8640 });
  });
  const limits = fc
    .constantFrom(...(Object.keys(MEASURES) as (keyof typeof MEASURES)[]))
    .chain((measure) =>
      fc.record({
        measure: fc.constant(measure),
        over: fc.constantFrom(
          ...LIMIT_OVER.filter((o) => (MEASURES[measure].over as readonly string[]).includes(o)),
        ),
        bounds: fc.oneof(
          fc.record({ most: fc.integer({ min: 1, max: 12 }) }),
          fc.record({ least: fc.integer({ min: 0, max: 6 }) }),
        ),
        does: fc.constantFrom('drop' as const, 'refuse' as const),
      }),
    )
    .map(({ bounds, ...own }) => limit({ ...own, ...bounds }));

  it('rule and stand-in agree, note for note, over random limits and tunes', () => {
    fc.assert(
      fc.property(tunes, limits, (source, own) => {
        const target = holding(own);
        const rendition = renditionOf(source, target);
        const found = proof({ rendition, target, base: baseOf(source), only: [ownLimits] });
        const breached = found.flatMap((f) => [...f.notes]).length;
        const played = rehearse(writeOutputs(rendition, target).files, target);
        const dropped = played.dropped.filter((d) => d.block === 'limits');
        const refused = played.refused.some((r) => r.block === 'limits');
        const told = JSON.stringify([own, found.map((f) => f.data), played.refused]);
        if (isByNote(own) && own.does !== 'refuse') {
          expect(dropped.length, told).toBe(breached);
          expect(refused, told).toBe(false);
        } else expect(refused, told).toBe(found.length > 0);
      }),
      { numRuns: 400 },
    );
  });

  it('what the step leaves keeps the limit, and only what broke it was touched', () => {
    fc.assert(
      fc.property(tunes, limits, (source, own) => {
        const target = holding(own);
        const rendition = renditionOf(source, target);
        const check = (r: typeof rendition) =>
          proof({ rendition: r, target, base: baseOf(source), only: [ownLimits] });
        const [finding] = check(rendition);
        for (const mend of finding?.mends ?? []) {
          let now = rendition;
          for (const call of mend.steps) now = runStep(now, call, baseOf(source)).rendition;
          expect(
            check(now).filter((f) => f.key === finding!.key),
            JSON.stringify([own, mend.title, finding!.data]),
          ).toEqual([]);
        }
      }),
      { numRuns: 300 },
    );
  });
});
