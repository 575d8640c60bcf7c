import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { damageCorpus } from '../../../demo/damage';
import { smfWeek, week } from '../../../demo/week';
import { wellFormed } from '../../../testing/arbitrary-smf';
import { conductor, rows, song, Track } from '../../../testing/score-builder';
import { headOf, META, META_END_OF_TRACK, payload, type SmfTrack } from '../smf/file';
import { readSmf } from '../smf/read';
import { sortByKey } from './columns';
import { scoreFromFile } from './from-file';
import { inventoryOf } from './inventory';
import { layoutOf } from './layout';
import { linesOf } from '../reading/lines';
import { readWellFormed } from './read-well-formed';
import { OFF_MISSING } from './score';
import { toTrack } from './to-tracks';

const events = (track: SmfTrack) =>
  Array.from(track.tick, (tick, i) =>
    [tick, track.status[i], track.data1[i], track.data2[i], ...payload(track, i)].join(' '),
  );

const rebuilt = (bytes: Uint8Array) => {
  const file = readSmf(bytes).file!;
  // Format 2 holds pieces of their own: the first is taken.
  const one = file.format === 2 ? { ...file, tracks: file.tracks.slice(0, 1) } : file;
  const score = scoreFromFile(one, { sourceKey: 'x' });
  const delivery = { format: 1, layout: 'as-is', fileName: 'x' } as const;
  return {
    before: one.tracks.map(events),
    after: layoutOf({ score, delivery }).map((s) => events(toTrack(score, s))),
  };
};

describe('events(score(file)) = events(file)', () => {
  it('for any well-formed file', () => {
    fc.assert(
      fc.property(wellFormed, (bytes) => {
        const { before, after } = rebuilt(bytes);
        expect(after).toEqual(before);
      }),
      { numRuns: 400 },
    );
  });
  it('for the lantern week', () => {
    for (const job of smfWeek.filter((j) => j.id !== 'demo-torn-page')) {
      const { before, after } = rebuilt(job.bytes());
      expect(after).toEqual(before);
    }
  });
});

describe('the quick way of reading', () => {
  const options = { sourceKey: 'x', firstId: 7 };
  const quick = (bytes: Uint8Array) => readWellFormed(bytes, options, () => {});
  const tolerant = (bytes: Uint8Array) => {
    const { file, damage } = readSmf(bytes);
    return { file, damage, score: file && scoreFromFile(file, options) };
  };
  it('gives the same score as the tolerant one', () => {
    let taken = 0;
    fc.assert(
      fc.property(wellFormed, (bytes) => {
        const read = quick(bytes);
        const { file, score } = tolerant(bytes);
        if (read) taken++;
        // Only format 2 is left to the tolerant way; a note without a note-off takes 3 bytes more.
        else expect(file!.format === 2 || bytes.length < 2000).toBe(true);
        if (read) expect(read).toEqual({ head: headOf(file!), score });
      }),
      { numRuns: 400 },
    );
    expect(taken).toBeGreaterThan(200);
  });
  it('is taken for the songs of the week, and of several channels on one track', () => {
    const one = song([
      new Track('A')
        .note(1, 0, 9, 60, 1)
        .note(2, 0, 9, 61, 2)
        .program(0, 2, 5)
        .note(1, 20, 9, 60, 3),
    ]);
    for (const bytes of [
      ...smfWeek.filter((j) => j.id !== 'demo-torn-page').map((j) => j.bytes()),
    ]) {
      const { file, score } = tolerant(bytes);
      expect(quick(bytes)).toEqual({ head: headOf(file!), score });
    }
    expect(one.score.parts.map((p) => [p.channel, [...p.notes.id]])).toEqual([
      [1, [1, 2]],
      [2, [3]],
    ]);
  });
  it('takes nothing that has damage, and never differs where it takes something', () => {
    for (const [, bytes] of damageCorpus) expect(quick(bytes)).toBeNull();
    fc.assert(
      fc.property(wellFormed, fc.nat(), fc.nat(255), (bytes, place, value) => {
        bytes[place % bytes.length] = value;
        const read = quick(bytes);
        if (!read) return;
        const { file, damage, score } = tolerant(bytes);
        expect(damage).toEqual([]);
        expect(read).toEqual({ head: headOf(file!), score });
      }),
      { numRuns: 2000 },
    );
  });
});

describe('pairing', () => {
  it('is first on, first off within track and channel', () => {
    const source = song([
      conductor(),
      new Track('A').note(1, 0, 480, 60, 1).note(1, 240, 480, 60, 2),
    ]);
    expect(rows(source.score.parts[0]!.notes)).toEqual([
      [0, 480, 60, 1],
      [240, 720, 60, 2],
    ]);
  });
  it('a note without an end sounds to the end of its track', () => {
    const source = song([conductor(), new Track('A').hang(1, 10, 60, 1)], { endTick: 999 });
    const { notes } = source.score.parts[0]!;
    expect(rows(notes)).toEqual([[10, 999, 60, 1]]);
    expect(notes.offKind[0]).toBe(OFF_MISSING);
  });
});

it('parts are track by channel, with references that tell twins apart', () => {
  const source = song([
    new Track('A').note(1, 0, 9, 60, 1).note(2, 0, 9, 61, 1),
    new Track('A').note(1, 0, 9, 62, 1),
  ]);
  expect(source.score.parts.map((p) => [p.id, p.ref.occurrence])).toEqual([
    ['t0c1', 0],
    ['t0c2', 0],
    ['t1c1', 1],
  ]);
});

it('a merge to one track makes one line of a channel', () => {
  const source = song([
    conductor(),
    new Track('A').note(1, 0, 9, 60, 1),
    new Track('B').note(1, 5, 9, 61, 1),
  ]);
  const piece = (layout: 'as-is' | 'single') => ({
    score: source.score,
    delivery: { format: 1, layout, fileName: 'x' } as const,
  });
  expect(linesOf(piece('as-is')).map((l) => l.notes.count)).toEqual([1, 1]);
  expect(linesOf(piece('single')).map((l) => l.notes.count)).toEqual([2]);
});

it('the inventory counts what is there', () => {
  const { head, score } = song([
    conductor(96, 3, 4).marker(0, 'Go').meta(0, 0x60, Uint8Array.of(1)).sysex(0, [1, 0xf7]),
    new Track('A')
      .program(0, 1, 14)
      .note(1, 480, 960, 60, 80)
      .note(1, 960, 960, 72, 90)
      .event(0, 0xe0, 1, 0, 70),
  ]);
  expect(inventoryOf(head, score)).toMatchObject({
    format: 1,
    division: { ppq: 480 },
    notes: 2,
    firstNoteTick: 480,
    firstNoteMs: 625,
    sysex: 1,
    unknownMeta: 1,
    bars: 2,
    markers: [{ tick: 0, text: 'Go' }],
    parts: [{ programs: [14], lowest: 60, highest: 72, polyphony: 2, bends: 1 }],
  });
});

it('sorting by key is stable and linear in 16-bit digits', () => {
  fc.assert(
    fc.property(fc.array(fc.oneof(fc.nat(50), fc.nat(2 ** 31)), { maxLength: 200 }), (keys) => {
      const order = [...sortByKey(keys)];
      const expected = keys.map((_, i) => i).sort((a, b) => keys[a]! - keys[b]! || a - b);
      expect(order).toEqual(expected);
    }),
  );
});

it('the end of a track is an event of its own and stays where it was', () => {
  const file = readSmf(week[0]!.bytes()).file!;
  for (const track of file.tracks) {
    expect(track.status[track.count - 1]).toBe(META);
    expect(track.data1[track.count - 1]).toBe(META_END_OF_TRACK);
  }
});
