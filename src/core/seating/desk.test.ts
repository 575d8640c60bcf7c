import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtIn } from '../../../testing/score-builder';
import { drumName, inOrder, nearestInKind, type SeatKey } from './drum-kinds';
import { mostAtOnce } from '../score/at-once';
import { programName } from './programs';
import { rolesParted, suspectsOf } from './suspect';
import { clashes, fitting, keyCounts, shifted, type KeyColumns } from './key-use';

const columns = (...notes: [start: number, end: number, key: number][]): KeyColumns => ({
  count: notes.length,
  start: notes.map((n) => n[0]),
  end: notes.map((n) => n[1]),
  noteNumber: notes.map((n) => n[2]),
});
const anyNotes = fc
  .array(fc.tuple(fc.nat(60), fc.nat(12), fc.integer({ min: 58, max: 64 })), { maxLength: 40 })
  .map((list) =>
    columns(
      ...list
        .map(([start, length, key]): [number, number, number] => [start, start + length, key])
        .sort((a, b) => a[0] - b[0]),
    ),
  );

describe('what a seat is asked for', () => {
  it('counts keys, moved by semitones, and those that are there', () => {
    const counts = shifted(keyCounts([columns([0, 1, 60], [1, 2, 60]), columns([0, 1, 127])]), 1);
    expect([counts[61], counts.reduce((a, b) => a + b)]).toEqual([2, 2]);
    expect(
      fitting(
        counts,
        Array.from({ length: 128 }, (_, k) => k > 61),
      ),
    ).toBe(0);
    const down = shifted(keyCounts([columns([0, 1, 3], [1, 2, 60])]), -4);
    expect([down[56], down.reduce((a, b) => a + b)]).toEqual([1, 1]);
  });
  it('the most that sound together is what a look at every tick finds', () => {
    fc.assert(
      fc.property(anyNotes, (notes) => {
        let most = 0;
        for (let tick = 0; tick < 80; tick++) {
          let n = 0;
          for (let i = 0; i < notes.count; i++)
            if (notes.start[i]! <= tick && notes.end[i]! > tick) n++;
          most = Math.max(most, n);
        }
        expect(mostAtOnce([notes])).toBe(most);
      }),
    );
  });
  it('clashes are what a look at every pair finds', () => {
    fc.assert(
      fc.property(anyNotes, anyNotes, (one, other) => {
        let n = 0;
        for (let i = 0; i < one.count; i++) {
          const sounds = Array.from({ length: other.count }, (_, k) => k).some(
            (k) =>
              other.noteNumber[k] === one.noteNumber[i] &&
              other.start[k]! <= one.start[i]! &&
              Math.max(other.end[k]!, other.start[k]! + 1) > one.start[i]!,
          );
          if (sounds) n++;
        }
        expect(clashes([one], [other])).toBe(n);
      }),
    );
  });
});

describe('key maps', () => {
  const loft = builtIn('stomp-crate')
    .kits!.find((k) => k.id === 'loft')!
    .keys.map((k) => ({ key: k.noteNumber, name: k.name }));
  const to = (used: number[], there: readonly SeatKey[] = loft) =>
    Object.fromEntries(nearestInKind(used, there).map((p) => [p.from, p.to]));

  it('a drum goes to its kind before it goes to its neighbour', () => {
    expect(to([44])).toEqual({ 44: 42 });
    expect(to([35])).toEqual({ 35: 36 });
    expect(to([57])).toEqual({ 57: 49 });
  });
  it('a run of toms is laid in order on those that are there', () => {
    const there = [41, 47].map((key) => ({ key }));
    expect(to([41, 43, 45, 48, 50], there)).toEqual({ 41: 41, 43: 41, 45: 47, 48: 47, 50: 47 });
  });
  it('a seat’s own names count: its barrel is a tom, wherever it lies', () => {
    const there = [
      { key: 20, name: 'Stomp' },
      { key: 21, name: 'Barrel' },
    ];
    expect(to([36, 45], there)).toEqual({ 36: 20, 45: 21 });
  });
  it('is total, and keeps to the keys of the seat', () => {
    const keys = fc.uniqueArray(fc.nat(127), { minLength: 1, maxLength: 40 });
    fc.assert(
      fc.property(keys, keys, (used, there) => {
        const seat = there.map((key) => ({ key }));
        for (const make of [nearestInKind, inOrder]) {
          const pairs = make(used, seat);
          expect(pairs.map((p) => p.from)).toEqual([...used].sort((a, b) => a - b));
          expect(pairs.every((p) => there.includes(p.to))).toBe(true);
        }
        const rising = inOrder(used, seat).map((p) => p.to);
        expect(rising).toEqual([...rising].sort((a, b) => a - b));
      }),
    );
  });
  it('names the keys of General MIDI alone', () => {
    expect([drumName(38), drumName(34), drumName(82)]).toEqual(['Acoustic snare', null, null]);
  });
});

describe('what a part seems to be', () => {
  const suspects = (
    keys: number[],
    more: Partial<Parameters<typeof suspectsOf>[0]> = {},
    ms = 300,
  ) => {
    const counts = new Uint32Array(128);
    for (const key of keys) counts[key]!++;
    const part = {
      name: 'Part 1',
      channel: 1,
      notes: keys.length,
      lowest: Math.min(...keys),
      highest: Math.max(...keys),
      polyphony: 1,
      ...more,
    };
    return suspectsOf(part, counts, ms).map((s) => s.says);
  };
  it('by its name, its range and its voices; what it is to the music is read elsewhere', () => {
    expect(suspects([40, 43, 45, 47, 48])).toEqual([]);
    expect(suspects([36, 38], { channel: 10 })).toEqual([]);
    expect(suspects([60], { name: 'Left' })).toEqual(['the left hand']);
    expect(suspects([48, 48, 48], {}, 4000)).toEqual(['a sampled loop']);
    expect(suspects([36, 40, 43, 62, 66, 72], { polyphony: 4 })).toContain(
      'both hands of a keyboard',
    );
  });
  it('two roles in one where nothing lies between two bands of keys', () => {
    expect(suspects([38, 40, 41, 43, 70, 72, 74])).toContain('two roles in one');
    expect(suspects([38, 40, 44, 50, 56, 62, 68])).not.toContain('two roles in one');
  });
  it('nothing of a part without notes; programs have their names', () => {
    expect(
      suspectsOf(
        { name: 'Lead', channel: 1, notes: 0, lowest: null, highest: null, polyphony: 0 },
        [],
        0,
      ),
    ).toEqual([]);
    expect([programName(0), programName(73), programName(127)]).toEqual([
      'Acoustic grand piano',
      'Flute',
      'Gunshot',
    ]);
  });
});

describe('two roles in one part', () => {
  const countsOf = (...keys: number[]) => {
    const counts = new Uint32Array(128);
    for (const key of keys) counts[key]!++;
    return counts;
  };
  it('lie on either side of the widest run of keys that are not played', () => {
    expect(rolesParted(countsOf(36, 38, 40, 41, 60, 62, 64, 65))).toEqual({ below: 41, above: 60 });
  });
  it('not where one side is a stray note or two, or keys follow each other', () => {
    expect(
      rolesParted(countsOf(36, ...Array.from({ length: 20 }, (_, i) => 60 + (i % 7)))),
    ).toBeNull();
    expect(rolesParted(countsOf(60, 62, 64, 65, 67, 69, 71, 72))).toBeNull();
    expect(rolesParted(new Uint32Array(128))).toBeNull();
  });
});
