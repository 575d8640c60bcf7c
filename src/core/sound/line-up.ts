import { Correlator } from './correlate';
import type { Onsets } from './onsets';

/** Moments at which notes begin, rising, none twice; how much weight each has. */
export interface Struck {
  readonly ms: Float64Array;
  readonly weight: Float32Array;
}

/** Notes that begin within as many ms are one moment. */
const TOGETHER_MS = 15;

/** @param notes beginnings in any order, with their velocities */
export function struckOf(notes: readonly (readonly [ms: number, velocity: number])[]): Struck {
  const sorted = [...notes].sort((a, b) => a[0] - b[0]);
  const ms: number[] = [];
  const sums: number[] = [];
  for (const [at, velocity] of sorted) {
    if (ms.length > 0 && at - ms.at(-1)! <= TOGETHER_MS) sums[sums.length - 1]! += velocity / 100;
    else {
      ms.push(at);
      sums.push(velocity / 100);
    }
  }
  return { ms: Float64Array.from(ms), weight: Float32Array.from(sums, (s) => Math.sqrt(s)) };
}

/** A note’s beginning and the beginning in the sound that it was found to be, by their indices. */
export interface Pair {
  readonly note: number;
  readonly onset: number;
}

/** Where a sound lies beside a score: its time is `offsetMs + score time`. */
interface LineUp {
  readonly offsetMs: number;
  /** 0 to 1: how much better it is than any other place. */
  readonly confidence: number;
}

/** What is told apart in the search. */
const GRID_MS = 8;
/** Standard deviation of what counts as together, in the search. */
const LOOSE_MS = 16;
const WITHIN_MS = 45;
const TRIED = 12;

/** What is the same place: shifts nearer than this are not told apart. */
const SAME_PLACE_MS = 60;

interface Candidate {
  readonly offsetMs: number;
  readonly value: number;
}

/** The shifts at which most weight lies together, best first, each a place of its own. */
function placesOf(struck: Struck, onsets: Onsets): Candidate[] {
  const end = onsets.ms.at(-1) ?? 0;
  const row = new Float64Array(Math.ceil(end / GRID_MS) + 8);
  for (let i = 0; i < onsets.ms.length; i++)
    smear(row, onsets.ms[i]! / GRID_MS, 0.3 + 0.7 * onsets.strength[i]!, LOOSE_MS / GRID_MS);
  const a = new Float64Array(Math.ceil((struck.ms.at(-1) ?? 0) / GRID_MS) + 8);
  for (let i = 0; i < struck.ms.length; i++) lay(a, struck.ms[i]! / GRID_MS, struck.weight[i]!);
  const values = new Correlator(row, a.length).with(a);
  const near = Math.ceil(SAME_PLACE_MS / GRID_MS);
  const found: Candidate[] = [];
  for (let i = 1; i + 1 < values.length; i++) {
    const value = values[i]!;
    if (value <= values[i - 1]! || value < values[i + 1]!) continue;
    const offsetMs = (i - (a.length - 1)) * GRID_MS;
    const last = found.at(-1);
    if (last && (offsetMs - last.offsetMs) / GRID_MS < near) {
      if (value > last.value) found[found.length - 1] = { offsetMs, value };
    } else found.push({ offsetMs, value });
  }
  return found.sort((x, y) => y.value - x.value || x.offsetMs - y.offsetMs);
}

/** Puts a weight between two neighbours of a grid. */
function lay(to: Float64Array, at: number, weight: number) {
  const low = Math.floor(at);
  const part = at - low;
  if (low < 0 || low + 1 >= to.length) return;
  to[low]! += weight * (1 - part);
  to[low + 1]! += weight * part;
}

/** Puts a weight on a grid as a bell of the given width. */
function smear(to: Float64Array, at: number, weight: number, sigma: number) {
  const reach = Math.ceil(sigma * 3);
  for (let i = Math.max(0, Math.round(at) - reach); i <= Math.round(at) + reach; i++)
    if (i < to.length) to[i]! += weight * Math.exp(-0.5 * ((i - at) / sigma) ** 2);
}

/** Pairs of what lies nearest to each other, each once; linear. */
export function pairsAt(struck: Struck, onsets: Onsets, offsetMs: number): Pair[] {
  const pairs: Pair[] = [];
  let j = 0;
  for (let i = 0; i < struck.ms.length; i++) {
    const at = offsetMs + struck.ms[i]!;
    while (
      j + 1 < onsets.ms.length &&
      Math.abs(onsets.ms[j + 1]! - at) <= Math.abs(onsets.ms[j]! - at)
    )
      j++;
    if (j >= onsets.ms.length) break;
    const off = Math.abs(onsets.ms[j]! - at);
    if (off > WITHIN_MS) continue;
    const before = pairs.at(-1);
    if (before?.onset === j) {
      const was = Math.abs(onsets.ms[j]! - (offsetMs + struck.ms[before.note]!));
      if (off < was) pairs[pairs.length - 1] = { note: i, onset: j };
      continue;
    }
    pairs.push({ note: i, onset: j });
  }
  return pairs;
}

const weightOf = (struck: Struck, pairs: readonly Pair[]) =>
  pairs.reduce((sum, p) => sum + struck.weight[p.note]!, 0);

/** The middle of what is left over at a place. */
export function middleOff(struck: Struck, onsets: Onsets, pairs: readonly Pair[]): number {
  const offs = Float64Array.from(
    pairs,
    ({ note, onset }) => onsets.ms[onset]! - struck.ms[note]!,
  ).sort();
  return offs[offs.length >> 1] ?? 0;
}

/** How well a place fits: pairs count less the further they are apart. */
function fitAt(struck: Struck, onsets: Onsets, offsetMs: number) {
  let offset = offsetMs;
  let pairs = pairsAt(struck, onsets, offset);
  for (let round = 0; round < 2 && pairs.length > 0; round++) {
    offset = middleOff(struck, onsets, pairs);
    pairs = pairsAt(struck, onsets, offset);
  }
  const value = pairs.reduce((sum, { note, onset }) => {
    const off = onsets.ms[onset]! - offset - struck.ms[note]!;
    return (
      sum +
      struck.weight[note]! *
        (0.3 + 0.7 * onsets.strength[onset]!) *
        Math.exp(-0.5 * (off / 15) ** 2)
    );
  }, 0);
  return { offsetMs: offset, pairs, value };
}

/**
 * Where a sound lies beside the beginnings of notes by their beginnings alone: one offset. n log n; for
 * the rule that holds both beside each other. Where it is asked for, `align` looks at what sounds.
 */
export function lineUp(struck: Struck, onsets: Onsets): LineUp | null {
  if (struck.ms.length === 0 || onsets.ms.length === 0) return null;
  const fits = placesOf(struck, onsets)
    .slice(0, TRIED)
    .map((c) => fitAt(struck, onsets, c.offsetMs))
    .sort((a, b) => b.value - a.value || a.offsetMs - b.offsetMs);
  const [best] = fits;
  if (!best || best.pairs.length === 0) return null;
  const other = fits.find((f) => Math.abs(f.offsetMs - best.offsetMs) > SAME_PLACE_MS);
  const all = struck.weight.reduce((a, b) => a + b, 0);
  const share = weightOf(struck, best.pairs) / all;
  const apart = 1 - (other?.value ?? 0) / Math.max(1e-9, best.value);
  // As many as meet by chance say nothing.
  const chance = Math.min(0.9, (onsets.ms.length * 2 * WITHIN_MS) / Math.max(1, onsets.ms.at(-1)!));
  const sure = Math.max(0, (share - chance * 0.8) / (1 - chance * 0.8));
  return {
    offsetMs: best.offsetMs,
    confidence: Math.max(0, Math.min(1, Math.sqrt(sure) * Math.min(1, apart * 8))),
  };
}
