import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { conductor, renditionOf, song, targetWith, Track } from '../../../../testing/score-builder';
import { doubtsOf } from '../../formats/own/doubts';
import { interpret } from '../../formats/own/interpret';
import { readFormat } from '../../formats/own/read';
import { FormatSchema, type Container } from '../../formats/own/schema';
import { heardNotes } from '../../reading/heard-notes';
import { decodeUtf8 } from '../../smf/text';
import { writeFormat } from './write';

const KEYS = [60, 62, 64, 65];
const target = targetWith({
  seats: [{ kind: 'laneGroup', id: 'ebb', name: 'Ebb', channel: 1, laneNotes: KEYS }],
});
const format = (container: object) =>
  FormatSchema.parse({
    formatVersion: 1,
    id: 'grid',
    name: 'Grid',
    files: [{ path: '{file}.grid', container }],
  });
const written = (container: object, piece: ReturnType<typeof tune>) =>
  writeFormat(format(container), [piece], target).files[0]!.bytes;
const tune = (track: Track, endTick: number, from = conductor(120, 3, 4)) =>
  renditionOf(song([from, track], { endTick, name: 'a.mid' }), target).pieces[0]!;

const struck = { is: 'struck', yes: 'X', no: '.', held: '=', last: '>' } as const;
const value = (v: object) => ({ value: v });
const cells = { of: 'cells', perQuarter: 2, empty: true } as const;
const lanes = { of: 'lanes' } as const;
/** A line for each half beat, a letter for each lane, a rule before each bar. */
const lines = {
  kind: 'lines',
  lines: [
    {
      each: { of: 'bars', empty: true },
      lines: [
        { parts: ['bar ', value({ is: 'row-number', first: 1 })] },
        {
          each: cells,
          lines: [{ parts: [{ each: lanes, between: '', parts: [value(struck)] }] }],
        },
      ],
    },
  ],
};
const json = {
  kind: 'json',
  root: {
    each: { ...cells, perQuarter: 4 },
    node: { each: lanes, node: value({ is: 'velocity' }) },
  },
};
const table = {
  kind: 'table',
  heading: true,
  rows: { of: 'cells', perBar: 6, empty: true },
  columns: KEYS.map((key) => ({ name: `k${key}`, value: { ...struck, key } })),
};
const bytes = {
  kind: 'binary',
  order: 'big',
  fields: [
    { int: 2, value: { is: 'count', of: { of: 'bars', empty: true } } },
    {
      each: { of: 'bars', empty: true },
      fields: [
        {
          each: { of: 'cells', perBar: 6, empty: true },
          fields: [
            {
              bits: [
                { width: 4, value: { is: 'constant', value: 0 } },
                ...KEYS.map((key) => ({
                  width: 1,
                  value: { is: 'struck', yes: '1', no: '0', key },
                })),
              ],
            },
          ],
        },
      ],
    },
  ],
};

describe('a grid', () => {
  const piece = tune(
    new Track('Ebb')
      .note(1, 0, 240, 60, 100)
      .note(1, 480, 720, 62, 64)
      .note(1, 1440, 240, 65, 20)
      .note(1, 1690, 240, 60, 127),
    2880,
  );
  it('is written cell by cell, held notes too, each at its nearest cell', () => {
    expect(decodeUtf8(written(lines, piece))).toBe(
      [
        ...['bar 1', 'X...', '....', '.X..', '.=..', '.>..', '....'],
        ...['bar 2', '...X', 'X...', '....', '....', '....', '....', ''],
      ].join('\n'),
    );
    expect(decodeUtf8(written(table, piece))!.split('\n').slice(0, 4)).toEqual([
      'k60,k62,k64,k65',
      'X,.,.,.',
      '.,.,.,.',
      '.,X,.,.',
    ]);
    expect([...written(bytes, piece)].slice(0, 9)).toEqual([0, 2, 8, 0, 4, 0, 0, 0, 1]);
    const rows = JSON.parse(decodeUtf8(written(json, piece))!) as number[][];
    expect(rows).toHaveLength(24);
    expect([rows[0], rows[4], rows[12], rows[14]]).toEqual([
      [100, 0, 0, 0],
      [0, 64, 0, 0],
      [0, 0, 0, 20],
      [127, 0, 0, 0],
    ]);
  });

  it.each([
    ['lines', lines],
    ['json', json],
    ['table', table],
    ['bytes', bytes],
  ])('leaves no doubt as %s', (_, container) => expect(doubtsOf(format(container))).toEqual([]));

  it.each<[string, object, RegExp]>([
    ['of no length', { ...table, rows: { of: 'cells', empty: true } }, /of what length/],
    ['that is not told', { ...table, rows: { of: 'cells', perBar: 6 } }, /where a cell stands/],
    [
      'of one word',
      { ...table, columns: [{ name: 'a', value: { ...struck, yes: '.' } }] },
      /by the same word/,
    ],
    ['that is none', { ...table, rows: { of: 'notes' } }, /cells of a grid/],
  ])('%s is told', (_, container, says) => {
    expect(doubtsOf(format(container)).map((p) => p.says)).toContainEqual(
      expect.stringMatching(says),
    );
  });

  it('a bar that lacks a cell, a lane that is too many: refused', () => {
    const text = decodeUtf8(written(json, piece))!;
    const wider = {
      ...json,
      root: {
        ...json.root,
        node: { each: { ...lanes, keys: KEYS }, node: value({ is: 'velocity' }) },
      },
    };
    const read = (c: object, t: string) =>
      readFormat(format(c).files[0]!, new TextEncoder().encode(t));
    expect(read(wider, text).problem).toBeUndefined();
    expect(read(wider, text.replace('[100,0,0,0]', '[100,0,0]')).problem?.says).toMatch(
      /3 lanes stand together where 4/,
    );
  });

  /** Notes on the grid of eighths in 3/4, 5/8 and 4/4: nothing has to be moved. */
  const tunes = fc
    .array(
      fc.tuple(
        fc.integer({ min: 0, max: 60 }),
        fc.integer({ min: 1, max: 9 }),
        fc.constantFrom(...KEYS),
        fc.integer({ min: 1, max: 127 }),
      ),
      { minLength: 1, maxLength: 25 },
    )
    .map((list) => {
      const free = new Map<number, number>();
      const track = new Track('Ebb');
      for (const [cell, length, key, velocity] of [...list].sort((a, b) => a[0] - b[0])) {
        if ((free.get(key) ?? 0) > cell) continue;
        free.set(key, cell + length);
        track.note(1, cell * 240, length * 240, key, velocity);
      }
      return tune(track, 72 * 240, conductor(111, 3, 4).meter(2880, 5, 8).meter(5280, 4, 4));
    });
  const meters = {
    each: { of: 'meters' },
    lines: [
      {
        parts: [
          'meter ',
          value({ is: 'time', of: 'start', unit: 'ticks', ppq: 480 }),
          ' ',
          value({ is: 'numerator' }),
          '/',
          value({ is: 'denominator' }),
        ],
      },
    ],
  };
  it('read back every note stands at its beat, for as long as it is held', () => {
    const container = { ...lines, lines: [meters, ...lines.lines] };
    const own = format(container as Container);
    fc.assert(
      fc.property(tunes, (one) => {
        const read = readFormat(own.files[0]!, written(container, one));
        expect(read.problem).toBeUndefined();
        const told = interpret(read.file!, target).notes;
        const notes = heardNotes(one);
        const meant = Array.from({ length: notes.count }, (_, i) => [
          notes.start[i]! / 480,
          notes.end[i]! / 480,
          notes.key[i]!,
          'ebb',
        ]);
        const by = (a: (string | number)[], b: (string | number)[]) =>
          Number(a[0]) - Number(b[0]) || Number(a[2]) - Number(b[2]);
        expect(
          told.map((n) => [n.startQuarters!, n.endQuarters!, n.key!, n.seat!]).sort(by),
        ).toEqual(meant.sort(by));
      }),
      { numRuns: 60 },
    );
  });
});

describe('lanes', () => {
  it('a list of times for each key, read back with the key that it stands for', () => {
    const piece = tune(
      new Track('Ebb').note(1, 0, 240, 60, 100).note(1, 480, 240, 65, 64).note(1, 960, 9, 60, 1),
      1440,
    );
    const container = {
      kind: 'json',
      root: {
        each: lanes,
        node: {
          each: { of: 'notes' },
          node: value({ is: 'time', of: 'start', unit: 'quarters', decimals: 2 }),
        },
      },
    };
    expect(decodeUtf8(written(container, piece))).toBe('[[0,2],[],[],[1]]\n');
    const read = readFormat(format(container).files[0]!, written(container, piece));
    expect(interpret(read.file!, target).notes.map((n) => [n.startQuarters, n.key])).toEqual([
      [0, 60],
      [2, 60],
      [1, 65],
    ]);
  });
  it('a marker lasts until the next: sections with their ends', () => {
    const piece = tune(
      new Track('Ebb').note(1, 0, 240, 60, 100),
      1440,
      conductor(120, 3, 4).marker(0, 'Low').marker(960, 'High'),
    );
    const container = {
      kind: 'json',
      root: {
        each: { of: 'markers' },
        node: {
          list: [
            value({ is: 'text' }),
            value({ is: 'time', of: 'start', unit: 'ms' }),
            value({ is: 'time', of: 'end', unit: 'ms' }),
          ],
        },
      },
    };
    expect(decodeUtf8(written(container, piece))).toBe('[["Low",0,1000],["High",1000,1500]]\n');
  });
});
