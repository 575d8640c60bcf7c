import type { Maps } from '../score/inventory';
import type { NoteColumns } from '../score/score';
import { count, plain } from '../target/words';

/** How a part would play as a chart: 0 to 1, with what was measured. */
export interface ChartWorth {
  readonly worth: number;
  /** Strikes a second where it plays; chords are one strike. */
  readonly strikesASecond: number;
  /** Keys in use. */
  readonly keys: number;
  /** Share of strikes that repeat the one before. */
  readonly repeats: number;
  /** Share of strikes of more than two notes. */
  readonly crowded: number;
  /** Share of the bars of the piece in which something is struck. */
  readonly bars: number;
  readonly why: string;
}

/** A rest this long is not counted in the density: nothing is to be played there. */
const REST_MS = 4000;

/** 1 inside the range, falling to 0 at the outer limits. */
const within = (x: number, [out, low, high, far]: readonly [number, number, number, number]) =>
  x < low
    ? Math.max(0, (x - out) / Math.max(1e-9, low - out))
    : x > high
      ? Math.max(0, (far - x) / (far - high))
      : 1;

const percent = (share: number) => `${Math.round(share * 100)} %`;

/**
 * Dense enough to play and not too dense for hands, moving over several keys, seldom the same again,
 * through most of the song. Linear in notes.
 */
export function chartWorth(
  notes: Pick<NoteColumns, 'count' | 'start' | 'noteNumber'>,
  { clock, bars }: Pick<Maps, 'clock' | 'bars'>,
  endTick: number,
): ChartWorth | null {
  if (notes.count === 0) return null;
  const keys = new Set<number>();
  const struckBars = new Set<number>();
  let [strikes, repeats, crowded, playedMs] = [0, 0, 0, 0];
  let [before, beforeMs] = ['', -Infinity];
  for (let first = 0; first < notes.count;) {
    let next = first + 1;
    while (next < notes.count && notes.start[next] === notes.start[first]) next++;
    const chord: number[] = [];
    for (let i = first; i < next; i++) {
      chord.push(notes.noteNumber[i]!);
      keys.add(notes.noteNumber[i]!);
    }
    const now = chord.sort((a, b) => a - b).join();
    const ms = clock.msAt(notes.start[first]!);
    if (ms - beforeMs < REST_MS) playedMs += ms - beforeMs;
    if (now === before) repeats++;
    if (chord.length > 2) crowded++;
    strikes++;
    struckBars.add(bars.barAt(notes.start[first]!));
    [before, beforeMs] = [now, ms];
    first = next;
  }
  const strikesASecond = playedMs > 0 ? (strikes - 1) / (playedMs / 1000) : 0;
  const allBars = bars.barAt(Math.max(0, endTick - 1)) + 1;
  const shares = {
    repeats: repeats / Math.max(1, strikes - 1),
    crowded: crowded / strikes,
    bars: Math.min(1, struckBars.size / Math.max(1, allBars)),
  };
  const worth =
    within(strikesASecond, [0.3, 1.5, 6, 14]) *
    within(keys.size, [1, 5, 40, 128]) *
    (1 - 0.6 * shares.repeats) *
    (1 - 0.5 * shares.crowded) *
    (0.4 + 0.6 * shares.bars);
  const why = [
    `${plain(Math.round(strikesASecond * 10) / 10)} strikes a second`,
    count(keys.size, 'key'),
    `${percent(shares.repeats)} struck again`,
    shares.crowded > 0.02 ? `${percent(shares.crowded)} of three and more` : '',
    `in ${percent(shares.bars)} of the bars`,
  ];
  return {
    worth: Math.max(0, Math.min(1, worth)),
    strikesASecond,
    keys: keys.size,
    ...shares,
    why: why.filter(Boolean).join(', '),
  };
}
