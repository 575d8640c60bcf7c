import { describe, expect, it } from 'vitest';
import { doubtsOf } from './doubts';
import { FormatSchema, type Container } from './schema';

const doubts = (container: Container) =>
  doubtsOf(
    FormatSchema.parse({
      formatVersion: 1,
      id: 'own',
      name: 'Own',
      files: [{ path: 'a', container }],
    }),
  ).map((p) => `${p.path.replace('files[0].container.', '')}: ${p.says}`);

const notes = { of: 'notes' } as const;
const ms = { is: 'time', of: 'start', unit: 'ms' } as const;
const key = { is: 'key', as: 'number' } as const;
const title = { is: 'fact', key: 'title' } as const;
const line = (...parts: (string | { value: object })[]): Container =>
  ({ kind: 'lines', lines: [{ each: notes, lines: [{ parts }] }] }) as Container;
const v = (value: object) => ({ value });
const table = (columns: object[], more: object = {}): Container =>
  ({
    kind: 'table',
    rows: notes,
    columns: columns.map((value, i) => ({ name: `c${i}`, value })),
    ...more,
  }) as Container;
const bytes = (...fields: object[]): Container =>
  ({ kind: 'binary', order: 'big', fields }) as Container;

describe('what cannot be read back without doubt', () => {
  it.each<[string, Container, RegExp]>([
    [
      'two values side by side',
      line(v(ms), v(key)),
      /^lines\[0\]\.lines\[0\]\.parts\[0\]: Two values/,
    ],
    ['a digit behind a number', line(v(ms), '0 ', v(key)), /next digit/],
    ['a text before a space', line(v(title), ' ', v(key)), /may hold the space/],
    ['one sign for two things', table([{ ...ms, decimals: 2 }], { decimal: ',' }), /same sign/],
    ['a text without quotes', table([title, key], { quotes: 'never' }), /columns\[0\]: A text/],
    ['widths that are too few', table([ms, key], { widths: [8] }), /width for each/],
    ['ticks of which PPQ', table([{ ...ms, unit: 'ticks' }]), /^columns\[0\]: Ticks of which PPQ/],
    ['frames of which rate', table([{ ...ms, unit: 'frames' }]), /how many a second/],
    ['a beat of which bar', table([{ ...ms, unit: 'beat' }, key]), /Which|which bar/],
    ['ticks of which beat', table([{ ...ms, unit: 'tick-of-beat', ppq: 480 }]), /which beat/],
    ['from which bar', table([{ ...ms, from: 'bar' }]), /From which bar/],
    [
      'values side by side in one place',
      table([{ is: 'joined', parts: [ms, key] }]),
      /^columns\[0\].*Two values/,
    ],
    [
      'rows that nothing counts',
      bytes({ each: notes, fields: [{ int: 1, value: key }] }, { string: 'zero', value: title }),
      /^fields\[0\]: How many rows/,
    ],
    ['a padded text without its size', bytes({ string: 'padded', value: title }), /needs its size/],
    [
      'a block that looks like what follows it',
      {
        kind: 'lines',
        lines: [
          { each: notes, lines: [{ parts: [v(ms)] }] },
          { each: { of: 'markers' }, lines: [{ parts: [v(ms)] }] },
        ],
      } as Container,
      /^lines\[0\]: Its first line cannot be told/,
    ],
    [
      'a list with nothing between its entries',
      line({ each: notes, between: '', parts: [v(key)] } as never),
      /Nothing stands between/,
    ],
  ])('%s', (_, container, says) => {
    const found = doubts(container);
    expect(found.join('\n')).toMatch(says);
  });

  it.each<[string, Container]>([
    ['numbers of fixed digits and words between', line(v({ ...ms, digits: 6 }), ' lamp ', v(key))],
    ['a text at the end', line(v(key), ' ', v(title))],
    ['a text in quotes', table([title, key])],
    [
      'ticks whose PPQ the file holds',
      {
        kind: 'lines',
        lines: [
          { parts: ['ppq ', v({ is: 'fact', key: 'ppq', kind: 'number' })] },
          { each: notes, lines: [{ parts: [v({ ...ms, unit: 'ticks' })] }] },
        ],
      } as Container,
    ],
    [
      'a place with its bar and beat',
      table([
        {
          is: 'joined',
          parts: [
            { ...ms, unit: 'bar' },
            ':',
            { ...ms, unit: 'beat' },
            ':',
            { ...ms, unit: 'tick-of-beat', ppq: 96 },
          ],
        },
      ]),
    ],
    [
      'rows that a count is of',
      bytes(
        { int: 2, value: { is: 'count', of: notes } },
        { each: notes, fields: [{ int: 1, value: key }] },
        { string: 'zero', value: title },
      ),
    ],
    [
      'rows that are the last',
      bytes({ each: notes, fields: [{ int: 1, value: key }] }, { bytes: 'ff' }),
    ],
  ])('no doubt: %s', (_, container) => {
    expect(doubts(container)).toEqual([]);
  });
});
