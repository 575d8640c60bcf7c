import { describe, expect, it } from 'vitest';
import { crc32 } from 'node:zlib';
import { builtIn } from '../../../../testing/score-builder';
import {
  csvFile,
  hear,
  midiFile,
  noteAt,
  oneTrack,
  textFile,
} from '../../../../testing/device-files';
import { pitch } from '../played';

const organ = builtIn('strip-organ');

interface Hole {
  readonly row: number;
  readonly rank: 'front' | 'rear';
  readonly key: number;
}
const h = (row: number, key: number, rank: Hole['rank'] = 'front'): Hole => ({ row, rank, key });

/** All three files of a strip of 8 rows a second: a row is 125 ms, 120 ticks at 120 BPM. */
function strip(
  holes: readonly Hole[],
  over: {
    midi?: readonly ReturnType<typeof noteAt>[];
    sheet?: readonly Hole[];
    list?: readonly (readonly unknown[])[];
    velocity?: number;
    sum?: (sheet: string) => string;
  } = {},
) {
  const rows = [...new Set(holes.map((x) => x.row))].sort((a, b) => a - b);
  const pipes = (row: number, rank: Hole['rank']) =>
    holes
      .filter((x) => x.row === row && x.rank === rank)
      .map((x) => `${pitch(x.key)} ${x.key}`)
      .join(' | ');
  const list = over.list ?? [
    ['row', 'seconds', 'front', 'rear'],
    ...rows.map((r) => [r, (r / 8).toFixed(6), pipes(r, 'front'), pipes(r, 'rear')]),
  ];
  const notes =
    over.midi ??
    holes.map((x) =>
      noteAt(x.rank === 'front' ? 1 : 2, x.row * 120, 60, x.key, over.velocity ?? 64),
    );
  const drawn = (over.sheet ?? holes)
    .map((x) => `<rect data-row="${x.row}" data-rank="${x.rank}" data-key="${x.key}"/>\n`)
    .join('');
  const body = `<svg>\n${drawn}</svg>\n`;
  const sum = (over.sum ?? ((s) => crc32(Buffer.from(s)).toString(16).padStart(8, '0')))(body);
  return [
    { path: 'strip.mid', bytes: midiFile({ tracks: oneTrack(...notes) }) },
    csvFile('strip-holes.csv', list),
    textFile('strip-strip.svg', `${body}<!-- crc32 ${sum} -->\n`),
  ];
}
const play = (holes: readonly Hole[], over: Parameters<typeof strip>[1] = {}) =>
  hear(organ, strip(holes, over));

describe('the strip organ', () => {
  it('sounds a hole when its row passes the bar', () => {
    const { played, says, lost } = play([h(0, 48), h(4, 60), h(4, 64), h(5, 86, 'rear')]);
    expect([says, lost]).toEqual([[], []]);
    expect(played.rate).toBe(8);
    expect(played.events.map((e) => [e.atUs, e.kind, e.seat, e.key])).toEqual([
      [0, 'hole', 'front', 48],
      [500_000, 'hole', 'front', 60],
      [500_000, 'hole', 'front', 64],
      [625_000, 'hole', 'rear', 86],
    ]);
    expect(played.lengthUs).toBe(750_000);
  });

  it('a hole behind one that sounds runs on from it; behind one that ran on it sounds', () => {
    const { notes, lost } = play([h(0, 48), h(1, 48), h(2, 48), h(4, 48)]);
    expect(notes).toEqual(['0 front 48', '250 front 48', '500 front 48']);
    expect(lost).toEqual(['125 front 48: its hole runs on from the one before']);
    // The other rank has pipes of its own.
    expect(play([h(0, 48), h(1, 48, 'rear')]).lost).toEqual([]);
  });

  it('tears where more than five holes stand in a row', () => {
    const six = [48, 50, 52, 53, 55].map((k) => h(3, k));
    expect(play([...six, h(3, 57, 'rear')]).lost).toEqual([
      '375 rear 57: the strip tears where more than 5 stand in a row',
    ]);
  });

  it('ends at row 6,000', () => {
    const { lost, notes } = play([h(5999, 48), h(6000, 50)]);
    expect(notes).toHaveLength(1);
    expect(lost).toEqual(['750000 front 50: the strip ends at row 6000']);
  });

  it('runs at the rates that it has', () => {
    const list = (seconds: string) => [
      ['row', 'seconds', 'front', 'rear'],
      [3, seconds, 'C3 48', ''],
    ];
    const of = (seconds: string, tick: number) =>
      play([h(3, 48)], { list: list(seconds), midi: [noteAt(1, tick, 60, 48, 64)] });
    expect(of('0.750000', 720).played.rate).toBe(4);
    expect(of('0.500000', 480).played.rate).toBe(6);
    expect(of('0.250000', 240).played.rate).toBe(12);
    expect(of('0.300000', 288).says.join()).toContain('Its rows are not of 4, 6, 8, 12 a second.');
  });

  it('its MIDI file has the same holes: one more, one less, and one that lies off its row', () => {
    const extra = [noteAt(1, 0, 60, 48, 64), noteAt(1, 480, 60, 50, 64)];
    expect(play([h(0, 48)], { midi: extra }).says).toEqual([
      'strip.mid tick 480: The list has no hole for it.',
    ]);
    expect(play([h(0, 48), h(4, 50)], { midi: extra.slice(0, 1) }).says).toEqual([
      'strip.mid notes: No note is there for row 4 front 50.',
    ]);
    const off = play([h(4, 48)], { midi: [noteAt(1, 490, 60, 48, 64)] });
    expect(off.says).toEqual([]);
    expect(off.lost).toEqual(['510 front 48: it is punched in the nearest row']);
    const both = play([h(4, 48)], {
      midi: [noteAt(1, 470, 5, 48, 64), noteAt(1, 490, 60, 48, 64)],
    });
    expect(both.lost).toContain('510 front 48: one hole is there for both');
  });

  it('has no pipe for some keys, no rank for some channels, and one strength', () => {
    const midi = [noteAt(1, 0, 60, 48, 64), noteAt(1, 480, 60, 49, 64), noteAt(3, 960, 60, 50, 64)];
    expect(play([h(0, 48)], { midi }).lost).toEqual([
      '500 front 49: there is no such pipe',
      '1000  50: there is no rank for it',
    ]);
    expect(play([h(0, 48)], { velocity: 65 }).says).toEqual([
      'strip.mid tick 0: Its velocity is not 64.',
    ]);
  });

  it('the sheet is whole and has the holes of the list', () => {
    expect(play([h(0, 48)], { sheet: [h(1, 48)] }).says).toEqual([
      'strip-strip.svg holes: It has other holes than the list.',
    ]);
    expect(play([h(0, 48)], { sum: () => '00000000' }).says).toEqual([
      'strip-strip.svg last line: Its sum is another: something was changed.',
    ]);
    expect(play([h(0, 48)], { sum: () => 'none' }).says).toEqual([
      'strip-strip.svg last line: It has no sum.',
    ]);
  });

  it.each([
    ['rows that go back', [5, '0.625000', 'C3 48', ''], 'Rows stand in order, each once.'],
    ['a row without a hole', [9, '1.125000', '', ''], 'A row without a hole.'],
    ['a name of another number', [9, '1.125000', 'C3 50', ''], '“C3 50” is no pipe.'],
    ['a number alone', [9, '1.125000', '48', ''], '“48” is no pipe.'],
    [
      'pipes out of order',
      [9, '1.125000', 'D3 50 | C3 48', ''],
      'Pipes stand in order, each once.',
    ],
    ['a pipe twice', [9, '1.125000', 'C3 48 | C3 48', ''], 'Pipes stand in order, each once.'],
    ['seconds without decimals', [9, '1.125', 'C3 48', ''], 'seconds with six decimals are needed'],
    ['a row of a fraction', ['9.0', '1.125000', 'C3 48', ''], 'a whole number is needed'],
  ])('a list with %s is refused at its line', (_, row, says) => {
    const list = [['row', 'seconds', 'front', 'rear'], [5, '0.625000', 'C3 48', ''], row];
    const told = play([h(5, 48)], { list }).says;
    expect(told.join('\n')).toContain(says);
    expect(told.find((t) => t.includes(says))).toContain('line 3');
  });

  it('says which of the three files is missing', () => {
    const [midi, list, sheet] = strip([h(0, 48)]);
    expect(hear(organ, [list!]).says).toEqual([
      'strip.mid folder: The MIDI file is missing.',
      'strip-strip.svg folder: The strip sheet is missing.',
    ]);
    expect(hear(organ, [midi!, sheet!]).says).toEqual([' folder: There is no hole list.']);
  });
});
