import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { conductor, song, Track } from '../../../testing/score-builder';
import { FreePlaces } from './free-places';
import { matchMusic } from './match-music';

describe('places that are taken one by one', () => {
  it('the next and the last free one are what a look at all finds', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 40 }), fc.array(fc.nat(39)), (count, takes) => {
        const places = new FreePlaces(count);
        const free = new Set(Array.from({ length: count }, (_, i) => i));
        for (const i of takes.filter((t) => t < count)) {
          if (!free.delete(i)) continue;
          places.take(i);
          for (let at = 0; at < count; at++) {
            expect(places.next(at)).toBe([...free].find((f) => f >= at) ?? count);
            expect(places.last(at)).toBe([...free].findLast((f) => f <= at) ?? -1);
          }
        }
        expect([places.last(-1), places.next(count)]).toEqual([-1, count]);
      }),
      { numRuns: 60 },
    );
  });
});

describe('two files with everything on one place', () => {
  const heap = (at: number, key: number, notes: number) => {
    const track = new Track('Heap');
    for (let i = 0; i < notes; i++) track.note(1, at, 480, key, 1 + (i % 127));
    return song([conductor(), track]).score;
  };
  // Each was as slow as the square of its notes: tens of thousands took minutes.
  it.each([
    ['as it is', 0, 60, (m: ReturnType<typeof matchMusic>) => m.matchA.every((x) => x >= 0)],
    ['on another key', 0, 61, (m: ReturnType<typeof matchMusic>) => m.otherKey.length > 0],
  ] as const)('%s', (_, at, key, holds) => {
    const notes = 30_000;
    const match = matchMusic(heap(0, 60, notes), heap(at, key, notes));
    expect(holds(match)).toBe(true);
    const taken = [...match.matchA].filter((x) => x >= 0);
    expect(new Set(taken).size).toBe(taken.length);
  });
  it('what stands near is moved there, the nearest first', () => {
    const line = (starts: readonly number[]) => {
      const track = new Track('Line');
      // What both have keeps the shift at nothing.
      for (let i = 0; i < 40; i++) track.note(1, 9600 + i * 480, 240, 40 + (i % 7), 80);
      for (const s of starts) track.note(1, s, 100, 70, 80);
      return song([conductor(), track]).score;
    };
    const match = matchMusic(line([0, 1000, 2000]), line([60, 1100, 5000]));
    expect(match.moved.map((n) => [match.a.start[n], match.b.start[match.matchA[n]!]])).toEqual([
      [0, 60 / 480],
      [1000 / 480, 1100 / 480],
    ]);
  });
});
