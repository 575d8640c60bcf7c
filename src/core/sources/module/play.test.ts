import { describe, expect, it } from 'vitest';
import type { TuneCell } from '../../../../demo/modules/tune';
import { moduleOf, patternOf, sine, type moduleWriters } from '../../../../testing/modules';
import { perform } from './strikes';

type As = keyof typeof moduleWriters;
const TICK = 2.5 / 125;
const note: TuneCell = { note: 60, sample: 1 };
const fx = (letter: string, param: number, more: TuneCell = {}): TuneCell => ({
  ...more,
  fx: [letter, param],
});

const rowsOf = (as: As, patterns: Parameters<typeof moduleOf>[1], more = {}) =>
  perform(moduleOf(as, patterns, more)).rows.map((r) => `${r.order}:${r.row}`);
const run = (from: number, to: number, order = 0) =>
  Array.from({ length: to - from }, (_, i) => `${order}:${from + i}`);

describe('the order of rows', () => {
  it('a break goes to a row of the next pattern, told in tens by three of the four', () => {
    for (const [as, letter, param] of [
      ['mod', 'D', 0x12],
      ['xm', 'D', 0x12],
      ['s3m', 'C', 0x12],
      ['it', 'C', 12],
    ] as const)
      expect(rowsOf(as, [{ 3: [fx(letter, param)] }, {}]), as).toEqual([
        ...run(0, 4),
        ...run(12, 64, 1),
      ]);
  });
  it('a jump, and where it goes round: a row in a state that was there before', () => {
    const { rows, roundTo } = perform(moduleOf('mod', [{}, { 7: [fx('B', 0)] }]));
    expect(rows.length).toBe(64 + 8);
    expect(roundTo).toBe(0);
  });
  it('a jump and a break on one row go to that row of that order', () => {
    expect(
      rowsOf('it', [{ 0: [fx('C', 5), fx('B', 2)] }, {}, { 6: [fx('B', 3)] }, {}]).slice(0, 4),
    ).toEqual(['0:0', '2:5', '2:6', '3:0']);
    // In MOD a jump takes back the row of a break that stands left of it.
    expect(rowsOf('mod', [{ 0: [fx('D', 5), fx('B', 2)] }, {}, {}]).slice(0, 2)).toEqual([
      '0:0',
      '2:0',
    ]);
  });
  it('rows of a loop are played as often as it says, and once more', () => {
    for (const [as, letter, mark] of [
      ['mod', 'E', 0x60],
      ['xm', 'E', 0x60],
      ['s3m', 'S', 0xb0],
      ['it', 'S', 0xb0],
    ] as const)
      expect(
        rowsOf(as, [{ 2: [fx(letter, mark)], 4: [fx(letter, mark + 2)] }]).slice(0, 12),
        as,
      ).toEqual([...run(0, 5), ...run(2, 5), ...run(2, 5), '0:5']);
  });
  it('XM: the pattern behind a loop begins at the row at which the loop began', () => {
    const patterns: Parameters<typeof moduleOf>[1] = [
      { 3: [fx('E', 0x60)], 4: [fx('E', 0x61)] },
      {},
    ];
    expect(rowsOf('xm', patterns)).toContain('1:3');
    expect(rowsOf('xm', patterns)).not.toContain('1:2');
    expect(rowsOf('mod', patterns)).toContain('1:2');
  });
  it('S3M has one loop for all channels, the others one each', () => {
    const cells = { 2: [fx('S', 0xb0)], 4: [null, fx('S', 0xb1)] };
    expect(rowsOf('s3m', [cells]).slice(5, 8)).toEqual(run(2, 5));
    expect(rowsOf('it', [cells]).slice(5, 8)).toEqual(run(0, 3));
  });
  it('SKIP is passed over and END ends, in S3M and IT alone', () => {
    expect(rowsOf('s3m', [{}, {}], { orders: [0, 254, 1, 255, 0] })).toEqual([
      ...run(0, 64),
      ...run(0, 64, 2),
    ]);
  });
  it('patterns of other lengths are as long as they say', () => {
    for (const as of ['xm', 'it'] as const)
      expect(
        rowsOf(as, [], { orders: [0, 1], patterns: [patternOf({}, 5), patternOf({}, 200)] }).length,
      ).toBe(205);
  });
  it('speed 0 ends the song on the oldest machine, and is nothing to the newer ones', () => {
    expect(rowsOf('mod', [{ 3: [fx('F', 0)] }]).length).toBe(3);
    expect(rowsOf('s3m', [{ 3: [fx('A', 0)] }]).length).toBe(64);
  });
});

describe('time', () => {
  const length = (as: As, cells: Parameters<typeof moduleOf>[1][0]) =>
    perform(moduleOf(as, [cells])).seconds / TICK;
  it('speed and tempo', () => {
    expect(length('mod', { 0: [fx('F', 3)] })).toBeCloseTo(64 * 3, 6);
    expect(length('xm', { 32: [fx('F', 250)] })).toBeCloseTo(32 * 6 + 32 * 3, 6);
    expect(length('it', { 0: [fx('A', 2)], 32: [fx('T', 0xfa)] })).toBeCloseTo(64 + 32, 6);
    // IT: a tempo below 32 slides, each tick but the first.
    expect(length('it', { 0: [fx('T', 0x15)] })).toBeLessThan(64 * 6);
    expect(length('s3m', { 0: [fx('T', 0x15)] })).toBeCloseTo(64 * 6, 6);
  });
  it('a row that is delayed lasts that much longer, and nothing is struck again', () => {
    for (const [as, letter, param] of [
      ['mod', 'E', 0xe2],
      ['s3m', 'S', 0xe2],
      ['it', 'S', 0xe2],
    ] as const) {
      const { seconds, strikes } = perform(moduleOf(as, [{ 1: [note, fx(letter, param)] }]));
      expect(seconds / TICK, as).toBeCloseTo(66 * 6, 6);
      expect(strikes.length, as).toBe(1);
    }
    expect(length('it', { 1: [fx('S', 0x63)] })).toBeCloseTo(64 * 6 + 3, 6);
  });
  it('ten minutes do not drift', () => {
    const orders = Array.from({ length: 120 }, () => 0);
    const { rows, seconds } = perform(moduleOf('mod', [{ 0: [fx('F', 131)] }], { orders }));
    expect(seconds).toBeGreaterThan(600);
    expect(rows.at(-1)!.at + rows.at(-1)!.seconds).toBeCloseTo((120 * 64 * 6 * 2.5) / 131, 3);
  });
});

describe('strikes', () => {
  const of = (as: As, cells: Parameters<typeof moduleOf>[1][0], more = {}) =>
    perform(moduleOf(as, [cells], more)).strikes;
  const ticks = (as: As, cells: Parameters<typeof moduleOf>[1][0]) =>
    of(as, cells).map((s) => Math.round(s.at / TICK));

  it('a delayed note comes at its tick, and not at all behind its row', () => {
    expect(ticks('mod', { 0: [fx('E', 0xd4, note)], 2: [fx('E', 0xd7, note)] })).toEqual([4]);
    expect(ticks('s3m', { 0: [fx('S', 0xd4, note)], 2: [fx('S', 0xd7, note)] })).toEqual([4]);
    expect(ticks('it', { 0: [fx('S', 0xd0, note)] })).toEqual([1]);
    expect(ticks('s3m', { 0: [fx('S', 0xd0, note)] })).toEqual([0]);
  });
  it('a note that is cut is silent from its tick on', () => {
    const silent = (as: As, letter: string, param: number) => {
      const [s] = of(as, { 0: [note], 2: [fx(letter, param)] });
      const off = s!.levels.find((l) => l.value === 0);
      return Math.round((off?.at ?? s!.end) / TICK);
    };
    expect(silent('mod', 'E', 0xc2)).toBe(14);
    expect(silent('mod', 'E', 0xc0)).toBe(12);
    expect(silent('s3m', 'S', 0xc2)).toBe(14);
    expect(silent('it', 'S', 0xc0)).toBe(13);
    // S3M: SC0 does nothing.
    expect(silent('s3m', 'S', 0xc0)).toBe(64 * 6);
  });
  it('struck again every few ticks', () => {
    expect(ticks('mod', { 0: [fx('E', 0x92, note)] })).toEqual([0, 2, 4]);
    expect(ticks('xm', { 0: [fx('E', 0x92, note)] })).toEqual([0, 2, 4]);
    expect(ticks('s3m', { 0: [fx('Q', 0x02, note)] })).toEqual([0, 2, 4]);
    // Its count goes on over the row.
    expect(ticks('it', { 0: [fx('Q', 0x04, note)], 1: [fx('Q', 0x04)] })).toEqual([0, 4, 8]);
    const [, second, third] = of('it', { 0: [fx('Q', 0x72, note)] });
    expect([second, third].map((s) => s!.levels[0]!.value)).toEqual([0.5, 0.25]);
  });
  it('a slide of pitch, its remembered speed, and its end at the aim', () => {
    const bend = (as: As, cells: Parameters<typeof moduleOf>[1][0], more = {}) =>
      of(as, cells, more)[0]!.bends.at(-1)!.value;
    // Linear: four sixty-fourths a tick for each unit, on five of six ticks.
    expect(bend('xm', { 0: [note], 1: [fx('1', 16)] })).toBeCloseTo(5, 6);
    expect(bend('xm', { 0: [note], 1: [fx('1', 16)], 2: [fx('1', 0)] })).toBeCloseTo(10, 6);
    expect(bend('it', { 0: [note], 1: [fx('F', 16)] })).toBeCloseTo(5, 6);
    expect(bend('it', { 0: [note], 1: [fx('F', 0xf8)], 2: [fx('E', 0xe8)] })).toBeCloseTo(
      0.5 - 0.125,
      6,
    );
    // By periods: 428 and 5 × 16 less.
    expect(bend('mod', { 0: [note], 1: [fx('1', 16)] })).toBeCloseTo(12 * Math.log2(428 / 348), 2);
    // The oldest machine ends at period 113.
    const ends = Object.fromEntries(Array.from({ length: 40 }, (_, i) => [i + 1, [fx('1', 40)]]));
    expect(bend('mod', { 0: [note], ...ends })).toBeCloseTo(12 * Math.log2(428 / 113), 2);
    // To the next note and no further, which is not struck.
    const tone = { 0: [note], 1: [fx('3', 64, { note: 67 })], 2: [fx('3', 0)] };
    expect(of('xm', tone).length).toBe(1);
    expect(bend('xm', tone)).toBeCloseTo(7, 6);
  });
  it('fine slides count once; those of S3M and IT hide in the halves of D', () => {
    const last = (as: As, cells: Parameters<typeof moduleOf>[1][0]) =>
      Math.round(of(as, cells)[0]!.levels.at(-1)!.value * 64);
    expect(last('mod', { 0: [note], 1: [fx('A', 0x02)] })).toBe(54);
    expect(last('mod', { 0: [note], 1: [fx('A', 0x02)], 2: [fx('A', 0)] })).toBe(54);
    expect(last('xm', { 0: [note], 1: [fx('A', 0x02)], 2: [fx('A', 0)] })).toBe(44);
    expect(last('mod', { 0: [note], 1: [fx('E', 0xb3)] })).toBe(61);
    expect(last('s3m', { 0: [note], 1: [fx('D', 0xf3)] })).toBe(61);
    expect(last('s3m', { 0: [note], 1: [fx('D', 0x03)] })).toBe(49);
    // S3M: D0F slides on the first tick too.
    expect(last('s3m', { 0: [note], 1: [fx('D', 0x0f)] })).toBe(0);
    expect(last('it', { 0: [note], 1: [fx('D', 0x04)], 2: [fx('D', 0)] })).toBe(24);
  });
  it('arpeggio, vibrato and the frames at which a strike begins', () => {
    const beside = (as: As, letter: string, param: number) =>
      of(as, { 0: [fx(letter, param, note)] })[0]!.arpeggios.map((a) => a.value);
    expect(beside('mod', '0', 0x37).slice(0, 5)).toEqual([3, 7, 0, 3, 7]);
    expect(beside('it', 'J', 0x47).slice(0, 5)).toEqual([4, 7, 0, 4, 7]);
    const [s] = of('xm', { 0: [fx('4', 0x48, note)] });
    expect(Math.max(...s!.bends.map((b) => Math.abs(b.value)))).toBeGreaterThan(0.3);
    expect(of('mod', { 0: [fx('9', 4, note)] })[0]!.offset).toBe(1024);
    // Behind the end: XM is silent, IT begins at the beginning.
    expect(of('xm', { 0: [fx('9', 99, note)] })).toEqual([]);
    expect(of('it', { 0: [fx('O', 99, note)] })[0]!.offset).toBe(0);
  });
  it('tremolo, tremor, glissando and slides to the side', () => {
    const levels = (as: As, letter: string, param: number) =>
      of(as, { 0: [{ ...note, volume: as === 'xm' ? 0x10 + 32 : 32 }], 1: [fx(letter, param)] })[0]!
        .levels.filter((l) => l.at > 5.5 * TICK && l.at < 12.5 * TICK)
        .map((l) => Math.round(l.value * 64));
    expect(new Set(levels('xm', '7', 0x88)).size).toBeGreaterThan(2);
    // On for two ticks, off for three: what the machine adds is one each.
    expect(levels('s3m', 'I', 0x12)).toEqual([0, 32]);
    const steps = of('xm', {
      0: [note, fx('E', 0)],
      1: [fx('E', 0x31), null],
      2: [fx('3', 8, { note: 67 })],
      3: [fx('3', 0)],
    })[0]!;
    expect(steps.bends.every((b) => Math.abs(b.value - Math.round(b.value)) < 1e-6)).toBe(true);
    const pan = (as: As, letter: string, param: number) =>
      of(as, { 0: [note], 1: [fx(letter, param)] })[0]!.pans.at(-1)!.value;
    expect(pan('xm', 'P', 0x50)).toBeCloseTo(0.5 + 25 / 255, 2);
    expect(pan('it', 'P', 0x50)).toBeCloseTo(0.5 - 25 / 64, 2);
    expect(pan('it', 'X', 255)).toBe(1);
    expect(pan('s3m', 'X', 0x80)).toBe(1);
    expect(pan('mod', '8', 0)).toBe(0);
  });
  it('the volume column slides, pans and moves as its format says', () => {
    const last = (as: As, volume: number, more: TuneCell = {}) => {
      const [s] = of(as, { 0: [note], 1: [{ volume, ...more }] });
      return { level: Math.round(s!.levels.at(-1)!.value * 64), bend: s!.bends.at(-1)!.value };
    };
    expect(last('xm', 0x63).level).toBe(64 - 15);
    expect(last('xm', 0x83).level).toBe(61);
    expect(last('it', 78).level).toBe(61);
    expect(last('it', 97).level).toBe(64 - 10);
    expect(last('it', 117).bend).toBeCloseTo((2 * 4 * 4 * 5) / 64, 6);
    // Four semitones a tick, and no further than its note.
    expect(last('xm', 0xf4, { note: 72 }).bend).toBeCloseTo(12, 6);
  });
  it('a global slide moves all that sounds', () => {
    const last = (as: As, letter: string, param: number) =>
      of(as, { 0: [note], 1: [null, fx(letter, param)] })[0]!.levels.at(-1)!.value;
    expect(last('xm', 'H', 0x04)).toBeCloseTo(1 - 20 / 64, 6);
    expect(last('it', 'W', 0x04)).toBeCloseTo(1 - 20 / 128, 6);
  });
  it('global volume and the volume of a channel', () => {
    const last = (as: As, cells: Parameters<typeof moduleOf>[1][0]) =>
      of(as, cells)[0]!.levels.at(-1)!.value;
    expect(last('s3m', { 0: [note, fx('V', 32)] })).toBe(0.5);
    expect(last('it', { 0: [note, fx('V', 32)] })).toBe(0.25);
    expect(last('xm', { 0: [note, fx('G', 16)] })).toBe(0.25);
    expect(last('it', { 0: [note], 1: [fx('M', 16)] })).toBe(0.25);
  });
});

describe('instruments', () => {
  const reed = { name: 'reed', frames: sine(3200, 32), loop: [0, 3200] } as const;
  const envelope = [
    [0, 64],
    [10, 32],
    [20, 0],
  ] as const;
  const of = (as: As, cells: Parameters<typeof moduleOf>[1][0], sample: object) =>
    perform(moduleOf(as, [cells], { samples: [{ ...reed, ...sample }] })).strikes;

  it('an envelope runs by ticks and is held until the note is let go', () => {
    for (const as of ['xm', 'it with instruments'] as const) {
      const [free] = of(as, { 0: [note] }, { envelope });
      expect(free!.levels[5]!.value, as).toBeCloseTo(1 - 5 / 20, 6);
      const [held] = of(as, { 0: [note] }, { envelope, sustain: 1 });
      expect(held!.levels.at(-1)!.value, as).toBeCloseTo(0.5, 6);
      const [off] = of(as, { 0: [note], 10: [{ note: 'off' }] }, { envelope, sustain: 1 });
      expect(off!.levels.at(-1)!.value, as).toBeLessThan(0.06);
    }
  });
  it('an envelope goes round between two of its points, for as long as it is held', () => {
    const cells = { 0: [note], 20: [{ note: 'off' as const }] };
    const round = { envelope: [[0, 64], [4, 16], [8, 64], [40, 0]], round: [0, 2] } as const; // prettier-ignore
    for (const as of ['xm', 'it with instruments'] as const) {
      const [s] = of(as, cells, { ...round, fade: 1 });
      const low = s!.levels.filter((l) => Math.abs(l.value - 0.25) < 0.02).length;
      expect(low, as).toBeGreaterThan(10);
    }
  });
  it('XM: a sample wavers by itself', () => {
    const [s] = of('xm', { 0: [note] }, { wavers: [16, 32] });
    const most = Math.max(...s!.bends.map((b) => Math.abs(b.value)));
    expect(most).toBeCloseTo(16 / 64, 1);
  });
  it('IT: duplicates of a key are cut, or let go, whatever a new note does', () => {
    const again = { 0: [note], 2: [note], 4: [{ note: 62, sample: 1 }] };
    const ends = (duplicates: readonly [number, number]) =>
      of('it with instruments', again, { newNote: 1, duplicates }).map((s) =>
        Math.round(s.end / TICK),
      );
    expect(ends([0, 0])).toEqual([384, 384, 384]);
    expect(ends([1, 0])).toEqual([12, 384, 384]);
    expect(ends([3, 0])).toEqual([12, 24, 384]);
  });
  it('a note off without an envelope: XM is silent, IT fades as its instrument says', () => {
    const cells = { 0: [note], 4: [{ note: 'off' as const }] };
    const [xm] = of('xm', cells, {});
    expect(xm!.levels.at(-1)).toEqual({ at: expect.closeTo(24 * TICK, 9) as number, value: 0 });
    const [it] = of('it with instruments', cells, { fade: 64 });
    expect((it!.end - 24 * TICK) / TICK).toBeCloseTo(15, 0);
  });
  it('IT: what sounds goes on in the background, is let go or fades where a new note comes', () => {
    const cells = { 0: [note], 2: [{ note: 67, sample: 1 }] };
    const ends = (newNote: number, fade: number) =>
      Math.round(of('it with instruments', cells, { newNote, fade })[0]!.end / TICK);
    expect(ends(0, 0)).toBe(12);
    expect(ends(1, 0)).toBe(64 * 6);
    expect(ends(2, 128)).toBe(12 + 7);
    expect(ends(3, 64)).toBe(12 + 15);
    // S74 lets the note that sounds go on, whatever its instrument says.
    const said = { ...cells, 1: [fx('S', 0x74)] };
    expect(Math.round(of('it with instruments', said, { newNote: 0 })[0]!.end / TICK)).toBe(384);
  });
});
