import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  builtIn,
  conductor,
  renditionOf,
  song,
  targetWith,
  Track,
} from '../../../testing/score-builder';
import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { newEvents } from '../score/columns';
import { barPrints, barStarts } from './bar-prints';
import { chainOf, lettersOf } from './chain';
import { CHORD_SPREAD_MS, chordsOf } from './chords';
import { driftPerPass } from './drift';
import { deliveredEnd, lastNoteEnd, trackEnds } from './ends';
import { frameNotes } from './frame-notes';
import { frameAt, frameRateOf, frameShiftOf } from './frames';
import { heardEnds } from './heard-ends';
import { holesOf } from './holes';
import { microsecondsAt } from './microseconds';
import { placeOfPiece, takes } from './places';
import { seamOf, stateAt } from './seam';
import { Sounding } from './sounding';
import { strandOf, strandParts } from './strands';

type Row = readonly [start: number, end: number, key: number, velocity?: number];
const track = (name: string, channel: number, list: readonly Row[]) => {
  const made = new Track(name);
  for (const [start, end, key, velocity = 80] of list)
    made.note(channel, start, end - start, key, velocity);
  return made;
};
const bare = targetWith({ seats: [] });
const pieceOf = (tracks: readonly Track[], options = {}): Piece =>
  renditionOf(song([conductor(), ...tracks], options), bare).pieces[0]!;

const rowArb = fc
  .tuple(
    fc.integer({ min: 0, max: 60 }),
    fc.integer({ min: 1, max: 30 }),
    fc.integer({ min: 58, max: 64 }),
  )
  .map(([start, length, key]): Row => [start * 40, (start + length) * 40, key]);
/** Notes of which none sounds its own key: in order of their starts. */
const apart = (list: readonly Row[]): Row[] => {
  const ends = new Map<number, number>();
  return [...list]
    .sort((a, b) => a[0] - b[0] || a[2] - b[2])
    .filter(([start, end, key]) => {
      if ((ends.get(key) ?? -1) >= start) return false;
      ends.set(key, end);
      return true;
    });
};

describe('what sounds while notes are gone through', () => {
  const columns = (list: readonly Row[]) => ({
    end: list.map((n) => n[1]),
    noteNumber: list.map((n) => n[2]),
  });
  it('is what a look at all notes finds', () => {
    fc.assert(
      fc.property(fc.array(rowArb, { maxLength: 40 }), (raw) => {
        const list = [...raw].sort((a, b) => a[0] - b[0]);
        const sounding = new Sounding(columns(list));
        list.forEach(([start], i) => {
          sounding.until(start);
          sounding.add(i);
          const there = list.slice(0, i + 1).filter((n) => n[1] > start);
          const keys = [...new Set(there.map((n) => n[2]))];
          expect(sounding.count).toBe(there.length);
          expect(sounding.keys).toBe(keys.length);
          expect(sounding.span).toBe(keys.length < 2 ? 0 : Math.max(...keys) - Math.min(...keys));
        });
        sounding.until(Infinity);
        expect([sounding.count, sounding.keys]).toEqual([0, 0]);
      }),
      { numRuns: 80 },
    );
  });
  it('names each note once, and only what still sounds', () => {
    const list: Row[] = [
      [0, 100, 60],
      [0, 400, 62],
      [200, 300, 64],
    ];
    const sounding = new Sounding(columns(list));
    const named: number[] = [];
    sounding.add(0);
    sounding.add(1);
    sounding.nameAll(150, (i) => named.push(i));
    sounding.until(200);
    sounding.add(2);
    sounding.nameAll(200, (i) => named.push(i));
    sounding.nameAll(250, (i) => named.push(i));
    expect(named).toEqual([1, 2]);
  });
});

describe('where notes end for the far side', () => {
  /** A receiver of one line: a note-off ends what began first on its key. */
  function received(parts: readonly (readonly Row[])[]): string[] {
    const events = parts.flatMap((list) =>
      list.flatMap(([start, end, key]) => [
        { tick: start, on: true, key },
        { tick: end, on: false, key },
      ]),
    );
    events.sort((a, b) => a.tick - b.tick || Number(a.on) - Number(b.on));
    const open = new Map<number, number[]>();
    const out: string[] = [];
    for (const { tick, on, key } of events) {
      const list = open.get(key) ?? [];
      open.set(key, list);
      if (on) list.push(tick);
      else if (list.length > 0) out.push(`${key}: ${list.shift()}–${tick}`);
    }
    return out.sort();
  }
  it('two parts on one line are paired as a receiver pairs them', () => {
    fc.assert(
      fc.property(
        fc.array(rowArb, { minLength: 1, maxLength: 14 }),
        fc.array(rowArb, { minLength: 1, maxLength: 14 }),
        (one, two) => {
          const lists = [apart(one), apart(two)];
          const piece = pieceOf([track('One', 1, lists[0]!), track('Two', 1, lists[1]!)]);
          // In one track both are one line.
          const single = { ...piece, delivery: { ...piece.delivery, layout: 'single' as const } };
          const ends = heardEnds(single);
          const found = single.score.parts.flatMap((part) =>
            [...part.notes.start].map(
              (start, i) => `${part.notes.noteNumber[i]!}: ${start}–${ends(part)[i]!}`,
            ),
          );
          expect(found.sort()).toEqual(received(lists));
        },
      ),
      { numRuns: 80 },
    );
  });
  it('a part that is alone on its line has its own ends', () => {
    const piece = pieceOf([track('One', 1, [[0, 480, 60]]), track('Two', 2, [[0, 960, 60]])]);
    const ends = heardEnds(piece);
    for (const part of piece.score.parts) expect(ends(part)).toBe(part.notes.end);
  });
});

describe('chords', () => {
  const clock = { msAt: (tick: number) => tick };
  const zone = { chordLowest: 48, chordHighest: 72, triggerLowest: 24, triggerHighest: 35 };
  const of = (list: readonly (readonly [number, number])[]) => {
    const sorted = [...list].sort((a, b) => a[0] - b[0]);
    const notes = {
      count: sorted.length,
      start: sorted.map((n) => n[0]),
      noteNumber: sorted.map((n) => n[1]),
    };
    return chordsOf(notes, clock, zone, 20);
  };
  it('gather what begins close together, and a key struck again begins the next', () => {
    expect(
      of([
        [0, 60],
        [30, 64],
        [55, 67],
        [200, 60],
        [230, 60],
      ]).map((c) => [c.first, c.last, c.indices.length]),
    ).toEqual([
      [0, 55, 3],
      [200, 200, 1],
      [230, 230, 1],
    ]);
  });
  it('are struck where a trigger stands at both their ends', () => {
    const struck = (at: number) =>
      of([
        [100, 60],
        [100, 64],
        [at, 30],
      ])[0]!.struck;
    expect([struck(100), struck(80), struck(120), struck(79), struck(121)]).toEqual([
      true,
      true,
      true,
      false,
      false,
    ]);
  });
  it('every note of the zone is in one chord, and none spreads too far', () => {
    const note = fc.tuple(fc.nat(600), fc.integer({ min: 40, max: 80 }));
    fc.assert(
      fc.property(fc.array(note, { maxLength: 30 }), (list) => {
        const chords = of(list);
        const inZone = list.filter(([, key]) => key >= 48 && key <= 72);
        expect(chords.flatMap((c) => c.indices)).toHaveLength(inZone.length);
        expect(new Set(chords.flatMap((c) => c.indices)).size).toBe(inZone.length);
        for (const c of chords) expect(c.last - c.first).toBeLessThanOrEqual(CHORD_SPREAD_MS);
      }),
      { numRuns: 80 },
    );
  });
});

describe('frames', () => {
  const notes: Row[] = [
    [0, 480, 60],
    [480, 490, 60],
    [960, 1440, 62],
  ];
  const piece = pieceOf([track('Lamps', 1, notes), track('Wash', 1, [[0, 960, 40]])]);
  const maps = mapsOf(piece.score);
  it('a rate and a shift are read as they were said, or not at all', () => {
    const told = (metadata: Readonly<Record<string, string>>) => ({
      ...piece,
      delivery: { ...piece.delivery, metadata },
    });
    expect(frameRateOf(told({ frameRate: '30' }))).toBe(30);
    for (const wrong of ['', '0', '-25', 'fast'])
      expect(frameRateOf(told({ frameRate: wrong }))).toBeNull();
    expect(frameRateOf(piece)).toBeNull();
    expect(frameShiftOf(told({ frameShift: '-3' }))).toBe(-3);
    expect(frameShiftOf(told({ frameShift: 'x' }))).toBe(0);
  });
  it('places are the nearest frames; what is shorter than one is held for one', () => {
    expect([0, 480, 490].map((t) => frameAt(maps, 30, t))).toEqual([0, 15, 15]);
    const found = frameNotes(piece, maps, 30, 0);
    expect(found.short).toBe(1);
    expect(found.names.get(1)!.split(' + ').sort()).toEqual(['Lamps', 'Wash']);
    for (let i = 0; i < found.on.length; i++) expect(found.off[i]!).toBeGreaterThan(found.on[i]!);
  });
  it('changes are in order, offs before ons, each note once on and once off', () => {
    const { changes } = frameNotes(piece, maps, 30, 2);
    const order = Array.from(changes.frame, (f, i) => f * 2 + changes.on[i]!);
    expect(order).toEqual([...order].sort((a, b) => a - b));
    expect(changes.count).toBe(8);
    expect([...changes.on].filter((n) => n === 1)).toHaveLength(4);
    expect(changes.frame[0]).toBe(2);
  });
  it('what a shift moves before the first is counted and not in the table', () => {
    const { before, changes } = frameNotes(piece, maps, 30, -1);
    expect(before).toBe(2);
    expect(changes.count).toBe(4);
  });
  it('two of one key in one frame are told: the deck sees one', () => {
    const twice = pieceOf([
      track('A', 1, [
        [0, 3, 60],
        [5, 9, 60],
      ]),
    ]);
    expect(frameNotes(twice, mapsOf(twice.score), 25, 0).shared).toHaveLength(1);
  });
});

describe('the strip that a piece becomes', () => {
  const organ = builtIn('strip-organ');
  const [front, rear] = organ.seats;
  const pipes = organ.notes!.only!;
  const at = (seat: string | null, list: readonly Row[]): Piece => {
    const piece = pieceOf([track('Rank', 1, list)]);
    const parts = piece.score.parts.map((p) => ({ ...p, seat }));
    return { ...piece, score: { ...piece.score, parts } };
  };
  const strip = (piece: Piece) => holesOf(piece, mapsOf(piece.score), organ);
  it('has a hole for each note, by row, rank and pipe', () => {
    const piece = at(rear!.id, [
      [0, 240, pipes[3]!],
      [480, 720, pipes[0]!],
      [480, 720, pipes[1]!],
    ]);
    const { holes, rate, rows, noPipe, shared } = strip(piece);
    expect(holes.map((h) => [h.rank, h.key])).toEqual([
      [1, pipes[3]],
      [1, pipes[0]],
      [1, pipes[1]],
    ]);
    expect(holes.map((h) => h.row)).toEqual([0, rate / 2, rate / 2]);
    expect([rows, noPipe, shared]).toEqual([rate / 2 + 1, 0, 0]);
  });
  it('counts what has no pipe or no rank, and what falls on the hole of another', () => {
    const list: Row[] = [
      [0, 90, pipes[0]!],
      [5, 80, pipes[1]!],
      [10, 60, 1],
    ];
    expect(strip(at(front!.id, list)).noPipe).toBe(1);
    expect(strip(at(null, list)).noPipe).toBe(3);
    const near: Row[] = [
      [0, 4, pipes[0]!],
      [6, 9, pipes[0]!],
    ];
    expect(strip(at(front!.id, near)).shared).toBe(1);
  });
});

describe('ends', () => {
  const piece = pieceOf([track('A', 1, [[0, 480, 60]]), track('B', 2, [[960, 1500, 64]])], {
    endTick: 1200,
  });
  it('of the delivery: its last track, or what rings on behind it', () => {
    expect(Math.max(...trackEnds(piece))).toBe(deliveredEnd(piece));
    expect(deliveredEnd(piece)).toBe(1500);
    expect(lastNoteEnd(piece.score)).toBe(1500);
  });
  it('what is left out does not sound', () => {
    const parts = piece.score.parts.map((p) => (p.name === 'B' ? { ...p, leftOut: true } : p));
    expect(lastNoteEnd({ ...piece.score, parts })).toBe(480);
  });
});

describe('what tells bars apart', () => {
  it('is what is struck and where, not how hard or how long', () => {
    const piece = pieceOf([
      track('A', 1, [
        [0, 480, 60, 40],
        [960, 1200, 64],
        [1920, 2000, 60, 110],
        [2880, 2900, 64],
        [3840, 4000, 60],
        [4800, 4900, 65],
      ]),
    ]);
    const maps = mapsOf(piece.score);
    const starts = barStarts(maps, 7680);
    expect(starts).toEqual([0, 1920, 3840, 5760, 7680]);
    const [one, two, three, four] = barPrints(piece.score.parts, starts, 480);
    expect(one).toBe(two);
    expect(three).not.toBe(one);
    expect(four).toBe('');
  });
  it('a hair beside is the same place, a 32nd is another', () => {
    const of = (at: number) => {
      const piece = pieceOf([track('A', 1, [[at, at + 100, 60]])]);
      return barPrints(piece.score.parts, [0, 1920], 480)[0];
    };
    expect(of(484)).toBe(of(480));
    expect(of(540)).not.toBe(of(480));
  });
});

describe('places that are files', () => {
  const seats = builtIn('stomp-crate').seats;
  const piece = pieceOf([track('A', 10, [[0, 480, 36]])]);
  const named = (fileName: string, place?: string): Piece => ({
    ...piece,
    delivery: { ...piece.delivery, fileName, ...(place ? { place } : {}) },
  });
  const [first, second] = seats.filter((s) => s.kind === 'file');
  it('are taken as a step said, else by the name of the file, in any case of letters', () => {
    expect(placeOfPiece(named(second!.fileName.toUpperCase()), seats)).toBe(second);
    expect(placeOfPiece(named(second!.fileName, first!.id), seats)).toBe(first);
    expect(placeOfPiece(named('other.mid'), seats)).toBeUndefined();
  });
  it('take the lengths that they say', () => {
    const seat = (limits: object) => ({ ...first!, ...limits }) as typeof first & object;
    const free = { onlyBars: undefined, leastBars: undefined, mostBars: undefined };
    expect(takes(seat({ ...free, onlyBars: [1, 2] }), { whole: 2, over: 0 })).toBe(true);
    expect(takes(seat({ ...free, onlyBars: [1, 2] }), { whole: 3, over: 0 })).toBe(false);
    expect(takes(seat({ ...free, leastBars: 2, mostBars: 4 }), { whole: 1, over: 0 })).toBe(false);
    expect(takes(seat({ ...free, leastBars: 2, mostBars: 4 }), { whole: 4, over: 0 })).toBe(true);
    expect(takes(seat({ ...free, leastBars: 2, mostBars: 4 }), { whole: 3, over: 0.5 })).toBe(
      false,
    );
    expect(takes(seat(free), { whole: 97, over: 0.25 })).toBe(true);
  });
});

describe('a chain of patterns', () => {
  const target = builtIn('tide-voices');
  const piece = pieceOf([track('Voice 1', 1, [[0, 480, 60]]), track('Voice 3', 3, [[0, 9, 50]])]);
  const seated: Piece = {
    ...piece,
    score: {
      ...piece.score,
      parts: piece.score.parts.map((p) => ({ ...p, seat: `voice-${p.channel}` })),
    },
  };
  it('is every pattern once with the voices that it has, where none was made', () => {
    expect(lettersOf([seated, seated], target)).toEqual(target.chains!.patterns.slice(0, 2));
    expect(chainOf({ pieces: [seated, piece] }, target)).toEqual([
      { pattern: target.chains!.patterns[0], repeats: 1, shift: 0, voices: [1, 3] },
      { pattern: target.chains!.patterns[1], repeats: 1, shift: 0, voices: [] },
    ]);
  });
  it('a piece that was laid into a pattern has its letter; others the next that is free', () => {
    const laid = (place: string): Piece => ({ ...seated, delivery: { ...seated.delivery, place } });
    expect(lettersOf([laid('C'), seated, laid('A')], target)).toEqual(['C', 'B', 'A']);
    // Two in one pattern is a fault that a rule names; each file has a letter of its own.
    expect(lettersOf([laid('C'), laid('C'), laid('no such')], target)).toEqual(['C', 'A', 'B']);
    expect(chainOf({ pieces: [laid('C')] }, target)[0]!.pattern).toBe('C');
  });
  it('is the one that was made', () => {
    const chain = [{ pattern: 'B', repeats: 4, shift: -2, voices: [2] }];
    expect(chainOf({ pieces: [{ ...seated, chain }] }, target)).toEqual(chain);
  });
  it('files that there is no letter for have none', () => {
    const many = Array.from({ length: target.chains!.patterns.length + 1 }, () => seated);
    expect(lettersOf(many, target).at(-1)).toBeNull();
    expect(chainOf({ pieces: many }, target)).toHaveLength(target.chains!.patterns.length);
  });
});

describe('seams and drifts', () => {
  const events = (
    list: readonly (readonly [tick: number, kind: number, a: number, b: number])[],
  ) => {
    const out = newEvents(list.length);
    list.forEach(([tick, kind, a, b], i) => {
      out.tick[i] = tick;
      out.kind[i] = kind;
      out.data1[i] = a;
      out.data2[i] = b;
    });
    return out;
  };
  it('what was never set has its default, and only what differs is told', () => {
    const set = events([
      [0, 0xb0, 7, 90],
      [480, 0xb0, 7, 60],
      [960, 0xe0, 0, 80],
      [1440, 0xb0, 74, 12],
    ]);
    expect(stateAt(set, 480).get(0xb007)).toBe(90);
    expect(stateAt(set, 481).get(0xb007)).toBe(60);
    expect(seamOf(set, 0, 1920)).toEqual([{ slot: 0xe000, first: 8192, later: 80 * 128 }]);
    // From the middle on the level is not set again where it begins.
    expect(seamOf(set, 240, 1920).map((d) => d.slot)).toEqual([0xb007, 0xe000]);
  });
  it('a pass of whole units is never off, and the error of others grows with the passes', () => {
    expect(driftPerPass(2000, 30, 100)).toBe(0);
    expect(driftPerPass(2010, 30, 1)).toBeCloseTo(-10, 6);
    expect(driftPerPass(2010, 30, 10)).toBeCloseTo(-100, 6);
    // However short, one unit is played.
    expect(driftPerPass(1, 25, 1)).toBeCloseTo(39, 6);
  });
  it('microseconds are whole', () => {
    const { score } = pieceOf([track('A', 1, [[0, 1, 60]])]);
    const maps = mapsOf(score);
    for (const tick of [1, 7, 481, 100_001])
      expect(Number.isInteger(microsecondsAt(maps, tick))).toBe(true);
    expect(microsecondsAt(maps, 480)).toBe(500_000);
  });
});

describe('strands', () => {
  const piece = pieceOf([track('Frogs', 1, [[0, 90, 60]]), new Track('Silent').program(0, 2, 1)]);
  const [frogs] = piece.score.parts;
  it('are the parts that play, as was chosen, else instants with their note numbers', () => {
    expect(strandParts(piece)).toEqual([frogs]);
    expect(strandOf(piece, frogs!)).toEqual({
      part: frogs!.id,
      name: 'Frogs',
      kind: 'instant',
      value: 'note-number',
    });
    const chosen = { part: frogs!.id, name: 'pond', kind: 'span', value: 'velocity' } as const;
    expect(strandOf({ ...piece, strands: [chosen] }, frogs!)).toBe(chosen);
  });
});
