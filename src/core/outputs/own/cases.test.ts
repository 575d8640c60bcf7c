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
const source = song(
  [
    conductor(120),
    new Track('Ebb').note(1, 0, 120, 60, 30).note(1, 480, 960, 62, 100),
    new Track('Flood').note(2, 240, 240, 48, 127).note(2, 1440, 480, 50, 64),
  ],
  { endTick: 1920, name: 'quay.mid' },
);
const { pieces } = renditionOf(source, target);
const formatOf = (container: Container) =>
  FormatSchema.parse({
    formatVersion: 1,
    id: 'cases',
    name: 'Cases',
    files: [{ path: '{file}.txt', container }],
  });
const constant = (value: string | number | null): Value => ({ is: 'constant', value });
const start: Value = { is: 'time', of: 'start', unit: 'ms' };
const length: Value = { is: 'time', of: 'length', unit: 'ms' };
const either = (when: object, value: Value, otherwise: Value): Value => ({
  is: 'case',
  cases: [{ when, value }],
  otherwise,
});
const table = (...values: Value[]) =>
  formatOf({
    kind: 'table',
    rows: { of: 'notes' },
    columns: values.map((value, n) => ({ name: `c${n}`, value })),
  });
const written = (format: ReturnType<typeof formatOf>) => writeFormat(format, pieces, target).files;
const back = (format: ReturnType<typeof formatOf>, bytes = written(format)[0]!.bytes) => {
  const { file, problem } = readFormat(format.files[0]!, bytes);
  if (problem) throw new Error(`${problem.at}: ${problem.says}`);
  return interpret(file, target);
};

describe('one of several values, by what a row is of', () => {
  it('a word for long notes and one for others, a length where it is held', () => {
    const format = table(
      start,
      { is: 'key', as: 'number' },
      either({ longerMs: 250 }, constant('hold'), constant('tap')),
      either({ longerMs: 250 }, length, constant(0)),
    );
    expect(doubtsOf(format)).toEqual([]);
    expect(decodeUtf8(written(format)[0]!.bytes)!.split('\n')).toEqual([
      'c0,c1,c2,c3',
      '0,60,tap,0',
      '250,48,hold,250',
      '500,62,hold,1000',
      '1500,50,hold,500',
      '',
    ]);
    // What is no length says none: a tap ends where the target ends it.
    expect(back(format).notes.map((n) => n.endUs)).toEqual([null, 500_000, 1_500_000, 2_000_000]);
    const spoilt = encodeUtf8('c0,c1,c2,c3\n0,60,slide,0\n');
    expect(() => back(format, spoilt)).toThrow('“slide” is no value of this column');
  });
  it.each([
    ['quarters', { longerQuarters: 1 }, ['n', 'n', 'y', 'y']],
    ['under so many', { shorterQuarters: 0.5 }, ['y', 'n', 'n', 'n']],
    ['force', { harder: 100 }, ['n', 'y', 'y', 'n']],
    ['softness', { softer: 64 }, ['y', 'n', 'n', 'n']],
    ['keys', { keys: [48, 60] }, ['y', 'y', 'n', 'n']],
    ['seats', { seats: ['flood'] }, ['n', 'y', 'n', 'y']],
    ['parts', { parts: ['Ebb'] }, ['y', 'n', 'y', 'n']],
    ['both', { parts: ['Ebb'], longerMs: 250 }, ['n', 'n', 'y', 'n']],
  ])('by %s', (_, when, says) => {
    const format = table(either(when, constant('y'), constant('n')));
    const lines = decodeUtf8(written(format)[0]!.bytes)!.trimEnd().split('\n');
    expect(lines.slice(1)).toEqual(says);
  });
  it('the first that is meant counts, and one may stand in another', () => {
    const format = table(
      either(
        { harder: 100 },
        either({ parts: ['Ebb'] }, constant('a'), constant('b')),
        either({ softer: 40 }, constant('c'), constant('d')),
      ),
    );
    expect(doubtsOf(format)).toEqual([]);
    expect(decodeUtf8(written(format)[0]!.bytes)).toBe('c0\nc\nb\na\nd\n');
  });
  it('whose number it is the seat tells, whichever stands first', () => {
    const value = either({ seats: ['flood'] }, { is: 'key', as: 'number' }, { is: 'velocity' });
    for (const columns of [
      [start, { is: 'seat', as: 'name' } as Value, value],
      [value, { is: 'seat', as: 'name' } as Value, start],
    ]) {
      const format = table(...columns);
      expect(doubtsOf(format)).toEqual([]);
      const told = back(format).notes;
      expect(told.map((n) => n.key)).toEqual([null, 48, null, 50]);
      expect(told.map((n) => n.velocity)).toEqual([30, null, 100, null]);
    }
    expect(doubtsOf(table(start, value)).map((d) => d.says)).toEqual([
      'Which of its values stands there cannot be told.',
    ]);
  });
  it('in bytes: a kind, and a length or nothing', () => {
    const format = formatOf({
      kind: 'binary',
      order: 'little',
      fields: [
        {
          each: { of: 'notes' },
          fields: [
            { int: 2, value: start },
            { int: 1, value: either({ longerMs: 250 }, constant(2), constant(1)) },
            { int: 2, value: either({ longerMs: 250 }, length, constant(0)) },
            { int: 1, value: { is: 'key', as: 'number' } },
          ],
        },
      ],
    });
    expect(doubtsOf(format)).toEqual([]);
    const [file] = written(format);
    expect([...file!.bytes.subarray(0, 12)]).toEqual([0, 0, 1, 0, 0, 60, 250, 0, 2, 250, 0, 48]);
    expect(back(format).notes.map((n) => n.endUs)).toEqual([null, 500_000, 1_500_000, 2_000_000]);
    const spoilt = file!.bytes.slice();
    spoilt[2] = 3;
    expect(() => back(format, spoilt)).toThrow('3 is none of the values that are described.');
  });
  it('in JSON nothing is null, in XML an attribute is empty', () => {
    const held = either({ longerMs: 250 }, length, constant(null));
    const json = formatOf({
      kind: 'json',
      root: { each: { of: 'notes' }, node: { list: [{ value: start }, { value: held }] } },
    });
    expect(decodeUtf8(written(json)[0]!.bytes)).toBe(
      '[[0,null],[250,250],[500,1000],[1500,500]]\n',
    );
    expect(back(json).notes.map((n) => n.endUs)).toEqual([null, 500_000, 1_500_000, 2_000_000]);
    const xml = formatOf({
      kind: 'xml',
      indent: 0,
      declaration: false,
      root: {
        name: 'all',
        children: [
          {
            each: { of: 'notes' },
            name: 'n',
            attributes: [
              { name: 'at', value: start },
              { name: 'held', value: either({ longerMs: 250 }, length, constant('')) },
            ],
          },
        ],
      },
    });
    expect(decodeUtf8(written(xml)[0]!.bytes)).toContain('<n at="0" held=""/>');
    expect(back(xml).notes.map((n) => n.endUs)).toEqual([null, 500_000, 1_500_000, 2_000_000]);
  });
  it('a list where several are struck, one key where it is one', () => {
    const chords = song(
      [conductor(120), new Track('Ebb').note(1, 0, 480, 60, 30).note(1, 0, 480, 64, 30)],
      { endTick: 1920, name: 'quay.mid' },
    );
    const keys: Value = {
      is: 'list',
      each: { of: 'notes', order: ['key'] },
      between: '+',
      parts: [{ is: 'key', as: 'number' }],
    };
    const format = formatOf({
      kind: 'table',
      heading: false,
      rows: { of: 'strikes' },
      columns: [
        { name: 'ms', value: start },
        { name: 'keys', value: either({ longerMs: 250 }, keys, constant('-')) },
      ],
    });
    const rendition = renditionOf(chords, target);
    const [file] = writeFormat(format, rendition.pieces, target).files;
    expect(decodeUtf8(file!.bytes)).toBe('0,60+64\n');
    expect(back(format, file!.bytes).notes.map((n) => n.key)).toEqual([60, 64]);
  });
  it('facts that are multiplied, and those that nobody told, read back as they were', () => {
    const fact = (key: string, more: object): Value => ({ is: 'fact', key, ...more }) as Value;
    const format = formatOf({
      kind: 'lines',
      lines: [
        { parts: ['tempo ', { value: fact('bpm', { kind: 'number', times: 100 }) }] },
        { parts: ['told ', { value: fact('bpm', { kind: 'number', told: true }) }] },
        { each: { of: 'notes' }, lines: [{ parts: [{ value: start }] }] },
      ],
    });
    expect(decodeUtf8(written(format)[0]!.bytes)).toContain('tempo 12000\ntold \n');
    const told = back(format);
    expect(told.facts.get('bpm')).toBe('120');
    expect(told.tempos).toEqual([{ quarters: 0, microsecondsPerQuarter: 500_000 }]);
  });
  it('a case that says nothing is refused where it stands', () => {
    const said = { is: 'case', cases: [{ when: {}, value: start }], otherwise: length };
    expect(() => table(said as Value)).toThrow('Say when this value stands there.');
  });
});

describe('rows that only some formats have', () => {
  const rowsOf = (rows: object, ...values: Value[]) => {
    const format = formatOf({
      kind: 'table',
      heading: false,
      rows: rows as never,
      columns: values.map((value, n) => ({ name: `c${n}`, value })),
    });
    return decodeUtf8(written(format)[0]!.bytes)!.trimEnd().split('\n');
  };
  it('channels with the names of their parts', () => {
    const count: Value = { is: 'count', of: { of: 'notes' } };
    const name: Value = { is: 'part', as: 'name' };
    expect(rowsOf({ of: 'channels' }, { is: 'channel' }, name, count)).toEqual([
      '1,Ebb,2',
      '2,Flood,2',
    ]);
  });
  it('phrases, parted by beats without a note', () => {
    const end: Value = { is: 'time', of: 'end', unit: 'ms' };
    expect(rowsOf({ of: 'phrases', seats: ['flood'], pauseBeats: 2 }, start, end)).toEqual([
      '250,500',
      '1500,2000',
    ]);
    expect(rowsOf({ of: 'phrases', seats: ['flood'] }, start, end)).toEqual(['250,2000']);
  });
  it('events on frames, held for one at least, ends first', () => {
    const frame: Value = { is: 'time', of: 'start', unit: 'frames', rate: 2 };
    const says: Value = { is: 'on-off', on: 'on', off: 'off' };
    expect(
      rowsOf({ of: 'events', rate: 2, order: ['start', 'off-first', 'key-down'] }, frame, says, {
        is: 'key',
        as: 'number',
      }),
    ).toEqual([
      '0,on,60',
      '1,off,60',
      '1,on,62',
      '1,on,48',
      '2,off,48',
      '3,off,62',
      '3,on,50',
      '4,off,50',
    ]);
  });
  it('ticks of the beat at a PPQ of their own, constants with a point', () => {
    const ticks: Value = { is: 'time', of: 'start', unit: 'tick-of-beat', ppq: 96 };
    expect(rowsOf({ of: 'notes' }, ticks, constant(0.5), constant(-12.25))).toEqual([
      '0,0.5,-12.25',
      '48,0.5,-12.25',
      '0,0.5,-12.25',
      '0,0.5,-12.25',
    ]);
  });
  it('controllers of all parts in the order of time', () => {
    const turned = song(
      [
        conductor(120),
        new Track('Ebb').control(0, 1, 7, 90).control(960, 1, 7, 80).note(1, 0, 480, 60, 90),
        new Track('Flood').control(480, 2, 10, 20).note(2, 0, 480, 48, 90),
      ],
      { endTick: 1920, name: 'quay.mid' },
    );
    const format = table(start, { is: 'channel' }, { is: 'controller' }, { is: 'value' });
    const [described] = format.files;
    const own = FormatSchema.parse({
      ...format,
      files: [
        { ...described, container: { ...described!.container, rows: { of: 'controllers' } } },
      ],
    });
    const [file] = writeFormat(own, renditionOf(turned, target).pieces, target).files;
    expect(decodeUtf8(file!.bytes)!.trimEnd().split('\n').slice(1)).toEqual([
      '0,1,7,90',
      '500,2,10,20',
      '1000,1,7,80',
    ]);
  });
  it('a length that adds up with its start', () => {
    const at = (more: object): Value => ({ is: 'time', unit: 'frames', rate: 3, ...more }) as Value;
    const [, flood] = rowsOf({ of: 'notes' }, at({ of: 'start' }), at({ of: 'length' }));
    expect(flood).toBe('1,1');
    const [, sum] = rowsOf(
      { of: 'notes' },
      at({ of: 'start' }),
      at({ of: 'length', addsUp: true }),
    );
    // From 0.75 to 1.5 frames: from 1 to 2.
    expect(sum).toBe('1,1');
    const [, , ebb] = rowsOf({ of: 'notes' }, at({ of: 'length', addsUp: true }));
    // From 1.5 to 4.5 frames: from 2 to 5.
    expect(ebb).toBe('3');
  });
});
