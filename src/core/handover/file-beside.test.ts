import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  conductor,
  renditionOf,
  smf,
  song,
  targetWith,
  Track,
} from '../../../testing/score-builder';
import { FormatSchema } from '../formats/own/schema';
import { writeFormat } from '../outputs/own/write';
import { parseTarget } from '../target/parse';
import { layBeside } from './file-beside';
import { fileLines } from './file-lines';

type Tune = readonly (readonly [tick: number, key: number, velocity: number])[];
const TUNE: Tune = [
  [0, 60, 90],
  [480, 62, 80],
  [960, 64, 70],
  [1440, 65, 60],
];
const songOf = (tune: Tune) => {
  const track = new Track('Tune');
  for (const [tick, key, velocity] of tune) track.note(1, tick, 120, key, velocity);
  return [conductor(120), track];
};
const table = FormatSchema.parse({
  formatVersion: 1,
  id: 'own-1',
  name: 'Cues',
  files: [
    {
      path: '{file}.csv',
      container: {
        kind: 'table',
        rows: { of: 'notes' },
        columns: [
          { name: 'ms', value: { is: 'time', of: 'start', unit: 'ms' } },
          { name: 'key', value: { is: 'key', as: 'number' } },
          { name: 'force', value: { is: 'velocity' } },
        ],
      },
    },
  ],
});

/** Both tunes as files of one target, laid beside each other. */
function beside(kind: 'own' | 'midi', now: Tune, before: Tune) {
  const plain = targetWith({ seats: [] });
  const target =
    kind === 'midi'
      ? plain
      : parseTarget({
          ...plain,
          formats: [table],
          outputs: [{ writer: 'own-format', options: { format: 'own-1' } }],
        }).target!;
  const linesOf = (tune: Tune) => {
    const rendition = renditionOf(song(songOf(tune), { endTick: 1920 }), target);
    if (kind === 'own') {
      const [file] = writeFormat(table, rendition.pieces, target).files;
      return fileLines({ ...file!, writer: 'own-format' }, rendition, target);
    }
    const bytes = smf(1, 480, songOf(tune), 1920);
    return fileLines({ path: 'tune.mid', bytes, writer: 'smf', piece: 0 }, rendition, target);
  };
  const mine = linesOf(now);
  return { mine, ...layBeside(mine, linesOf(before)) };
}
const changed = (tune: Tune, n: number, note: readonly [number, number, number]) =>
  tune.map((own, i) => (i === n ? note : own));

describe('two files beside each other', () => {
  it('the same twice: every line stands beside its own', () => {
    const { rows, differ, mine } = beside('own', TUNE, TUNE);
    expect(differ).toBe(0);
    expect(rows).toEqual(mine.lines.map((_, i) => ({ mine: i, other: i, same: true })));
  });
  it('what became of a value is said in its kind', () => {
    const now = changed(TUNE, 2, [1008, 64, 100]);
    const { rows, differ } = beside('own', now, TUNE);
    expect(differ).toBe(1);
    expect(rows[3]).toEqual({
      mine: 3,
      other: 3,
      same: false,
      says: 'time 1000 → 1050; velocity 70 → 100',
    });
  });
  it('what is in one file alone stands alone', () => {
    const { rows, differ } = beside('own', TUNE, [...TUNE.slice(0, 1), ...TUNE.slice(2)]);
    expect(differ).toBe(1);
    expect(rows.filter((r) => r.other === null)).toEqual([{ mine: 2, other: null, same: false }]);
    const turned = beside('own', TUNE.slice(0, 3), TUNE);
    expect(turned.rows.filter((r) => r.mine === null)).toEqual([
      { mine: null, other: 4, same: false },
    ]);
  });
  it('events of a MIDI file: their delta in ticks, their data in words', () => {
    const later = beside('midi', changed(TUNE, 3, [1450, 65, 60]), TUNE);
    expect(later.rows.flatMap((r) => r.says ?? [])).toContain(
      '370 ticks after the event before, not 360',
    );
    const louder = beside('midi', changed(TUNE, 1, [480, 62, 99]), TUNE);
    expect(louder.differ).toBe(1);
    expect(louder.rows.find((r) => r.says)?.says).toBe(
      'Note On, channel 1: D4, 80 → Note On, channel 1: D4, 99',
    );
  });
  it('files with nothing in common are laid line by line, and that is soon done', () => {
    const lines = (n: number, word: string) => ({
      kind: 'text' as const,
      more: 0,
      lines: Array.from({ length: n }, (_, i) => ({ at: i + 1, text: `${word}${i}`, inks: [] })),
    });
    const { rows, differ } = layBeside(lines(20_000, 'a'), lines(20_001, 'b'));
    expect(differ).toBe(20_001);
    expect(rows.at(-1)).toEqual({ mine: null, other: 20_000, same: false });
  });
  it('every line of both files stands in one row, in its order, and none that differs is the same', () => {
    const texts = fc.array(fc.constantFrom('a', 'b', 'c', 'd'), { maxLength: 30 });
    const fileOf = (words: string[]) => ({
      kind: 'text' as const,
      more: 0,
      lines: words.map((text, i) => ({ at: i + 1, text, inks: [] })),
    });
    fc.assert(
      fc.property(texts, texts, (a, b) => {
        const { rows, differ } = layBeside(fileOf(a), fileOf(b));
        expect(rows.flatMap((r) => r.mine ?? [])).toEqual(a.map((_, i) => i));
        expect(rows.flatMap((r) => r.other ?? [])).toEqual(b.map((_, i) => i));
        const same = rows.filter(
          (r) => r.mine !== null && r.other !== null && a[r.mine] === b[r.other],
        );
        expect(rows.length - same.length).toBe(differ);
        expect(rows.filter((r) => r.same)).toEqual(same);
        if (a.join() === b.join()) expect(differ).toBe(0);
      }),
    );
  });
});
