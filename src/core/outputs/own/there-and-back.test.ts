import fc from 'fast-check';
import { expect, it } from 'vitest';
import { conductor, renditionOf, song, targetWith, Track } from '../../../../testing/score-builder';
import { doubtsOf } from '../../formats/own/doubts';
import { interpret } from '../../formats/own/interpret';
import { readFormat } from '../../formats/own/read';
import { FormatSchema, type Container, type Value } from '../../formats/own/schema';
import { heardNotes } from '../../reading/heard-notes';
import { mapsOf } from '../../score/inventory';
import { writeFormat } from './write';

const target = targetWith({
  seats: [
    { kind: 'laneGroup', id: 'ebb', name: 'Ebb', channel: 1, laneNotes: [60, 62, 64, 65, 67] },
  ],
});
const tunes = fc
  .array(
    fc.tuple(
      fc.integer({ min: 0, max: 20_000 }),
      fc.integer({ min: 1, max: 2000 }),
      fc.constantFrom(60, 62, 64, 65, 67),
      fc.integer({ min: 1, max: 127 }),
    ),
    { minLength: 1, maxLength: 25 },
  )
  .map((list) => {
    const track = new Track('Ebb');
    const free = new Map<number, number>();
    for (const [start, length, key, velocity] of [...list].sort((a, b) => a[0] - b[0])) {
      // What sounds ends before its key is struck again.
      if ((free.get(key) ?? 0) > start) continue;
      free.set(key, start + length);
      track.note(1, start, length, key, velocity);
    }
    return song([conductor(113, 3, 4).tempo(7000, 61), track], {
      endTick: 25_000,
      name: 'tune.mid',
    });
  });

const start = (more: object): Value => ({ is: 'time', of: 'start', unit: 'ms', ...more });
/** A time that the clock knows without the tempos of the score, and how fine it is. */
const TIMES: readonly (readonly [Value, number])[] = [
  [start({}), 1000],
  [start({ decimals: 3 }), 1],
  [start({ unit: 'seconds', decimals: 3 }), 1000],
  [start({ unit: 'seconds', decimals: 4, trim: true }), 100],
  [start({ unit: 'us' }), 1],
  [start({ unit: 'frames', rate: 30 }), 33_334],
  [start({ from: 'last' }), 1000],
  [start({ unit: 'seconds', exact: true }), 1],
  [start({ exact: true, from: 'last' }), 1],
  [start({ round: 'down', digits: 7 }), 1000],
  [start({ add: 250 }), 1000],
  [
    {
      is: 'joined',
      parts: [
        start({ unit: 'minutes' }),
        ':',
        start({ unit: 'seconds', from: 'minute', decimals: 3, digits: 2 }),
      ],
    },
    1000,
  ],
  [
    {
      is: 'joined',
      parts: [
        start({ unit: 'minutes' }),
        "'",
        start({ unit: 'seconds', from: 'minute', round: 'down' }),
        '"',
        start({ from: 'second', digits: 3 }),
      ],
    },
    1000,
  ],
  [
    {
      is: 'joined',
      parts: [
        start({ unit: 'hours', digits: 2 }),
        ':',
        start({ unit: 'minutes', from: 'hour', digits: 2 }),
        ':',
        start({ unit: 'seconds', from: 'minute', round: 'down', digits: 2 }),
        ':',
        start({ unit: 'frames', rate: 25, from: 'second', digits: 2 }),
      ],
    },
    20_000,
  ],
  [start({ unit: 'us', hex: 'small' }), 1],
  [start({ hex: 'capital', digits: 8 }), 1000],
];
const KEYS: readonly Value[] = [
  { is: 'key', as: 'number' },
  { is: 'key', as: 'name' },
  { is: 'key', as: 'name', sharps: 'b', middleC: 3 },
  { is: 'key', as: 'lane', first: 1 },
  { is: 'key', as: 'lane', first: 0 },
  { is: 'key', as: 'index', keys: [60, 62, 64, 65, 67] },
  { is: 'key', as: 'number', from: 48 },
  { is: 'key', as: 'number', hex: 'capital', digits: 2 },
  { is: 'key', as: 'index', keys: [67, 65, 64, 62, 60], hex: 'small' },
  { is: 'key', as: 'word', words: { 60: 'reed', 62: 'mud', 64: 'rope', 65: 'tar', 67: 'gull' } },
];
const containers = (time: Value, key: Value): Container[] => {
  const columns = [
    { name: 'time', value: time },
    { name: 'key', value: key },
    { name: 'force', value: { is: 'velocity' as const } },
  ];
  const rows = { of: 'notes' as const };
  const parts = columns.flatMap((c, i) => [...(i > 0 ? [' | '] : []), { value: c.value }]);
  const attributes = columns.map(({ name, value }) => ({ name, value }));
  return [
    { kind: 'table', rows, columns },
    {
      kind: 'table',
      rows,
      columns,
      delimiter: ';',
      decimal: ',',
      heading: false,
      quotes: 'always',
    },
    {
      kind: 'lines',
      lines: [{ parts: ['top'] }, { each: rows, lines: [{ parts }] }, { parts: ['end'] }],
    },
    {
      kind: 'json',
      root: {
        each: rows,
        node: { object: columns.map((c) => ({ key: c.name, node: { value: c.value } })) },
      },
    },
    { kind: 'xml', root: { name: 'all', children: [{ each: rows, name: 'n', attributes }] } },
  ];
};

it('there and back: every note at its key and its clock, in every container', () => {
  fc.assert(
    fc.property(
      tunes,
      fc.constantFrom(...TIMES),
      fc.constantFrom(...KEYS),
      fc.nat(4),
      fc.constantFrom('lf' as const, 'crlf' as const, 'cr' as const),
      (source, [time, fine], key, which, lineEnd) => {
        const container = containers(time, key)[which]!;
        const format = FormatSchema.parse({
          formatVersion: 1,
          id: 'own',
          name: 'Own',
          files: [{ path: 'a', container, lineEnd }],
        });
        expect(doubtsOf(format)).toEqual([]);
        const { pieces } = renditionOf(source, target);
        const [file] = writeFormat(format, pieces, target).files;
        const read = readFormat(format.files[0]!, file!.bytes);
        expect(read.problem).toBeUndefined();
        const told = interpret(read.file!, target).notes;
        const notes = heardNotes(pieces[0]!);
        const { clock } = mapsOf(pieces[0]!.score);
        expect(told.map((n) => [n.key, n.velocity])).toEqual(
          Array.from({ length: notes.count }, (_, i) => [notes.key[i], notes.velocity[i]]),
        );
        told.forEach((n, i) =>
          expect(Math.abs(n.startUs - clock.msAt(notes.start[i]!) * 1000)).toBeLessThanOrEqual(
            fine + 1,
          ),
        );
      },
    ),
    { numRuns: 500 },
  );
});

it('a list in one place: every note of a chord, in a cell, an attribute and a text of JSON', () => {
  const list: Value = {
    is: 'list',
    each: { of: 'notes', order: ['key'] },
    between: ' + ',
    parts: [{ is: 'key', as: 'name' }, '!', { is: 'velocity' }],
  };
  const rows = { of: 'strikes' as const };
  const time = start({ unit: 'us' });
  const all: readonly Container[] = [
    {
      kind: 'table',
      rows,
      columns: [
        { name: 'at', value: time },
        { name: 'what', value: list },
      ],
    },
    {
      kind: 'xml',
      root: {
        name: 'all',
        children: [
          {
            each: rows,
            name: 'c',
            attributes: [
              { name: 'at', value: time },
              { name: 'what', value: list },
            ],
          },
        ],
      },
    },
    {
      kind: 'json',
      indent: 2,
      root: {
        each: rows,
        node: {
          object: [
            { key: 'at', node: { value: time } },
            { key: 'what', node: { value: list } },
          ],
          line: 'spaced',
        },
      },
    },
  ];
  fc.assert(
    fc.property(tunes, fc.constantFrom(...all), (source, container) => {
      const format = FormatSchema.parse({
        formatVersion: 1,
        id: 'own',
        name: 'Own',
        files: [{ path: 'a', container }],
      });
      expect(doubtsOf(format)).toEqual([]);
      const { pieces } = renditionOf(source, target);
      const [file] = writeFormat(format, pieces, target).files;
      const read = readFormat(format.files[0]!, file!.bytes);
      expect(read.problem).toBeUndefined();
      const notes = heardNotes(pieces[0]!);
      const { clock } = mapsOf(pieces[0]!.score);
      const wanted = Array.from({ length: notes.count }, (_, i) => [
        Math.floor(clock.msAt(notes.start[i]!) * 1000 + 0.5 + 1e-6),
        notes.key[i],
        notes.velocity[i],
      ]);
      const told = interpret(read.file!, target).notes;
      const order = (a: (number | null | undefined)[][]) => a.map((n) => n.join()).sort();
      expect(order(told.map((n) => [Math.round(n.startUs), n.key, n.velocity]))).toEqual(
        order(wanted),
      );
      const text = new TextDecoder().decode(file!.bytes);
      if (container.kind === 'json')
        expect(text.split('\n').filter((l) => l.includes('"at"'))).toHaveLength(
          new Set(notes.start.slice(0, notes.count)).size,
        );
    }),
    { numRuns: 200 },
  );
});

it('a velocity beyond the hardest is refused where it stands, and not bent to fit', () => {
  const container = containers(TIMES[0]![0], KEYS[0]!)[0]!;
  const format = FormatSchema.parse({
    formatVersion: 1,
    id: 'own',
    name: 'Own',
    files: [{ path: 'a', container }],
  });
  const read = (text: string) => readFormat(format.files[0]!, new TextEncoder().encode(text));
  expect(read('time,key,force\n0,60,127\n').problem).toBeUndefined();
  expect(read('time,key,force\n0,60,137\n').problem?.says).toBe(
    'A velocity of 137 stands where 0 to 127 is described.',
  );
});

it('a byte that is changed is refused, or says something else: never the same', () => {
  fc.assert(
    fc.property(
      tunes,
      fc.nat(4),
      fc.nat(),
      fc.integer({ min: 1, max: 255 }),
      (source, which, at, turn) => {
        const container = containers(TIMES[0]![0], KEYS[0]!)[which]!;
        const format = FormatSchema.parse({
          formatVersion: 1,
          id: 'own',
          name: 'Own',
          files: [{ path: 'a', container }],
        });
        const { pieces } = renditionOf(source, target);
        const bytes = writeFormat(format, pieces, target).files[0]!.bytes;
        const odd = bytes.slice();
        odd[at % odd.length]! ^= turn;
        const read = readFormat(format.files[0]!, odd);
        if (read.problem) return;
        const said = (file: Uint8Array) =>
          interpret(readFormat(format.files[0]!, file).file!, target).notes.map((n) => [
            n.startUs,
            n.key,
            n.velocity,
          ]);
        // Space between elements and around a declaration says nothing in XML and JSON.
        if (which >= 3 && JSON.stringify(said(odd)) === JSON.stringify(said(bytes))) return;
        expect(said(odd)).not.toEqual(said(bytes));
      },
    ),
    { numRuns: 400 },
  );
});
