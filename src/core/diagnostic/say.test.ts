import { describe, expect, it } from 'vitest';
import * as z from 'zod';
import { count, noteName, plain, sayKind, sayLater, sayMs, slugOf } from '../target/words';
import { keysAt, nearest, problemsOf } from './say-problems';

const schema = z.strictObject({
  tempo: z.strictObject({ lowestBpm: z.number(), highestBpm: z.number() }).optional(),
  seats: z
    .array(
      z.discriminatedUnion('kind', [
        z.strictObject({ kind: z.literal('channel'), channel: z.int().min(1).max(16) }),
        z.strictObject({ kind: z.literal('file'), fileName: z.string().min(1).max(8) }),
      ]),
    )
    .min(1),
});
const said = (data: unknown) => {
  const read = schema.safeParse(data);
  return problemsOf(schema, read.error?.issues ?? []).map((p) => `${p.path}: ${p.says}`);
};

describe('what a schema found wrong', () => {
  it.each([
    [{ seats: [] }, 'seats: At least 1 entries are needed.'],
    [{ seats: [{ kind: 'channel', channel: 17 }] }, 'seats[0].channel: The most is 16.'],
    [{ seats: [{ kind: 'channel', channel: 0 }] }, 'seats[0].channel: The least is 1.'],
    [{ seats: [{ kind: 'channel' }] }, 'seats[0].channel: A number is missing here.'],
    [
      { seats: [{ kind: 'file', fileName: 'much-too-long' }] },
      'seats[0].fileName: At most 8 characters are taken.',
    ],
    [{ seats: 'all' }, 'seats: This has to be a list.'],
    [{}, 'seats: A list is missing here.'],
  ])('%j', (data, line) => {
    expect(said(data)).toContain(line);
  });
  it('a key that is not known is answered with the nearest of that place', () => {
    expect(said({ seats: [{ kind: 'channel', channel: 1, chanel: 2 }] })).toEqual([
      'seats[0].chanel: "chanel" is not a known key. The nearest known key is "channel".',
    ]);
    expect(
      said({
        seats: [{ kind: 'channel', channel: 1 }],
        tempo: { lowestBpm: 1, highestBpm: 2, lowBpm: 3 },
      }),
    ).toEqual(['tempo.lowBpm: "lowBpm" is not a known key. The nearest known key is "lowestBpm".']);
    expect(said({ seats: [{ kind: 'channel', channel: 1 }], zzzzzzzzzz: 1 })[0]).not.toContain(
      'nearest',
    );
  });
  it('the keys of a place are those of all forms that it may have', () => {
    expect(keysAt(schema, ['seats', 0]).sort()).toEqual(['channel', 'fileName', 'kind']);
    expect(keysAt(schema, ['tempo'])).toEqual(['lowestBpm', 'highestBpm']);
    expect(keysAt(schema, ['nowhere', 3])).toEqual([]);
  });
  it('a word is near where a few letters are wrong, and not where it is another', () => {
    const known = ['bell-loft', 'lantern-rail', 'reed-ladder'];
    expect(nearest('bel-loft', known)).toBe('bell-loft');
    expect(nearest('LANTERN-RAIL', known)).toBe('lantern-rail');
    expect(nearest('xy', known)).toBeNull();
    expect(nearest('anything', [])).toBeNull();
  });
});

describe('words', () => {
  it.each([
    [0, '0 notes'],
    [1, '1 note'],
    [2, '2 notes'],
    [1_234_567, '1,234,567 notes'],
  ])('%i', (n, text) => expect(count(n, 'note')).toBe(text));
  it('of its own plural', () => {
    expect([1, 3].map((n) => count(n, 'stretch', 'stretches'))).toEqual([
      '1 stretch',
      '3 stretches',
    ]);
  });
  it('numbers have no decimals that say nothing', () => {
    expect([1, 1.5, 0.1 + 0.2, 2 / 3, 12_345.6789].map(plain)).toEqual([
      '1',
      '1.5',
      '0.3',
      '0.667',
      '12,345.679',
    ]);
  });
  it('60 is C4, and every key has a name of its own', () => {
    expect([0, 60, 61, 127].map(noteName)).toEqual(['C-1', 'C4', 'C♯4', 'G9']);
    expect(new Set(Array.from({ length: 128 }, (_, k) => noteName(k))).size).toBe(128);
  });
  it.each([
    ['Turn of the tide', 'turn-of-the-tide'],
    ['Étude No. 5', 'e-tude-no-5'],
    ['  --x--  ', 'x'],
    ['…', 'target'],
    ['a'.repeat(99), 'a'.repeat(60)],
  ])('%s becomes an id', (name, id) => expect(slugOf(name)).toBe(id));
});

describe('counts and shifts', () => {
  it.each([
    [1, 'text', '1 text event'],
    [56, 'text', '56 text events'],
    [2, 'sysex', '2 system exclusives'],
    [1, 'markers', '1 marker'],
    [1200, 'velocities', '1,200 velocities'],
  ])('%d %s', (n, kind, says) => expect(sayKind(n, kind)).toBe(says));
  it('milliseconds have a tenth, and more where that would hide what decides', () => {
    expect(sayMs(58.8235)).toBe('58.8');
    expect(sayMs(271.739, 90)).toBe('271.7');
    expect(sayMs(89.97, 90)).toBe('89.97');
    expect(sayMs(90, 90)).toBe('90');
    expect(sayMs(0.0312)).toBe('0.031');
  });
  it.each([
    [0.04, null],
    [-0.4, '0.4 ms earlier'],
    [12.34, '12.3 ms later'],
    [-5625, '5.625 s earlier'],
  ])('%d ms', (ms, says) => expect(sayLater(ms)).toBe(says));
});
