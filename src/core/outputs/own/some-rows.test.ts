import { describe, expect, it } from 'vitest';
import { conductor, renditionOf, song, targetWith, Track } from '../../../../testing/score-builder';
import { doubtsOf } from '../../formats/own/doubts';
import { interpret } from '../../formats/own/interpret';
import { readFormat } from '../../formats/own/read';
import { FormatSchema, type Container, type Value } from '../../formats/own/schema';
import { decodeUtf8, encodeUtf8 } from '../../smf/text';
import { writeFormat } from './write';

const target = targetWith({
  seats: [
    { kind: 'channel', id: 'ebb', name: 'Ebb', channel: 1 },
    { kind: 'channel', id: 'flood', name: 'Flood', channel: 2 },
  ],
});
// 120 BPM: a quarter is half a second.
const { pieces } = renditionOf(
  song(
    [
      conductor(120),
      new Track('Ebb').note(1, 0, 120, 60, 30).note(1, 0, 480, 64, 90).note(1, 480, 960, 62, 100),
      new Track('Flood').note(2, 480, 240, 48, 127),
    ],
    { endTick: 1920, name: 'quay.mid' },
  ),
  target,
);
const formatOf = (container: Container) =>
  FormatSchema.parse({
    formatVersion: 1,
    id: 'some',
    name: 'Some',
    files: [{ path: '{file}.txt', container }],
  });
type Format = ReturnType<typeof formatOf>;
const written = (format: Format) =>
  decodeUtf8(writeFormat(format, pieces, target).files[0]!.bytes)!;
const read = (format: Format, text: string) => readFormat(format.files[0]!, encodeUtf8(text));
const back = (format: Format) => interpret(read(format, written(format)).file!, target).notes;

const start: Value = { is: 'time', of: 'start', unit: 'ms' };
const length: Value = { is: 'time', of: 'length', unit: 'ms' };
const key: Value = { is: 'key', as: 'number' };
const velocity: Value = { is: 'velocity' };
const v = (value: Value) => ({ value });

describe('what stands for some rows alone', () => {
  const holds = formatOf({
    kind: 'json',
    root: {
      each: { of: 'notes' },
      node: {
        object: [
          { key: 't', node: v(start) },
          { key: 'k', node: v(key) },
          { key: 'ms', node: v(length), when: { longerMs: 250 } },
        ],
      },
    },
  });
  it('a key of an object is there for long notes', () => {
    expect(JSON.parse(written(holds))).toEqual([
      { t: 0, k: 60 },
      { t: 0, k: 64, ms: 500 },
      { t: 500, k: 48, ms: 250 },
      { t: 500, k: 62, ms: 1000 },
    ]);
    expect(back(holds).map((n) => n.endUs)).toEqual([null, 500_000, 750_000, 1_500_000]);
  });
  it('every other key has to be there, and in its order', () => {
    expect(read(holds, '[{"t":0,"ms":500}]\n').problem?.says).toBe('“k” is missing.');
    expect(read(holds, '[{"ms":500,"t":0,"k":60}]\n').problem?.says).toContain('another order');
    expect(read(holds, '[{"t":0,"k":60,"length":5}]\n').problem?.says).toContain('not described');
  });

  const hard = formatOf({
    kind: 'xml',
    declaration: ' version="1.0"',
    closing: 'spaced',
    root: {
      name: 'all',
      children: [
        {
          each: { of: 'notes' },
          name: 'n',
          attributes: [
            { name: 't', value: start },
            { name: 'k', value: key },
            { name: 'hard', value: velocity, when: { harder: 96 } },
          ],
        },
      ],
    },
  });
  it('an attribute is there for hard notes; the first line and the ends as they are described', () => {
    expect(written(hard).split('\n')).toEqual([
      '<?xml version="1.0"?>',
      '<all>',
      '  <n t="0" k="60" />',
      '  <n t="0" k="64" />',
      '  <n t="500" k="48" hard="127" />',
      '  <n t="500" k="62" hard="100" />',
      '</all>',
      '',
    ]);
    expect(back(hard).map((n) => n.velocity)).toEqual([null, null, 127, 100]);
  });

  const lines = (second: string) =>
    formatOf({
      kind: 'lines',
      lines: [
        {
          each: { of: 'events' },
          lines: [
            { parts: [v(start), ' on ', v(key), ' ', v(velocity)], when: { on: true } },
            { parts: [v(start), second, v(key)], when: { on: false } },
          ],
        },
      ],
    });
  it('of two lines one stands, and tells whether a note begins', () => {
    expect(written(lines(' off ')).split('\n').slice(0, 4)).toEqual([
      '0 on 60 30',
      '0 on 64 90',
      '125 off 60',
      '500 off 64',
    ]);
    const byKey = [...back(lines(' off '))].sort((x, y) => x.key! - y.key!);
    expect(byKey.map((n) => [n.key, n.startUs, n.endUs])).toEqual([
      [48, 500_000, 750_000],
      [60, 0, 125_000],
      [62, 500_000, 1_500_000],
      [64, 0, 500_000],
    ]);
    expect(read(lines(' off '), '0 on 60 30\n125 of 60\n').problem?.at).toBe('line 2');
  });
  it('a wait of nothing is left out, and read as nothing', () => {
    const script = formatOf({
      kind: 'lines',
      lines: [
        {
          each: { of: 'strikes' },
          lines: [
            { parts: ['wait ', v({ ...start, from: 'last' })], skip: 'zero' },
            { each: { of: 'notes' }, lines: [{ parts: ['hit ', v(key)] }] },
          ],
        },
      ],
    });
    expect(written(script)).toBe('hit 60\nhit 64\nwait 500\nhit 48\nhit 62\n');
    expect(doubtsOf(script)).toEqual([]);
    expect(back(script).map((n) => [n.key, n.startUs])).toEqual([
      [60, 0],
      [64, 0],
      [48, 500_000],
      [62, 500_000],
    ]);
    expect(read(script, 'wait 5\nhot 60\n').problem?.at).toBe('line 2');
  });
  it('a line for some rows alone that is not there says no 0', () => {
    const script = formatOf({
      kind: 'lines',
      lines: [
        {
          each: { of: 'notes' },
          lines: [
            { parts: ['hard ', v(velocity)], when: { harder: 96 }, skip: 'zero' },
            { parts: [v(start), ' ', v(key)] },
          ],
        },
      ],
    });
    expect(written(script)).toBe('0 60\n0 64\nhard 127\n500 48\nhard 100\n500 62\n');
    expect(back(script).map((n) => n.velocity)).toEqual([null, null, 127, 100]);
  });
  it('two that cannot be told from each other are a doubt', () => {
    expect(doubtsOf(lines(' off '))).toEqual([]);
    const alike = formatOf({
      kind: 'lines',
      lines: [
        {
          each: { of: 'notes' },
          lines: [
            { parts: [v(start), ' ', v(key)], when: { harder: 96 } },
            { parts: [v(start), ' ', v(velocity)], when: { softer: 96 } },
          ],
        },
      ],
    });
    expect(
      doubtsOf(alike)
        .map((d) => d.says)
        .join(),
    ).toContain('cannot be told');
  });
});

describe('a strike key by key', () => {
  const table = (...values: Value[]) =>
    formatOf({
      kind: 'table',
      heading: false,
      rows: { of: 'strikes' },
      columns: values.map((value, n) => ({ name: `c${n}`, value })),
    });
  const keys = [48, 60, 62, 64];
  const notes = [
    [60, 0],
    [64, 0],
    [48, 500_000],
    [62, 500_000],
  ];
  const told = (format: Format) =>
    back(format)
      .map((n) => [n.key, n.startUs])
      .sort((a, b) => a[1]! - b[1]! || a[0]! - b[0]!);
  it('a velocity for each, and nothing where it is not struck', () => {
    const format = table(start, ...keys.map((k): Value => ({ is: 'velocity', key: k })));
    expect(written(format)).toBe('0,0,30,0,90\n500,127,0,100,0\n');
    expect(told(format)).toEqual(notes);
    expect(back(format).map((n) => n.velocity)).toEqual([30, 90, 127, 100]);
  });
  it('a sign for each', () => {
    const format = table(
      start,
      ...keys.map((k): Value => ({ is: 'struck', key: k, yes: 'x', no: '-' })),
    );
    expect(written(format)).toBe('0,-,x,-,x\n500,x,-,x,-\n');
    expect(told(format)).toEqual(notes);
    expect(doubtsOf(format)).toEqual([]);
  });
  it('a bit for each, in digits from 0 to f', () => {
    const bits: Value = { is: 'key', as: 'bits', keys, hex: 'capital', digits: 2 };
    const format = table({ ...start, hex: 'small' }, bits);
    expect(written(format)).toBe('0,0A\n1f4,05\n');
    expect(told(format)).toEqual(notes);
    expect(read(format, '0,0a\n').problem?.says).toContain('no value of this column');
  });
});

describe('a list that is of one key or of one seat', () => {
  it('says whose its notes are without a word', () => {
    const format = formatOf({
      kind: 'json',
      root: {
        list: [
          { each: { of: 'notes', keys: [60] }, node: v(start) },
          { each: { of: 'notes', seats: ['flood'] }, node: v(key) },
        ],
      },
    });
    expect(JSON.parse(written(format))).toEqual([[0], [48]]);
    expect(back(format).map((n) => [n.key, n.seat])).toEqual([
      [60, null],
      [48, 'flood'],
    ]);
  });
});

describe('places that are told by the clock', () => {
  it('a meter lies at its quarter under the tempos that the file tells', () => {
    const source = song(
      [
        conductor(120, 4, 4).tempo(1920, 60).meter(3840, 3, 4),
        new Track('Ebb').note(1, 0, 240, 60, 90),
      ],
      { endTick: 7680, name: 'meters.mid' },
    );
    const format = formatOf({
      kind: 'lines',
      lines: [
        {
          each: { of: 'tempos' },
          lines: [{ parts: ['tempo ', v(start), ' ', v({ is: 'bpm' })] }],
        },
        {
          each: { of: 'meters' },
          lines: [
            {
              parts: [
                'meter ',
                v(start),
                ' ',
                v({ is: 'numerator' }),
                '/',
                v({ is: 'denominator' }),
              ],
            },
          ],
        },
      ],
    });
    const [file] = writeFormat(format, renditionOf(source, target).pieces, target).files;
    const told = interpret(readFormat(format.files[0]!, file!.bytes).file!, target);
    expect(told.tempos.map((t) => t.quarters)).toEqual([0, 4]);
    expect(told.meters).toEqual([
      { quarters: 0, numerator: 4, denominator: 4 },
      { quarters: 8, numerator: 3, denominator: 4 },
    ]);
  });
});
