import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeClock } from './tempo-map';
import {
  compose,
  cutAt,
  heldByClock,
  mapTick,
  mapper,
  opened,
  scaled,
  shifted,
  unmapTick,
  type TimeMap,
} from './time-map';

const ppq = fc.constantFrom(24, 96, 120, 480, 960, 1000);
const tick = fc.integer({ min: 0, max: 5000 });
const one: fc.Arbitrary<TimeMap> = fc.oneof(
  tick.map(shifted),
  fc.tuple(ppq, ppq).map(([a, b]) => scaled(a, b)),
  tick.map(cutAt),
  fc.tuple(tick, fc.integer({ min: 1, max: 3000 })).map(([at, more]) => opened(at, more)),
  fc.tuple(ppq, fc.integer({ min: 200_000, max: 900_000 })).map(([p, us]) => {
    const tempos = [
      { tick: 0, microsecondsPerQuarter: 500_000 },
      { tick: 700, microsecondsPerQuarter: 333_333 },
      { tick: 1400, microsecondsPerQuarter: 612_345 },
    ];
    return heldByClock(makeClock({ kind: 'ppq', ticksPerQuarter: p }, tempos), p, us);
  }),
);
const maps = fc.array(one, { maxLength: 3 }).map((list) => list.reduce(compose, { stages: [] }));

describe('time maps', () => {
  it('never fall, and are the same as a function and one by one', () => {
    fc.assert(
      fc.property(maps, fc.array(tick, { minLength: 2, maxLength: 20 }), (map, ticks) => {
        const at = mapper(map);
        const sorted = [...ticks].sort((a, b) => a - b);
        const to = sorted.map(at);
        expect(to).toEqual(sorted.map((t) => mapTick(map, t)));
        to.forEach((t, i) => expect(t).toBeGreaterThanOrEqual(to[i - 1] ?? -Infinity));
      }),
    );
  });

  it('back: the last tick that goes no further, wherever a single map rounds', () => {
    fc.assert(
      fc.property(one, fc.integer({ min: 0, max: 20_000 }), (map, target) => {
        const back = unmapTick(map, target);
        if (mapTick(map, 0) > target) {
          expect(back).toBe(0);
          return;
        }
        expect(mapTick(map, back)).toBeLessThanOrEqual(target);
        expect(mapTick(map, back + 1)).toBeGreaterThan(target);
      }),
      { numRuns: 500 },
    );
  });

  it('there and back: a tick that no other shares its place with', () => {
    fc.assert(
      fc.property(maps, tick, (map, from) => {
        const to = mapTick(map, from);
        if (mapTick(map, from + 1) === to) return;
        expect(mapTick(map, unmapTick(map, to))).toBe(to);
      }),
      { numRuns: 500 },
    );
  });
});
