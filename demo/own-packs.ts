import type { TargetPack } from '../src/core/handover/target-pack';
import { encodeUtf8 } from '../src/core/smf/text';
import { ferryLamps, heronSteps } from './own-targets';
import { smf, Track } from './song';

/** Examples that people of Saltmarsh kept: what was taken, what was refused, and one pair each. */

type Row = readonly [tick: number, length: number, key: number, velocity?: number];
const conductor = (bpm: number) => new Track().tempo(0, bpm).meter(0, 4, 4);
const tune = (bpm: number, channel: number, rows: readonly Row[], end: number): Uint8Array => {
  const track = new Track(channel === 1 ? 'Stones' : 'Lamps');
  for (const [tick, length, key, velocity = 90] of rows)
    track.note(channel, tick, length, key, velocity);
  return smf(1, 480, [conductor(bpm), track], end);
};
const STONES = [60, 62, 64, 65];
const walk = (from: number, order: readonly number[], step = 480): Row[] =>
  order.map((stone, i) => [from + i * step, 240, STONES[stone]!]);

const steady = [0, 1, 2, 3, 2, 1, 0, 1, 2, 3, 3, 2, 1, 1, 0];
const hopping = [0, 2, 1, 3, 1, 2, 0, 0, 1, 2, 2, 3];
/** The heron's two songs, and two that it refused. */
export const heronSongs = {
  'taken/low-water-walk.mid': () => tune(120, 1, walk(1920, steady), 1920 * 6),
  'taken/quay-hop.mid': () => tune(96, 1, walk(1920, hopping, 240), 1920 * 4),
  'refused/too-early.mid': () => tune(120, 1, walk(480, steady), 1920 * 5),
  'refused/five-on-one-stone.mid': () => tune(120, 1, walk(1920, [0, 1, 1, 1, 1, 1, 2]), 1920 * 4),
} as const;

/** What the heron's makers wrote by hand for the first walk, at 120 BPM: half a second a step. */
const heronFile = () =>
  encodeUtf8(
    `${JSON.stringify(
      {
        song: 'low-water-walk',
        pace: 120,
        count: steady.length,
        steps: steady.map((stone, i) => [2000 + i * 500, stone + 1, 250]),
      },
      null,
      1,
    )}\n`,
  );

const lamps: Row[] = [
  [0, 480, 48, 127],
  [480, 480, 50, 64],
  [960, 960, 52, 100],
  [1920, 240, 59, 32],
  [2400, 480, 48, 80],
];
export const lampSongs = {
  'taken/first-crossing.mid': () => tune(120, 3, lamps, 1920 * 2),
  'taken/fog-bank.mid': () =>
    tune(
      90,
      3,
      [
        [0, 960, 53],
        [960, 960, 55],
        [1920, 960, 57],
      ],
      1920 * 2,
    ),
  'refused/too-short.mid': () =>
    tune(
      120,
      3,
      [
        [0, 480, 48],
        [960, 30, 50],
      ],
      1920,
    ),
  'refused/above-the-rail.mid': () =>
    tune(
      120,
      3,
      [
        [0, 480, 48],
        [960, 480, 60],
      ],
      1920,
    ),
} as const;

/** Twenty frames a second; at 120 BPM a quarter is ten. */
const lampFile = () => {
  const line = ([tick, length, key, velocity = 90]: Row) =>
    `${String((tick * 10) / 480).padStart(6, '0')} ${String(key - 47).padStart(2, '0')} for ` +
    `${(length * 10) / 480} at ${Math.round((velocity * 100) / 127)}%`;
  return encodeUtf8(['lamps of first-crossing', ...lamps.map(line), 'dark', ''].join('\r\n'));
};

const made = (songs: Readonly<Record<string, () => Uint8Array>>) =>
  Object.entries(songs).map(([name, bytes]): [string, Uint8Array] => [name, bytes()]);

export const ownPacks: Readonly<Record<string, () => TargetPack>> = {
  'heron-steps.quilltarget': () => ({
    target: heronSteps,
    examples: {
      packVersion: 1,
      taken: [
        { file: 'taken/low-water-walk.mid' },
        { file: 'taken/quay-hop.mid', note: 'Played twice on the quay, both times to the end' },
      ],
      refused: [
        { file: 'refused/too-early.mid', finds: 'first-note' },
        { file: 'refused/five-on-one-stone.mid', finds: 'Too many steps on one stone' },
      ],
      pairs: [{ score: 'taken/low-water-walk.mid', file: 'pairs/low-water-walk.steps.json' }],
    },
    files: new Map([...made(heronSongs), ['pairs/low-water-walk.steps.json', heronFile()]]),
  }),
  'ferry-lamps.quilltarget': () => ({
    target: ferryLamps,
    examples: {
      packVersion: 1,
      taken: [{ file: 'taken/first-crossing.mid' }, { file: 'taken/fog-bank.mid' }],
      refused: [
        { file: 'refused/too-short.mid', finds: 'too-short' },
        { file: 'refused/above-the-rail.mid', finds: 'out-of-range' },
      ],
      pairs: [{ score: 'taken/first-crossing.mid', file: 'pairs/LAMPS.TXT' }],
    },
    files: new Map([...made(lampSongs), ['pairs/LAMPS.TXT', lampFile()]]),
  }),
};

/** Songs of the week that are meant for targets of somebody's own. */
export const ownJobs = [
  {
    id: 'demo-heron-walk',
    title: 'Heron walk',
    file: 'heron-walk.mid',
    target: heronSteps.id,
    // Begins too early, stays on one stone, and jumps further than a heron does.
    bytes: () =>
      tune(
        132,
        1,
        [...walk(480, [0, 1, 2, 2, 2, 2, 2, 3, 0, 1, 3, 2, 1, 0]), [9600, 480, 67]],
        1920 * 7,
      ),
  },
  {
    id: 'demo-lamps-at-dusk',
    title: 'Lamps at dusk',
    file: 'lamps-at-dusk.mid',
    target: ferryLamps.id,
    bytes: () =>
      tune(
        104,
        3,
        [
          [0, 480, 48, 100],
          [120, 30, 48, 60],
          [960, 480, 52, 90],
          [1440, 480, 61, 90],
          [1920, 960, 57, 127],
          [2880, 960, 59, 20],
        ],
        1920 * 3,
      ),
  },
] as const;
