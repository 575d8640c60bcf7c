import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { conductor, renditionOf, song, targetWith, Track } from '../../../testing/score-builder';
import { toSchedule } from '../wire/to-view';
import { mostAtOnce } from './at-once';
import {
  joinEvents,
  joinNotes,
  newEvents,
  newNotes,
  notesWhere,
  pickEvents,
  pickNotes,
  sortByKey,
  sortNotes,
} from './columns';
import { eventsOf, inForceAt, rowsBetween, type EventRow } from './in-force';
import { hasConductorTrack, layoutOf, playedTracks, silencedTracks } from './layout';
import type { EventColumns, NoteColumns } from './score';

const notesAt = (starts: readonly number[]): NoteColumns => {
  const notes = newNotes(starts.length);
  starts.forEach((s, i) => {
    notes.start[i] = s;
    notes.end[i] = s + 10;
    notes.noteNumber[i] = i % 128;
    notes.id[i] = i + 1;
  });
  return notes;
};
const eventsAt = (rows: readonly (readonly [tick: number, ...EventRow])[]): EventColumns => {
  const events = newEvents(rows.length);
  rows.forEach(([tick, kind, a, b], i) => {
    events.tick[i] = tick;
    events.kind[i] = kind;
    events.data1[i] = a;
    events.data2[i] = b;
  });
  return events;
};

describe('columns', () => {
  it('an order by keys is that of a stable sort, however large the keys are', () => {
    // Long lists go through wider digits.
    const key = fc.oneof(fc.nat(5), fc.nat(70_000), fc.integer({ min: 0, max: 2 ** 45 }));
    fc.assert(
      fc.property(fc.array(key, { maxLength: 60 }), fc.boolean(), (keys, long) => {
        const list = long
          ? Array.from({ length: 21_000 }, (_, i) => keys[i % keys.length] ?? 0)
          : keys;
        const expected = list
          .map((k, i) => [k, i] as const)
          .sort((a, b) => a[0] - b[0] || a[1] - b[1]);
        expect([...sortByKey(list)]).toEqual(expected.map(([, i]) => i));
      }),
      { numRuns: 40 },
    );
  });
  it('what is sorted stays the same object; what is not keeps every note', () => {
    const sorted = notesAt([0, 5, 5, 9]);
    expect(sortNotes(sorted)).toBe(sorted);
    const mixed = sortNotes(notesAt([9, 0, 5, 0]));
    expect([...mixed.start]).toEqual([0, 0, 5, 9]);
    // Of equals the first stays first.
    expect([...mixed.id]).toEqual([2, 4, 3, 1]);
  });
  it('picked ones are copies, in the order that they were asked for', () => {
    const notes = notesAt([0, 5, 9]);
    const picked = pickNotes(notes, [2, 0]);
    expect([...picked.id]).toEqual([3, 1]);
    picked.start[0] = 77;
    expect(notes.start[2]).toBe(9);
    const events = eventsAt([
      [0, 0xb0, 7, 1],
      [4, 0xc0, 3, 0],
    ]);
    expect([...pickEvents(events, [1]).data1]).toEqual([3]);
    expect(notesWhere(notes, (i) => notes.start[i]! > 4)).toEqual([1, 2]);
  });
  it('joined ones are all of them, in order of time', () => {
    fc.assert(
      fc.property(fc.array(fc.array(fc.nat(50), { maxLength: 8 }), { maxLength: 4 }), (lists) => {
        const joined = joinNotes(lists.map((l) => notesAt([...l].sort((a, b) => a - b))));
        expect([...joined.start]).toEqual(lists.flat().sort((a, b) => a - b));
        const events = joinEvents(lists.map((l) => eventsAt(l.map((t) => [t, 0xb0, 1, t]))));
        expect([...events.tick]).toEqual(lists.flat().sort((a, b) => a - b));
        expect([...events.data2]).toEqual([...events.tick]);
      }),
    );
  });
  it('one that ends where another begins makes room for it', () => {
    const span = (list: readonly (readonly [number, number])[]) => ({
      count: list.length,
      start: list.map((n) => n[0]),
      end: list.map((n) => n[1]),
    });
    expect(
      mostAtOnce([
        span([
          [0, 10],
          [10, 20],
        ]),
      ]),
    ).toBe(1);
    expect(mostAtOnce([span([[0, 11]]), span([[10, 20]])])).toBe(2);
    expect(
      mostAtOnce([
        span([
          [5, 5],
          [5, 5],
        ]),
      ]),
    ).toBe(0);
    expect(mostAtOnce([])).toBe(0);
  });
});

describe('what is in force on a channel', () => {
  it('a program stands with the bank that was chosen for it', () => {
    const events = eventsAt([
      [0, 0xb0, 0, 3],
      [0, 0xb0, 32, 1],
      [0, 0xc0, 9, 0],
      [10, 0xb0, 0, 5],
    ]);
    const state = inForceAt(events, 20);
    expect(state.get('program')).toEqual([
      [0xb0, 0, 3],
      [0xb0, 32, 1],
      [0xc0, 9, 0],
    ]);
    // The bank that no program has taken up yet waits.
    expect(state.get('bank')).toEqual([[0xb0, 0, 5]]);
    expect(inForceAt(events, 10).has('bank')).toBe(false);
  });
  it('data goes to the parameter that is selected, and both kinds put each other out', () => {
    const state = inForceAt(
      eventsAt([
        [0, 0xb0, 101, 0],
        [0, 0xb0, 100, 0],
        [0, 0xb0, 6, 12],
        [1, 0xb0, 99, 4],
        [1, 0xb0, 98, 5],
        [1, 0xb0, 6, 64],
        [2, 0xb0, 6, 70],
      ]),
      9,
    );
    const parameters = [...state].filter(([slot]) => slot.startsWith('parameter'));
    expect(parameters.map(([, rows]) => rows.at(-1))).toEqual([
      [0xb0, 6, 12],
      [0xb0, 6, 70],
    ]);
    expect(state.get('select')).toEqual([
      [0xb0, 99, 4],
      [0xb0, 98, 5],
    ]);
  });
  it('a reset puts back what it is for, and leaves bank, program, level and pan', () => {
    const state = inForceAt(
      eventsAt([
        [0, 0xc0, 5, 0],
        [0, 0xb0, 7, 90],
        [0, 0xb0, 10, 20],
        [0, 0xb0, 1, 33],
        [0, 0xb0, 64, 127],
        [0, 0xe0, 0, 90],
        [1, 0xb0, 121, 0],
      ]),
      9,
    );
    expect([...state.keys()].sort()).toEqual(['controller 10', 'controller 7', 'program']);
  });
  it('the events that lead from one state to another lead there', () => {
    const row = fc.constantFrom<EventRow>(
      [0xb0, 7, 90],
      [0xb0, 7, 30],
      [0xb0, 1, 44],
      [0xb0, 64, 127],
      [0xb0, 0, 2],
      [0xb0, 101, 0],
      [0xb0, 100, 1],
      [0xb0, 6, 9],
      [0xc0, 4, 0],
      [0xc0, 8, 0],
      [0xe0, 0, 70],
      [0xd0, 50, 0],
      [0xb0, 121, 0],
    );
    const said = fc
      .array(row, { maxLength: 12 })
      .map((rows) => eventsAt(rows.map((r) => [0, ...r])));
    // What was never said begins as an instrument does, so that both are told from the same place.
    const begun = eventsAt([
      [0, 0xc0, 0, 0],
      [0, 0xb0, 7, 100],
      [0, 0xb0, 1, 0],
      [0, 0xb0, 64, 0],
      [0, 0xe0, 0, 64],
      [0, 0xd0, 0, 0],
    ]);
    const audible = (events: EventColumns) => {
      const state = inForceAt(events, 1);
      return ['controller 7', 'controller 1', 'controller 64', 'bend', 'pressure'].map((slot) =>
        JSON.stringify(state.get(slot)?.at(-1) ?? null),
      );
    };
    fc.assert(
      fc.property(said, said, (from, to) => {
        const a = joinEvents([begun, from]);
        const b = joinEvents([begun, to]);
        const between = rowsBetween(inForceAt(a, 1), inForceAt(b, 1));
        const reached = joinEvents([a, eventsOf(between, 0)]);
        const whole = (list: string[]) =>
          list.map((s, i) =>
            s === 'null'
              ? JSON.stringify(
                  [
                    [0xb0, 7, 100],
                    [0xb0, 1, 0],
                    [0xb0, 64, 0],
                    [0xe0, 0, 64],
                    [0xd0, 0, 0],
                  ][i],
                )
              : s,
          );
        expect(whole(audible(reached))).toEqual(whole(audible(b)));
      }),
      { numRuns: 80 },
    );
  });
});

describe('how a piece is laid out in tracks', () => {
  const target = targetWith({ seats: [] });
  const source = song([
    conductor(),
    new Track('A').note(1, 0, 480, 60, 80),
    new Track('B').note(2, 0, 480, 62, 80),
    new Track('Names only'),
  ]);
  const piece = (layout: 'as-is' | 'single' | 'conductor-first', out: readonly string[] = []) => {
    const made = renditionOf(source, target).pieces[0]!;
    const parts = made.score.parts.map((p) => (out.includes(p.name) ? { ...p, leftOut: true } : p));
    return { ...made, score: { ...made.score, parts }, delivery: { ...made.delivery, layout } };
  };
  it('as it is, in one, or with what conducts in a first track of its own', () => {
    expect(layoutOf(piece('as-is')).map((t) => t.tracks)).toEqual([[0], [1], [2], [3]]);
    expect(layoutOf(piece('single'))).toHaveLength(1);
    const first = layoutOf(piece('conductor-first'));
    expect(first.map((t) => t.parts.length)).toEqual([0, 1, 1]);
    expect(first[0]!.conductorOf).toEqual([0, 1, 2, 3]);
    expect(
      ['as-is', 'single', 'conductor-first'].map((l) => hasConductorTrack(piece(l as never))),
    ).toEqual([true, false, true]);
  });
  it('the track of a part that is left out stays behind, and what conducted there moves', () => {
    const without = piece('as-is', ['A']);
    expect(silencedTracks(without.score)).toEqual([1]);
    expect(playedTracks(without.score)).toEqual([2]);
    const [first, ...others] = layoutOf(without);
    expect(first!.conductorOf).toContain(1);
    expect(others.map((t) => t.tracks)).toEqual([[2], [3]]);
  });
});

describe('what sounds, in order of the clock', () => {
  it('at one moment ends come before events, and events before beginnings', () => {
    const source = song([
      conductor(),
      new Track('A').note(1, 0, 480, 60, 80).program(480, 1, 4).note(1, 480, 480, 60, 70),
    ]);
    const piece = renditionOf(source, targetWith({ seats: [] })).pieces[0]!;
    const s = toSchedule(piece, { leftOutToo: false });
    const at = [...s.status.keys()].filter((i) => s.ms[i] === 500).map((i) => s.status[i]! & 0xf0);
    expect(at).toEqual([0x80, 0xc0, 0x90]);
    for (let i = 1; i < s.count; i++) expect(s.ms[i]!).toBeGreaterThanOrEqual(s.ms[i - 1]!);
  });
  it('every note that begins ends, and what is left out is silent unless it is asked for', () => {
    const source = song([
      conductor(),
      new Track('A').note(1, 0, 480, 60, 80).event(900, 0x90, 1, 61, 90),
      new Track('B').note(2, 0, 480, 62, 80),
    ]);
    const made = renditionOf(source, targetWith({ seats: [] })).pieces[0]!;
    const parts = made.score.parts.map((p) => ({ ...p, leftOut: p.name === 'B' }));
    const piece = { ...made, score: { ...made.score, parts } };
    for (const leftOutToo of [false, true]) {
      const s = toSchedule(piece, { leftOutToo });
      const open = new Map<string, number>();
      for (let i = 0; i < s.count; i++) {
        const kind = s.status[i]! & 0xf0;
        const slot = `${s.status[i]! & 15}/${s.data1[i]!}`;
        if (kind === 0x90) open.set(slot, (open.get(slot) ?? 0) + 1);
        if (kind === 0x80) open.set(slot, (open.get(slot) ?? 0) - 1);
      }
      expect([...open.values()].every((n) => n === 0)).toBe(true);
      expect(open.size).toBe(leftOutToo ? 3 : 2);
    }
  });
});
