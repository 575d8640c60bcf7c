import { openingsOf, type Pair, type Struck } from './line-up';
import type { Onsets } from './onsets';

/** Ways that are kept beside each other at each note. */
const WIDTH = 24;
/** Notes in a row that may be missing in the sound. */
const MOST_MISSING = 6;
/** How far the tempo may be from that of the score, up or down. */
const FARTHEST = 1.45;
const MISS = 1.1;
/** What a beginning in the sound costs that no note explains. */
const SPARE = 0.45;
/** And before the first or behind the last note: a sound may have more than the score. */
const SPARE_OUTSIDE = 0.3;
const TEMPO = 90;
const WEIGHT_OF_OFF = 0.0012;

interface Way {
  readonly note: number;
  readonly onset: number;
  readonly ratio: number;
  readonly cost: number;
  readonly before: Way | null;
}

/** A way through score and sound, and what it costs: less is better. */
export interface Followed {
  readonly pairs: readonly Pair[];
  readonly cost: number;
}

/** How much of the score tells openings apart; and how many of them are followed to the end. */
const TOLD_APART_MS = 40_000;
const TO_THE_END = 3;

/** The best way from any of the places at which the opening may lie. */
export function followFreely(struck: Struck, onsets: Onsets): Followed {
  const first = struck.ms[0] ?? 0;
  const some = struck.ms.filter((ms) => ms <= first + TOLD_APART_MS).length;
  const opening = { ms: struck.ms.subarray(0, some), weight: struck.weight.subarray(0, some) };
  const whole = some === struck.ms.length;
  const ways = openingsOf(struck, onsets)
    .map(({ offsetMs, ratio }) => {
      const startMs = offsetMs + ratio * first;
      const spareBehind = whole;
      return { startMs, ratio, tried: follow(opening, onsets, startMs, { ratio, spareBehind }) };
    })
    .sort((a, b) => a.tried.cost - b.tried.cost);
  if (whole) return ways[0]?.tried ?? NOWHERE;
  let best = NOWHERE;
  for (const { startMs, ratio } of ways.slice(0, TO_THE_END)) {
    const tried = follow(struck, onsets, startMs, { ratio });
    if (tried.cost < best.cost) best = tried;
  }
  return best;
}

const NOWHERE: Followed = { pairs: [], cost: Infinity };

/**
 * Goes along score and sound together where the tempo of the playing wanders: of all ways to pair
 * beginnings the one with the steadiest tempo and the fewest left over, by beam search. Each note
 * looks at as many onsets as lie within the tempos that are possible.
 *
 * @param startMs where the sound has the first note, as far as is known
 */
export function follow(
  struck: Struck,
  onsets: Onsets,
  startMs: number,
  { startWithinMs = 500, ratio = 1, spareBehind = true } = {},
): Followed {
  const n = struck.ms.length;
  if (n === 0 || onsets.ms.length === 0) return NOWHERE;
  const layers: Way[][] = [];
  const sums = weightBefore(onsets);
  const spared = (from: number, to: number) => sums[to]! - sums[from + 1]!;
  const first = struck.ms[0]!;
  for (let i = 0; i < n; i++) {
    const found = new Map<number, Way>();
    const keep = (way: Way) => {
      const known = found.get(way.onset);
      if (!known || way.cost < known.cost) found.set(way.onset, way);
    };
    if (i < MOST_MISSING) {
      const expected = startMs + (struck.ms[i]! - first) * ratio;
      for (
        let j = firstAtOrBehind(onsets.ms, expected - startWithinMs);
        j < onsets.ms.length && onsets.ms[j]! <= expected + startWithinMs;
        j++
      ) {
        const off = Math.abs(onsets.ms[j]! - expected);
        const cost = i * MISS + off * WEIGHT_OF_OFF + spared(-1, j) * SPARE_OUTSIDE;
        keep({ note: i, onset: j, ratio, cost, before: null });
      }
    }
    for (let back = 1; back <= MOST_MISSING && i - back >= 0; back++) {
      const gap = struck.ms[i]! - struck.ms[i - back]!;
      for (const way of layers[i - back]!) {
        const from = onsets.ms[way.onset]!;
        const low = from + (gap * way.ratio) / FARTHEST - 25;
        const high = from + gap * way.ratio * FARTHEST + 25;
        for (
          let j = Math.max(way.onset + 1, firstAtOrBehind(onsets.ms, low));
          j < onsets.ms.length && onsets.ms[j]! <= high;
          j++
        ) {
          const took = onsets.ms[j]! - from;
          // A short gap says little of the tempo: a few ms are the hand, not the pulse.
          const trust = gap / (gap + 60);
          const turned = Math.log(took / Math.max(1, gap * way.ratio)) * trust;
          const turn = TEMPO * turned * turned;
          const spare = spared(way.onset, j) * SPARE;
          const cost = way.cost + turn + spare + (back - 1) * MISS - 0.2 * onsets.strength[j]!;
          const share = Math.min(0.5, gap / 1500);
          const next = way.ratio * (took / Math.max(1, gap * way.ratio)) ** share;
          keep({ note: i, onset: j, ratio: clamp(next), cost, before: way });
        }
      }
    }
    layers.push([...found.values()].sort((a, b) => a.cost - b.cost).slice(0, WIDTH));
  }
  let best: Way | null = null;
  let least = Infinity;
  for (let i = Math.max(0, n - MOST_MISSING * 2); i < n; i++)
    for (const way of layers[i]!) {
      const behind = spareBehind ? spared(way.onset, onsets.ms.length) * SPARE_OUTSIDE : 0;
      const cost = way.cost + (n - 1 - i) * MISS + behind;
      if (cost < least) {
        least = cost;
        best = way;
      }
    }
  const pairs: Pair[] = [];
  for (let way = best; way; way = way.before) pairs.push({ note: way.note, onset: way.onset });
  return { pairs: pairs.reverse(), cost: least };
}

const clamp = (ratio: number) => Math.max(1 / FARTHEST, Math.min(FARTHEST, ratio));

/** Weight of the beginnings before each, so that those between two are one subtraction. */
function weightBefore({ strength }: Onsets): Float64Array {
  const sums = new Float64Array(strength.length + 1);
  for (let j = 0; j < strength.length; j++) sums[j + 1] = sums[j]! + 0.25 + 0.75 * strength[j]!;
  return sums;
}

function firstAtOrBehind(sorted: Float64Array, value: number): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const mid = (low + high) >> 1;
    if (sorted[mid]! < value) low = mid + 1;
    else high = mid;
  }
  return low;
}
