import { describe, expect, it } from 'vitest';
import { grows } from '../../../../testing/grows';
import {
  builtIn,
  conductor,
  renditionOf,
  song,
  targetWith,
  Track,
} from '../../../../testing/score-builder';
import { decodeUtf8 } from '../../smf/text';
import { checksumOf } from '../../formats/own/checksums';
import { readFormat } from '../../formats/own/read';
import type { ReadRow } from '../../formats/own/row';
import { FormatSchema, type Container, type Format, type OwnFile } from '../../formats/own/schema';
import { writeFormat } from './write';

const target = targetWith({
  seats: [
    { kind: 'laneGroup', id: 'ebb', name: 'Ebb', channel: 1, laneNotes: [60, 62, 64], rung: 1 },
    { kind: 'laneGroup', id: 'flood', name: 'Flood', channel: 2, laneNotes: [67, 69], rung: 2 },
  ],
});
const ebb = new Track('Ebb')
  .note(1, 0, 240, 60, 100)
  .note(1, 480, 480, 62, 64)
  .note(1, 480, 240, 64, 64)
  .note(1, 1203, 77, 60, 1);
const flood = new Track('Flood').note(2, 960, 960, 69, 127).control(0, 2, 7, 90);
const source = song(
  [conductor(97, 3, 4).tempo(960, 140).marker(0, 'Low water').marker(1440, 'Turn'), ebb, flood],
  { endTick: 2880, name: 'ferry.mid' },
);
const pieces = renditionOf(source, target).pieces;
export const own = (container: Container, rest: Partial<OwnFile> = {}): Format =>
  FormatSchema.parse({
    formatVersion: 1,
    id: 'own',
    name: 'Own',
    files: [{ path: '{file}.own', container, ...rest }],
  });
const write = (format: Format) => writeFormat(format, pieces, target).files[0]!;
const text = (format: Format) => decodeUtf8(write(format).bytes)!;
const back = (format: Format): ReadRow => {
  const read = readFormat(format.files[0]!, write(format).bytes);
  expect(read.problem).toBeUndefined();
  return read.file!;
};
const said = (row: ReadRow) => row.values.map((v) => v.said);

const start = (unit: 'ms' | 'seconds' | 'ticks' | 'quarters', more: object = {}) =>
  ({ is: 'time', of: 'start', unit, ...more }) as const;
const number = { is: 'key', as: 'number' } as const;
const notes = { of: 'notes' } as const;

describe('a table', () => {
  const table = own(
    {
      kind: 'table',
      delimiter: ';',
      decimal: ',',
      rows: notes,
      columns: [
        { name: 'when', value: start('seconds', { decimals: 3 }) },
        { name: 'gap', value: start('ms', { from: 'last' }) },
        { name: 'lane', value: { is: 'key', as: 'lane', first: 1 } },
        { name: 'side', value: { is: 'seat', as: 'name' } },
        { name: 'force', value: { is: 'velocity', least: 0, most: 1, decimals: 2, trim: true } },
      ],
    },
    { lineEnd: 'crlf' },
  );
  it('is written with its delimiter, its decimal sign, and gaps that do not drift', () => {
    const lines = text(table).split('\r\n');
    expect(lines.slice(0, 4)).toEqual([
      'when;gap;lane;side;force',
      '0,000;0;1;Ebb;0,79',
      '0,619;619;2;Ebb;0,5',
      '0,619;0;3;Ebb;0,5',
    ]);
    expect(lines.at(-1)).toBe('');
    const ms = lines.slice(1, -1).map((l) => Number(l.split(';')[1]));
    const all = lines.slice(1, -1).map((l) => Number(l.split(';')[0]!.replace(',', '.')));
    expect(ms.reduce((a, b) => a + b, 0)).toBe(Math.round(all.at(-1)! * 1000));
  });
  it('is read back to the same rows, each value with its place', () => {
    const { rows } = back(table);
    expect(rows).toHaveLength(5);
    expect(said(rows[1]!)).toEqual([0.619, 619, 2, 'Ebb', 0.5]);
    const file = text(table);
    for (const row of rows)
      for (const v of row.values)
        expect(
          Number(file.slice(v.from, v.to).replace(',', '.')) || file.slice(v.from, v.to),
        ).toEqual(v.said === 0 ? expect.anything() : v.said);
  });
  it.each([
    ['a cell more', (t: string) => t.replace(';Ebb;0,79', ';Ebb;0,79;1'), /line 2/],
    ['another heading', (t: string) => t.replace('lane', 'row'), /columns have to be/],
    ['a digit too few', (t: string) => t.replace('0,000', '0,00'), /line 2, when/],
    ['another line end', (t: string) => t.replace('\r\n', '\n'), /not the one described/],
    ['a line cut off', (t: string) => t.slice(0, -2), /no end of its own/],
  ])('refuses %s', (_, change, why) => {
    const bytes = new TextEncoder().encode(change(text(table)));
    const read = readFormat(table.files[0]!, bytes);
    expect(`${read.problem?.at} ${read.problem?.says}`).toMatch(why);
  });
});

describe('lines', () => {
  const sheet = own({
    kind: 'lines',
    lines: [
      { parts: ['SHEET ', { value: { is: 'fact', key: 'title' } }] },
      { parts: ['tempo=', { value: { is: 'fact', key: 'bpm', kind: 'number', decimals: 1 } }] },
      {
        each: { of: 'seats' },
        lines: [
          { parts: ['[', { value: { is: 'seat', as: 'name' } }, ']'] },
          {
            each: { of: 'strikes' },
            lines: [
              {
                parts: [
                  { value: start('quarters', { decimals: 3, trim: true }) },
                  ': ',
                  {
                    each: notes,
                    between: '+',
                    parts: [{ value: { is: 'key', as: 'name', sharps: '#' } }],
                  },
                ],
              },
            ],
          },
        ],
      },
      { parts: ['END'] },
    ],
  });
  it('sections, lines that repeat and lists inside a line', () => {
    expect(text(sheet)).toBe(
      'SHEET ferry\ntempo=97.0\n[Ebb]\n0: C4\n1: D4+E4\n2.506: C4\n[Flood]\n2: A4\nEND\n',
    );
    const root = back(sheet);
    expect(said(root)).toEqual(['ferry', 97]);
    expect(root.rows.map((r) => r.rows.length)).toEqual([3, 1]);
    expect(root.rows[0]!.rows[1]!.rows.map(said)).toEqual([['D4'], ['E4']]);
  });
  it('a line that fits nowhere is given up at once, however many texts may stand in it', () => {
    const parts = Array.from({ length: 20 }, () => [
      { value: { is: 'text' as const } },
      'a',
    ]).flat();
    const many = own({ kind: 'lines', lines: [{ parts }] });
    const line = (letters: number) => new TextEncoder().encode(`${'a'.repeat(letters)}b\n`);
    const read = readFormat(many.files[0]!, line(5000));
    expect(read.problem?.at).toBe('line 1');
    grows((letters) => () => readFormat(many.files[0]!, line(letters)), 625);
  });
  it('refuses what stands behind the end, and a line that is not described', () => {
    const file = sheet.files[0]!;
    for (const odd of [`${text(sheet)}more\n`, text(sheet).replace('1: D4', '1; D4')])
      expect(readFormat(file, new TextEncoder().encode(odd)).problem?.at).toMatch(/^line \d/);
  });
});

describe('JSON and XML', () => {
  const json = own({
    kind: 'json',
    root: {
      object: [
        { key: 'song', node: { value: { is: 'fact', key: 'title' } } },
        { key: 'count', node: { value: { is: 'count', of: notes } } },
        {
          key: 'sides',
          node: {
            each: { of: 'seats' },
            key: { is: 'seat', as: 'name' },
            node: {
              each: notes,
              node: {
                list: [
                  { value: start('ms', { round: 'down' }) },
                  { value: number },
                  { value: { is: 'constant', value: null } },
                ],
              },
            },
          },
        },
      ],
    },
  });
  it('a tree whose nodes say what they are repeated for', () => {
    expect(text(json)).toBe(
      '{"song":"ferry","count":5,"sides":{"Ebb":[[0,60,null],[618,62,null],[618,64,null],' +
        '[1454,60,null]],"Flood":[[1237,69,null]]}}\n',
    );
    expect(back(json).rows[0]!.rows.map(said)[1]).toEqual([618, 62, null]);
  });
  it('a key that is not described, missing or given twice is refused with its line', () => {
    const read = (change: (t: string) => string) =>
      readFormat(json.files[0]!, new TextEncoder().encode(change(text(json)))).problem;
    expect(read((t) => t.replace('"count":5', '"count":5,"more":1'))?.says).toContain('“more”');
    expect(read((t) => t.replace('"count":5,', ''))?.says).toContain('“count” is missing');
    expect(read((t) => t.replace('"count":5', '"count":5,"count":5'))?.says).toContain('twice');
    expect(read((t) => t.slice(1))?.says).toContain('not JSON');
  });
  const xml = own({
    kind: 'xml',
    root: {
      name: 'show',
      attributes: [{ name: 'title', value: { is: 'fact', key: 'title' } }],
      children: [
        {
          each: { of: 'markers' },
          name: 'mark',
          attributes: [{ name: 'at', value: start('ticks', { ppq: 480 }) }],
          text: { is: 'text' },
        },
        {
          each: { of: 'seats' },
          name: 'side',
          children: [
            {
              each: notes,
              name: 'n',
              attributes: [
                { name: 't', value: start('ticks', { ppq: 96, round: 'nearest' }) },
                { name: 'k', value: number },
              ],
            },
          ],
        },
      ],
    },
  });
  it('elements with attributes, in their order', () => {
    expect(text(xml).split('\n').slice(1, 6)).toEqual([
      '<show title="ferry">',
      '  <mark at="0">Low water</mark>',
      '  <mark at="1440">Turn</mark>',
      '  <side>',
      '    <n t="0" k="60"/>',
    ]);
    const root = back(xml);
    expect(root.rows.map((r) => r.of!.of)).toEqual(['markers', 'markers', 'seats', 'seats']);
    expect(said(root.rows[2]!.rows[3]!)).toEqual([241, 60]);
    const odd = text(xml).replace(' k="60"', ' k="60" v="1"');
    const read = readFormat(xml.files[0]!, new TextEncoder().encode(odd));
    expect(read.problem?.says).toContain('attributes');
  });
});

describe('bytes', () => {
  const binary = own({
    kind: 'binary',
    order: 'little',
    fields: [
      { bytes: '4d 52 53 48' },
      { int: 2, value: { is: 'count', of: notes } },
      { int: 4, order: 'big', value: { is: 'size', block: 'body' } },
      { int: 2, value: { is: 'fact', key: 'bpm', kind: 'number', decimals: 2 } },
      { string: 'padded', size: 8, value: { is: 'fact', key: 'title' } },
      {
        block: 'body',
        fields: [
          {
            each: notes,
            fields: [
              { vlq: true, value: start('ticks', { from: 'last', ppq: 480 }) },
              { int: 1, value: number },
              {
                bits: [
                  { width: 3, value: { is: 'seat', as: 'number' } },
                  { width: 5, value: { is: 'velocity', most: 31 } },
                ],
              },
            ],
          },
        ],
      },
      { align: 4 },
      { int: 4, value: { is: 'checksum', kind: 'crc32', block: 'body' } },
    ],
  });
  it('are written in their order, with counts, sizes and sums', () => {
    const hex = Array.from(write(binary).bytes, (b) => b.toString(16).padStart(2, '0')).join(' ');
    expect(hex).toMatch(
      /^4d 52 53 48 05 00 00 00 00 12 e4 25 66 65 72 72 79 00 00 00 00 3c 18 83 60 3e 10 00 40 10/,
    );
    const root = back(binary);
    expect(said(root)).toEqual([5, 18, 97, 'ferry', expect.any(Number)]);
    expect(root.rows.map(said)[1]).toEqual([480, 62, 0, 16]);
  });
  it('a byte that is turned is found: by its sum, its count or its size', () => {
    const { bytes } = write(binary);
    for (const at of [0, 4, 9, 20, 25, 30, bytes.length - 1]) {
      const odd = bytes.slice();
      odd[at]! ^= 0x10;
      const read = readFormat(binary.files[0]!, odd);
      if (at === 20 && !read.problem) continue;
      expect(read.problem?.at, `byte ${at}`).toMatch(/^byte \d+$/);
    }
    for (let length = 0; length < bytes.length; length++)
      expect(readFormat(binary.files[0]!, bytes.slice(0, length)).problem).toBeDefined();
  });
});

describe('encodings and files', () => {
  const line = (encoding: OwnFile['encoding'], title: string) => {
    const named = renditionOf(source, target).pieces.map((p) => ({
      ...p,
      delivery: { ...p.delivery, metadata: { title } },
    }));
    const format = own(
      { kind: 'lines', lines: [{ parts: ['T ', { value: { is: 'fact', key: 'title' } }] }] },
      { ...(encoding ? { encoding } : {}), lastLineEnd: false },
    );
    const written = writeFormat(format, named, target);
    const read = readFormat(format.files[0]!, written.files[0]!.bytes);
    return { lost: written.lost, said: read.file?.values[0]?.said };
  };
  it.each([
    'utf-8',
    'utf-8-mark',
    'utf-16le',
    'utf-16be',
    'latin-1',
    'ascii',
    'shift-jis',
  ] as const)('%s: there and back', (encoding) => {
    const title = encoding === 'ascii' ? 'Ebb' : encoding === 'shift-jis' ? '潮の灯' : 'Éveil';
    expect(line(encoding, title)).toEqual({ lost: [], said: title });
  });
  it('letters that an encoding has not are told', () => {
    expect(line('latin-1', '潮 Ebb')).toEqual({ lost: ['潮'], said: '? Ebb' });
  });
  it('a file for each seat, its path from words, never out of the folder', () => {
    const format = FormatSchema.parse({
      formatVersion: 1,
      id: 'own',
      name: 'Own',
      files: [
        {
          path: '../{title}/{number:2}-{seat}.txt',
          per: 'seat',
          container: {
            kind: 'table',
            heading: false,
            rows: notes,
            columns: [{ name: 'k', value: number }],
          },
        },
      ],
    });
    const { files } = writeFormat(format, pieces, target);
    expect(files.map((f) => f.path)).toEqual(['ferry/01-Ebb.txt', 'ferry/02-Flood.txt']);
    expect(decodeUtf8(files[1]!.bytes)).toBe('69\n');
  });
});

it('sums are those that everybody counts', () => {
  const digits = new TextEncoder().encode('123456789');
  expect(checksumOf('crc32', digits)).toBe(0xcbf43926);
  expect(checksumOf('crc16', digits)).toBe(0x29b1);
  expect(checksumOf('sum', digits)).toBe(477);
  expect(checksumOf('xor', digits)).toBe(49);
});

it('100,000 notes are written and read back', () => {
  const track = new Track('Ebb');
  for (let i = 0; i < 100_000; i++) track.note(1, i * 30, 20, 60 + (i % 3) * 2, 1 + (i % 127));
  const long = renditionOf(song([conductor(120), track]), target).pieces;
  const table = own({
    kind: 'table',
    rows: notes,
    columns: [
      { name: 'ms', value: start('ms', { decimals: 3 }) },
      { name: 'key', value: number },
      { name: 'force', value: { is: 'velocity' } },
    ],
  });
  const [file] = writeFormat(table, long, target).files;
  expect(readFormat(table.files[0]!, file!.bytes).file!.rows).toHaveLength(100_000);
});

it('a rail is no lane game: a target without seats has its parts alone', () => {
  const rail = builtIn('lantern-rail');
  const format = own({
    kind: 'table',
    rows: { of: 'parts' },
    columns: [
      { name: 'part', value: { is: 'part', as: 'name' } },
      { name: 'notes', value: { is: 'count', of: notes } },
    ],
  });
  const { files } = writeFormat(format, renditionOf(source, rail).pieces, rail);
  expect(decodeUtf8(files[0]!.bytes)).toContain('part,notes\n');
});
