import { describe, expect, it } from 'vitest';
import {
  FOREIGN,
  SEATS,
  songOf,
  type Foreign,
  type Tells,
} from '../../../../testing/foreign-formats';
import { targetWith } from '../../../../testing/score-builder';
import { doubtsOf } from '../../formats/own/doubts';
import { interpret, type ToldMusic } from '../../formats/own/interpret';
import { readFormat } from '../../formats/own/read';
import { FormatSchema } from '../../formats/own/schema';
import { writeFormat } from '../own/write';
import { describeExample } from './describe';

const target = targetWith({
  seats: SEATS.map((name, i) => ({
    kind: 'channel',
    id: name.toLowerCase(),
    name,
    channel: i + 1,
  })),
});
const latin = (bytes: Uint8Array) => Buffer.from(bytes).toString('latin1');

/** One pair explains a format; then a song at another PPQ, tempo and meter is written by it. */
const PAIRS = [
  [
    'tempos that change',
    {
      seed: 7,
      name: 'ferry',
      ppq: 480,
      tempos: [
        [0, 97],
        [3, 121],
        [6, 88],
      ],
      meter: [4, 4],
    },
    {
      seed: 4711,
      name: 'heron',
      ppq: 960,
      tempos: [
        [0, 133],
        [2, 71.5],
      ],
      meter: [3, 4],
    },
  ],
  [
    'one tempo, and then two',
    { seed: 99, name: 'gull', ppq: 480, tempos: [[0, 140]], meter: [4, 4] },
    {
      seed: 31,
      name: 'eel',
      ppq: 192,
      tempos: [
        [0, 66],
        [5, 180],
      ],
      meter: [3, 4],
    },
  ],
] as const;

describe('formats of others, by one example', () => {
  for (const [tempos, of, unseenOf] of PAIRS) {
    const pair = songOf(of, target);
    const unseen = songOf(unseenOf, target);
    for (const { what, file, write, tells = 'clock', doubtful = false } of FOREIGN)
      it(`${what} (${tempos})`, () => {
        const found = describeExample(write(pair), file, pair.piece, target);
        if ('problem' in found) throw new Error(found.problem);
        const told = found.findings.map((f) => `${f.is} ${f.where}: ${f.says}`).join('\n');
        expect(found.identical, told).toBe(true);
        expect(FormatSchema.safeParse(found.format).error, told).toBeUndefined();
        expect(doubtsOf(found.format).length > 0).toBe(doubtful);
        const [own] = writeFormat(found.format, [unseen.piece], target).files;
        expect(latin(own!.bytes), told).toBe(latin(write(unseen)));
        const read = readFormat(found.format.files[0]!, own!.bytes);
        expect(read.problem, told).toBeUndefined();
        const back = placesIn(interpret(read.file!, target), tells);
        const meant = placesOf(unseen, tells);
        expect(back.map(([key]) => key)).toEqual(meant.map(([key]) => key));
        const off = back.map(([, place], i) => Math.abs(place - meant[i]![1]));
        expect(Math.max(...off)).toBeLessThan(NEAR[tells]);
      });
  }
});

type Place = readonly [key: number, at: number];
/** Nearer than a frame of 25 a second, or than half a sixteenth, is the same place. */
const NEAR: Readonly<Record<Tells, number>> = { clock: 2, quarters: 0.126, bars: Infinity };
const inOrder = (places: readonly Place[]) =>
  [...places].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
const placesIn = ({ notes }: ToldMusic, tells: Tells) =>
  inOrder(
    notes.map((n): Place => [
      n.key!,
      tells === 'clock' ? n.startUs / 1000 : (n.startQuarters ?? 0),
    ]),
  );
const placesOf = ({ notes, ms, ppq }: Foreign, tells: Tells) =>
  inOrder(notes.map((n): Place => [n.key, tells === 'clock' ? ms(n.tick) : n.tick / ppq]));

it('tempos are told by the clock, in rows of their own or beside each note', () => {
  const of = PAIRS[0][1];
  const t = songOf(of, target);
  for (const file of ['head.json', 'tempo.csv']) {
    const { write } = FOREIGN.find((f) => f.file === file)!;
    const found = describeExample(write(t), file, t.piece, target);
    if ('problem' in found) throw new Error(found.problem);
    const read = readFormat(found.format.files[0]!, write(t));
    const told = interpret(read.file!, target).tempos;
    expect(
      told.map((x) => Math.round(60e6 / x.microsecondsPerQuarter)),
      file,
    ).toEqual([97, 121, 88]);
    // Beside notes a tempo is told with the first that it holds for.
    const late = told.map((x, i) => x.quarters - of.tempos[i]![0] * 4);
    for (const quarters of late) expect(quarters).toBeGreaterThanOrEqual(0);
    for (const quarters of late) expect(quarters).toBeLessThan(file === 'head.json' ? 1e-9 : 1.01);
  }
});
