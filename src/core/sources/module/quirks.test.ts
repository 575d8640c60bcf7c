import { describe, expect, it } from 'vitest';
import type { TuneCell } from '../../../../demo/modules/tune';
import { writeMod } from '../../../../demo/modules/write-mod';
import {
  EEL_TRAPS,
  moduleOf,
  moduleWriters,
  openedModule,
  patternOf,
  sine,
} from '../../../../testing/modules';
import { mix } from './mix';
import { knownOf } from './open';
import { perform } from './strikes';

/** What only somebody who knows one of the machines would expect. */
type As = keyof typeof moduleWriters;
type Cells = Parameters<typeof moduleOf>[1][0];
const TICK = 2.5 / 125;
const note: TuneCell = { note: 60, sample: 1 };
const fx = (letter: string, param: number, more: TuneCell = {}): TuneCell => ({
  ...more,
  fx: [letter, param],
});
const reed = { name: 'reed', frames: sine(3200, 32), loop: [0, 3200] } as const;
const of = (as: As, cells: Cells, sample: object = {}) =>
  perform(moduleOf(as, [cells], { samples: [{ ...reed, ...sample }] })).strikes;
const last = (as: As, cells: Cells, sample: object = {}) =>
  Math.round(of(as, cells, sample).at(-1)!.levels.at(-1)!.value * 64);
const rowsOf = (as: As, patterns: Parameters<typeof moduleOf>[1], more = {}) =>
  perform(moduleOf(as, patterns, more)).rows.map((r) => `${r.order}:${r.row}`);

describe('S3M', () => {
  it('has one memory for all effects: a parameter of any is the next one’s that has none', () => {
    // G04 here, D00 there: a slide down by four.
    expect(last('s3m', { 0: [note], 1: [fx('G', 0x04)], 2: [fx('D', 0)] })).toBe(64 - 20);
    expect(last('s3m', { 0: [note], 1: [fx('O', 0x03)], 2: [fx('D', 0)] })).toBe(64 - 15);
    expect(last('it', { 0: [note], 1: [fx('G', 0x04)], 2: [fx('D', 0)] })).toBe(64);
  });
  it('slides down where both halves of D say something, and DF0 slides on the first tick too', () => {
    expect(last('s3m', { 0: [note], 1: [fx('D', 0x32)] })).toBe(64 - 10);
    expect(last('it', { 0: [note], 1: [fx('D', 0x32)] })).toBe(64);
    const up = { 0: [{ ...note, volume: 1 }], 1: [fx('D', 0xf0)] };
    // Fifteen on each tick until there is no more, from the first on.
    const levels = of('s3m', up)[0]!.levels.map((l) => Math.round(l.value * 64));
    expect(levels).toEqual([1, 16, 31, 46, 61, 64]);
    expect(Math.round(of('s3m', up)[0]!.levels[1]!.at / TICK)).toBe(6);
  });
});

describe('MOD', () => {
  const horn = { name: 'horn', frames: sine(1600, 16), loop: [400, 1600] } as const;
  const pip = { name: 'pip', frames: sine(400, 16), volume: 40 } as const;
  const played = (cells: Cells) =>
    perform(moduleOf('mod', [cells], { samples: [reed, horn, pip] })).strikes.map((s) => [
      s.sample,
      Math.round(s.at / TICK),
      Math.round(s.levels[0]!.value * 64),
      Math.round(s.offset),
    ]);
  it('a number without a note goes on in its loop where the sample that sounds goes round', () => {
    // 3,200 frames of the middle C are .386 s: the 20th tick sounds the other.
    const first = played({ 0: [note], 1: [{ sample: 2 }] });
    expect(first.map(([sample, at, level]) => [sample, at, level])).toEqual([
      [1, 0, 64],
      [2, 20, 64],
    ]);
    expect(first[1]![3]).toBeGreaterThanOrEqual(400);
    // What does not go round is silent; the same number changes nothing; the first again takes it back.
    expect(played({ 0: [note], 1: [{ sample: 3 }] })).toEqual([[1, 0, 64, 0]]);
    expect(played({ 0: [note], 1: [{ sample: 1 }] })).toEqual([[1, 0, 64, 0]]);
    expect(played({ 0: [note], 1: [{ sample: 2 }], 2: [{ sample: 1 }] })).toHaveLength(1);
  });
  it('behind one that has come to its end it sounds at once, at the pitch that was', () => {
    const strikes = perform(
      moduleOf('mod', [{ 0: [{ note: 67, sample: 3 }], 5: [{ sample: 2 }] }], {
        samples: [reed, horn, pip],
      }),
    ).strikes;
    expect(strikes.map((s) => [s.sample, s.key, Math.round(s.at / TICK), s.offset])).toEqual([
      [3, 67, 0, 0],
      [2, 67, 30, 400],
    ]);
    expect(strikes[1]!.bends[0]).toMatchObject({ value: strikes[0]!.bends[0]!.value });
    expect(played({ 3: [{ sample: 2 }] })).toEqual([]);
  });
  it('its sound goes on in the other sample too', () => {
    const loud = (cells: Cells) => {
      const module = moduleOf('mod', [cells], { samples: [pip, horn] });
      const { channels, rate } = mix(knownOf(module), {
        rate: 44_100,
        between: 'linear',
        softened: 0,
      });
      const from = Math.round(0.2 * rate);
      return channels[0]!.slice(from, from + 4410).reduce((m, v) => Math.max(m, Math.abs(v)), 0);
    };
    const short = { note: 60, sample: 1 };
    expect(loud({ 0: [short] })).toBe(0);
    expect(loud({ 0: [short], 1: [{ sample: 2 }] })).toBeGreaterThan(0.5);
  });
});

describe('XM', () => {
  it('an arpeggio goes by the ticks that are left: its second half first', () => {
    const beside = (speed: number) =>
      perform(moduleOf('xm', [{ 0: [fx('0', 0x37, note)] }], { speed }))
        .strikes[0]!.arpeggios.filter((a) => a.value > 0)
        .map((a) => [Math.round(a.at / TICK), a.value]);
    expect(beside(6)).toEqual([
      [1, 7],
      [2, 3],
      [4, 7],
      [5, 3],
    ]);
    // Three ticks are left behind the first: none, the second, the first.
    expect(beside(4)).toEqual([
      [2, 7],
      [3, 3],
    ]);
  });
  it('a note without a number goes on with the envelope and the fading of the one before', () => {
    const envelope = [
      [0, 64],
      [64, 0],
    ];
    // Five rows of six ticks are thirty of its sixty-four.
    const cells = { 0: [note], 5: [{ note: 64 }] };
    const second = of('xm', cells, { envelope })[1]!;
    expect(second.levels[0]!.value).toBeCloseTo(1 - 30 / 64, 6);
    const anew = of('xm', { 0: [note], 5: [{ note: 64, sample: 1 }] }, { envelope })[1]!;
    expect(anew.levels[0]!.value).toBe(1);
    const off = { 0: [note], 4: [{ note: 'off' as const }], 5: [{ note: 64 }] };
    const flat = [
      [0, 64],
      [999, 64],
    ];
    const faded = of('xm', off, { envelope: flat, sustain: 0, fade: 2048 });
    expect(faded.at(-1)!.levels[0]!.value).toBeLessThan(0.65);
  });
  it('a key off with a number takes the volume again: it is heard where no envelope ends it', () => {
    const cells = { 0: [note], 4: [{ note: 'off' as const, sample: 1 }] };
    expect(last('xm', cells)).toBe(64);
    expect(last('xm', { 0: [note], 4: [{ note: 'off' }] })).toBe(0);
  });
  it('a number alone takes the volume of the sample that sounds, not of the one it names', () => {
    const samples = [reed, { ...reed, name: 'other', volume: 20 }];
    const { strikes } = perform(
      moduleOf('xm', [{ 0: [{ ...note, volume: 0x20 }], 2: [{ sample: 2 }] }], { samples }),
    );
    expect(strikes.length).toBe(1);
    expect(strikes[0]!.levels.map((l) => Math.round(l.value * 64))).toEqual([16, 64]);
  });
});

describe('MOD and XM', () => {
  it('a slide to a note strikes nothing, where nothing sounds either; in S3M and IT it does', () => {
    const short = { frames: sine(400, 16), loop: undefined };
    const keys = (as: As, letter: string) =>
      of(as, { 0: [note], 8: [fx(letter, 4, { note: 67, sample: 1 })] }, short).map((s) => s.key);
    expect(keys('mod', '3')).toEqual([60]);
    expect(keys('xm', '3')).toEqual([60]);
    expect(keys('s3m', 'G')).toEqual([60, 67]);
    expect(keys('it', 'G')).toEqual([60, 67]);
  });
  it('the beginning of a loop stays when the pattern changes', () => {
    for (const as of ['mod', 'xm'] as const) {
      const rows = rowsOf(as, [{ 60: [fx('E', 0x60)] }, { 62: [fx('E', 0x61)] }]);
      expect(rows.slice(64, 64 + 66).slice(60), as).toEqual([
        '1:60',
        '1:61',
        '1:62',
        '1:60',
        '1:61',
        '1:62',
      ]);
    }
    expect(rowsOf('it', [{ 60: [fx('S', 0xb0)] }, { 62: [fx('S', 0xb1)] }])[64 + 63]).toBe('1:0');
  });
});

describe('IT', () => {
  it('the vibrato of the volume column is as deep as that of H', () => {
    const deep = (cells: Cells) =>
      Math.max(...of('it', cells)[0]!.bends.map((b) => Math.abs(b.value)));
    const column = { 0: [note], 1: [fx('H', 0x40)], 2: [{ volume: 203 + 8 }] };
    const effect = { 0: [note], 1: [fx('H', 0x40)], 2: [fx('H', 0x08)] };
    expect(deep(column)).toBeCloseTo(deep(effect), 1);
  });
});

describe('MOD', () => {
  it('a loop that is told in bytes is taken where it lies in its sample', () => {
    const bytes = moduleWriters.mod({ ...EEL_TRAPS, samples: [{ ...reed, loop: [1600, 3200] }] });
    expect(openedModule(bytes).module.samples[1]!.loop).toMatchObject({ from: 1600, to: 3200 });
    // The first sample's head stands at 20, where its loop begins at 26 of it.
    bytes[20 + 26] = 1600 >> 8;
    bytes[20 + 27] = 1600 & 255;
    expect(openedModule(bytes).module.samples[1]!.loop).toMatchObject({ from: 1600, to: 3200 });
  });
  it('eight channels behind the signature of four are told by the length of the file', () => {
    const patterns = [patternOf({ 1: [null, null, null, null, null, note] })];
    const eight = { ...EEL_TRAPS, channels: 8, orders: [0], patterns };
    const bytes = writeMod(eight, 'M.K.');
    // Such files say 0 where others say 127.
    bytes[951] = 0;
    const { module } = openedModule(bytes);
    expect(module.channels).toBe(8);
    expect(perform(module).strikes.map((s) => [s.channel, s.row])).toEqual([[5, 1]]);
    const four = openedModule(moduleWriters.mod(EEL_TRAPS)).module;
    expect(four.channels).toBe(4);
  });
});
