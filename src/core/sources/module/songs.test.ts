import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { EEL_TRAPS, moduleOf, moduleWriters, patternOf } from '../../../../testing/modules';
import type { TuneCell } from '../../../../demo/modules/tune';
import { openSource } from '../source';
import type { Samples } from '../../sound/samples';
import { mix } from './mix';
import { knownOf, songOf } from './open';

const low: TuneCell = { note: 60, sample: 1 };
const high: TuneCell = { note: 67, sample: 2 };
const jump = (order: number): TuneCell => ({ fx: ['B', order] });
type As = keyof typeof moduleWriters;
const ALL = Object.keys(moduleWriters) as As[];

type Cells = Parameters<typeof moduleOf>[1][number];

/** Two songs that go round, each in orders of its own, and an order that holds nothing. */
const FIRST: readonly Cells[] = [{ 0: [low], 7: [null, jump(0)] }];
const second = (from: number): readonly Cells[] => [
  { 0: [high], 4: [low] },
  { 2: [high], 11: [null, jump(from)] },
];
const both = (as: As) => moduleOf(as, [...FIRST, ...second(1), {}]);
const alone = (as: As) => moduleOf(as, second(0));
const bytesOf = (as: As) => {
  const patterns = [...FIRST, ...second(1), {}].map((p) => patternOf(p));
  return moduleWriters[as]({ ...EEL_TRAPS, orders: patterns.map((_, i) => i), patterns });
};
/** Compared at once, not sample by sample. */
const bytesIn = ({ channels }: Samples) =>
  Buffer.concat(channels.map((c) => new Uint8Array(c.buffer, c.byteOffset, c.byteLength)));
const MIXED = { rate: 44_100, between: 'linear', softened: 0 } as const;

describe.each(ALL)('a module of several songs, %s', (as) => {
  it('each begins at the first order that none before it came to; silence is none', () => {
    expect(knownOf(both(as)).songs).toEqual([
      { order: 0, strikes: 1 },
      { order: 1, strikes: 3 },
    ]);
    expect(knownOf(alone(as)).songs).toHaveLength(1);
  });
  it('the second is played and sounds as it would by itself', () => {
    const [known, own] = [knownOf(both(as), { song: 1 }), knownOf(alone(as))];
    const struck = (k: typeof known) => k.played.strikes.map((s) => [s.at, s.end, s.key, s.row]);
    expect(struck(known)).toEqual(struck(own));
    expect(known.played.seconds).toBe(own.played.seconds);
    expect(bytesIn(mix(known, MIXED)).equals(bytesIn(mix(own, MIXED)))).toBe(true);
    expect(songOf(knownOf(both(as)), { song: 1 }).played).toEqual(known.played);
  });
  it('one is taken as a source, by its number; the others are named', () => {
    const open = (sequence?: number) =>
      openSource(bytesOf(as), { key: 'main', name: 'quay', sha256: '0', sequence }).source!;
    const notes = (n?: number) => open(n).score.parts.reduce((sum, p) => sum + p.notes.count, 0);
    expect(open().head).toMatchObject({
      sequence: 0,
      sequences: [
        { name: 'order 0', notes: 1 },
        { name: 'order 1', notes: 3 },
      ],
    });
    expect([notes(), notes(0), notes(1), notes(7)]).toEqual([1, 1, 3, 3]);
    expect(open(1).sequence).toBe(1);
  });
});

it('silence that goes on into a song is none of its own', () => {
  for (const as of ALL)
    expect(knownOf(moduleOf(as, [...FIRST, { 3: [jump(0)] }])).songs).toHaveLength(1);
});

describe('songs of any module', () => {
  it('whatever strikes is heard in one of them', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...ALL),
        fc.array(fc.record({ strikes: fc.boolean(), to: fc.option(fc.nat(9)) }), {
          minLength: 1,
          maxLength: 10,
        }),
        (as, orders) => {
          const module = moduleOf(
            as,
            orders.map(({ strikes, to }) => ({
              0: [strikes ? low : null, to === null ? null : jump(to)],
            })),
          );
          const known = knownOf(module);
          const heard = new Set(
            known.songs.flatMap((_, song) => {
              const { played } = songOf(known, { song });
              return played.strikes.map((s) => played.rows[s.row]!.order);
            }),
          );
          const struck = orders.flatMap((o, i) => (o.strikes ? [i] : []));
          expect([...heard].sort((a, b) => a - b)).toEqual(struck);
        },
      ),
      { numRuns: 200 },
    );
  });
});
