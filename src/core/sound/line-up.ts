import type { Checkpoint } from '../diagnostic/checkpoint';
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

/** Where a sound lies beside a score: its time is `offsetMs + ratio × score time`. */
export interface LineUp {
  readonly offsetMs: number;
  /** Above 1 the sound is slower than the score. */
  readonly ratio: number;
  /** Of the weight of all beginnings of notes, how much was matched; 0 to 1. */
  readonly share: number;
  /** 0 to 1: how much better it is than any other place. */
  readonly confidence: number;
  readonly pairs: readonly Pair[];
}

/** What is told apart in the search. */
const GRID_MS = 8;
/** Standard deviation of what counts as together, in the search. */
const LOOSE_MS = 16;
const WITHIN_MS = 45;
const TRIED = 12;
/** While the tempo is looked for as well, many ratios are held against each other, each coarsely. */
const COARSE_GRID_MS = 16;
const COARSE_LOOSE_MS = 28;
const COARSE_TRIED = 3;

/** What is the same place: shifts nearer than this are not told apart. */
const SAME_PLACE_MS = 60;

interface Candidate {
  readonly offsetMs: number;
  readonly value: number;
}

/** The beginnings of a sound as they are searched through. */
class Ground {
  private readonly correlator: Correlator;
  constructor(
    private readonly struck: Struck,
    readonly onsets: Onsets,
    private readonly gridMs: number,
    looseMs: number,
    private readonly toMs = Infinity,
    untilMs = Infinity,
    farthestRatio = FARTHEST_RATIO,
  ) {
    const end = Math.min(untilMs, onsets.ms.at(-1) ?? 0);
    const row = new Float64Array(Math.ceil(end / gridMs) + 8);
    for (let i = 0; i < onsets.ms.length && onsets.ms[i]! <= end; i++)
      smear(row, onsets.ms[i]! / gridMs, 0.3 + 0.7 * onsets.strength[i]!, looseMs / gridMs);
    this.correlator = new Correlator(row, this.sizeAt(1 + farthestRatio * 1.1));
  }

  private sizeAt(ratio: number): number {
    const last = Math.min(this.toMs, this.struck.ms.at(-1) ?? 0) * ratio;
    return Math.ceil(last / this.gridMs) + 8;
  }

  /** The shifts at which most weight lies together, best first, each a place of its own. */
  places(ratio: number): Candidate[] {
    const { struck, gridMs, toMs } = this;
    const a = new Float64Array(this.sizeAt(ratio));
    for (let i = 0; i < struck.ms.length && struck.ms[i]! <= toMs; i++)
      lay(a, (struck.ms[i]! * ratio) / gridMs, struck.weight[i]!);
    const values = this.correlator.with(a);
    const near = Math.ceil(SAME_PLACE_MS / gridMs);
    const found: Candidate[] = [];
    for (let i = 1; i + 1 < values.length; i++) {
      const value = values[i]!;
      if (value <= values[i - 1]! || value < values[i + 1]!) continue;
      const offsetMs = (i - (a.length - 1)) * gridMs;
      const last = found.at(-1);
      if (last && (offsetMs - last.offsetMs) / gridMs < near) {
        if (value > last.value) found[found.length - 1] = { offsetMs, value };
      } else found.push({ offsetMs, value });
    }
    return found.sort((x, y) => y.value - x.value || x.offsetMs - y.offsetMs);
  }
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
export function pairsAt(
  struck: Struck,
  onsets: Onsets,
  {
    offsetMs,
    ratio,
    withinMs = WITHIN_MS,
    toMs = Infinity,
  }: {
    offsetMs: number;
    ratio: number;
    withinMs?: number;
    toMs?: number;
  },
): Pair[] {
  const pairs: Pair[] = [];
  let j = 0;
  for (let i = 0; i < struck.ms.length && struck.ms[i]! <= toMs; i++) {
    const at = offsetMs + ratio * struck.ms[i]!;
    while (
      j + 1 < onsets.ms.length &&
      Math.abs(onsets.ms[j + 1]! - at) <= Math.abs(onsets.ms[j]! - at)
    )
      j++;
    if (j >= onsets.ms.length) break;
    const off = Math.abs(onsets.ms[j]! - at);
    if (off > withinMs) continue;
    const before = pairs.at(-1);
    if (before?.onset === j) {
      const was = Math.abs(onsets.ms[j]! - (offsetMs + ratio * struck.ms[before.note]!));
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
export function middleOff(
  struck: Struck,
  onsets: Onsets,
  pairs: readonly Pair[],
  ratio: number,
): number {
  const offs = Float64Array.from(
    pairs,
    ({ note, onset }) => onsets.ms[onset]! - ratio * struck.ms[note]!,
  ).sort();
  return offs[offs.length >> 1] ?? 0;
}

/** How well a place fits: pairs count less the further they are apart. */
function fitAt(struck: Struck, onsets: Onsets, offsetMs: number, ratio: number, toMs?: number) {
  let offset = offsetMs;
  let pairs = pairsAt(struck, onsets, { offsetMs: offset, ratio, ...(toMs ? { toMs } : {}) });
  for (let round = 0; round < 2 && pairs.length > 0; round++) {
    offset = middleOff(struck, onsets, pairs, ratio);
    pairs = pairsAt(struck, onsets, { offsetMs: offset, ratio, ...(toMs ? { toMs } : {}) });
  }
  const value = pairs.reduce((sum, { note, onset }) => {
    const off = onsets.ms[onset]! - offset - ratio * struck.ms[note]!;
    return (
      sum +
      struck.weight[note]! *
        (0.3 + 0.7 * onsets.strength[onset]!) *
        Math.exp(-0.5 * (off / 15) ** 2)
    );
  }, 0);
  return { offsetMs: offset, pairs, value };
}

/** The place of a sound beside a score at one ratio of tempos; null where nothing lies together. */
function bestAt(ground: Ground, struck: Struck, ratio: number, tried: number, toMs?: number) {
  const { onsets } = ground;
  const fits = ground
    .places(ratio)
    .slice(0, tried)
    .map((c) => fitAt(struck, onsets, c.offsetMs, ratio, toMs))
    .sort((a, b) => b.value - a.value || a.offsetMs - b.offsetMs);
  const [best] = fits;
  if (!best || best.pairs.length === 0) return null;
  const other = fits.find((f) => Math.abs(f.offsetMs - best.offsetMs) > SAME_PLACE_MS);
  return { ...best, next: other?.value ?? 0 };
}

const FARTHEST_RATIO = 0.03;
/** How much of the score decides where it begins, when the tempo is looked for as well. */
const FIRST_STRETCH_MS = 45_000;
/** How far into the sound that stretch is looked for. */
const LATEST_START_MS = 120_000;

/**
 * Where a sound lies beside the beginnings of notes: one offset, and where it is asked for one
 * ratio of tempos within 3 %. n log n; the same for the same input on every machine.
 */
export function lineUp(
  struck: Struck,
  onsets: Onsets,
  options: { readonly withTempo?: boolean; readonly checkpoint?: Checkpoint } = {},
): LineUp | null {
  if (struck.ms.length === 0 || onsets.ms.length === 0) return null;
  const ground = new Ground(struck, onsets, GRID_MS, LOOSE_MS);
  let found = bestAt(ground, struck, 1, TRIED);
  let ratio = 1;
  if (options.withTempo) {
    const line = tempoLine(struck, onsets, options.checkpoint);
    const fit = line && fitAt(struck, onsets, line.offsetMs, line.ratio);
    if (fit && (!found || fit.value > found.value)) {
      ratio = line.ratio;
      // What would be next best is looked for at the tempo that was found.
      const next = bestAt(ground, struck, ratio, TRIED);
      const other = next && Math.abs(next.offsetMs - fit.offsetMs) > SAME_PLACE_MS;
      found = { ...fit, next: (other ? next.value : next?.next) ?? 0 };
    }
  }
  if (!found) return null;
  const all = struck.weight.reduce((a, b) => a + b, 0);
  const share = weightOf(struck, found.pairs) / all;
  const apart = 1 - found.next / Math.max(1e-9, found.value);
  // As many as meet by chance say nothing.
  const chance = Math.min(0.9, (onsets.ms.length * 2 * WITHIN_MS) / Math.max(1, onsets.ms.at(-1)!));
  const sure = Math.max(0, (share - chance * 0.8) / (1 - chance * 0.8));
  return {
    offsetMs: found.offsetMs,
    ratio,
    share,
    confidence: Math.max(0, Math.min(1, Math.sqrt(sure) * Math.min(1, apart * 8))),
    pairs: found.pairs,
  };
}

const OPENING_MS = 8_000;
const OPENING_LOOSE_MS = 50;
/** Tempos at which a free playing may begin, against that of the score. */
const OPENING_RATIOS = [1, 0.96, 1.04, 0.92, 1.09, 0.87, 1.15];
const OPENINGS = 5;

export interface Opening {
  readonly offsetMs: number;
  readonly ratio: number;
}

/** Where the opening of a score may lie in a sound that keeps its tempo loosely. */
export function openingsOf(struck: Struck, onsets: Onsets): Opening[] {
  if (struck.ms.length === 0 || onsets.ms.length === 0) return [];
  const toMs = struck.ms[0]! + OPENING_MS;
  const ground = new Ground(struck, onsets, COARSE_GRID_MS, OPENING_LOOSE_MS, toMs, Infinity, 0.16);
  return OPENING_RATIOS.flatMap((ratio) =>
    ground
      .places(ratio)
      .slice(0, OPENINGS)
      .map(({ offsetMs }) => ({ offsetMs, ratio })),
  );
}

/** The tempo by the first stretch, coarsely; then the straight line through all. */
function tempoLine(struck: Struck, onsets: Onsets, checkpoint?: Checkpoint) {
  const first = struck.ms[0]!;
  const toMs = Math.min(struck.ms.at(-1)!, first + FIRST_STRETCH_MS);
  const until = toMs * (1 + FARTHEST_RATIO) + LATEST_START_MS;
  const ground = new Ground(struck, onsets, COARSE_GRID_MS, COARSE_LOOSE_MS, toMs, until);
  // Each ratio moves the end of the stretch by less than what is told apart.
  const step = Math.min(0.002, COARSE_LOOSE_MS / 2 / Math.max(1000, toMs - first));
  const steps = Math.ceil(FARTHEST_RATIO / step);
  let best: { offsetMs: number; ratio: number; value: number } | null = null;
  for (let k = -steps; k <= steps; k++) {
    checkpoint?.(k + steps, 2 * steps + 1);
    const ratio = 1 + k * step;
    const tried = bestAt(ground, struck, ratio, COARSE_TRIED, toMs);
    // Of equals the one nearer to the score’s own tempo.
    const value = (tried?.value ?? 0) * (1 - Math.abs(k) * 1e-6);
    if (tried && value > (best?.value ?? 0)) best = { offsetMs: tried.offsetMs, ratio, value };
  }
  return best && followLine(struck, onsets, best.offsetMs, best.ratio);
}

/** The straight line through pairs, from the first stretch on further and further. */
function followLine(struck: Struck, onsets: Onsets, offsetMs: number, ratio: number) {
  let line = { offsetMs, ratio };
  const first = struck.ms[0]!;
  const last = struck.ms.at(-1)!;
  for (let reach = FIRST_STRETCH_MS / 2; ; reach *= 1.5) {
    const toMs = Math.min(last, first + reach);
    for (let round = 0; round < 3; round++) {
      const pairs = pairsAt(struck, onsets, { ...line, toMs, withinMs: round === 0 ? 50 : 25 });
      if (pairs.length < 8) break;
      line = straightThrough(
        pairs.map((p) => struck.ms[p.note]!),
        pairs.map((p) => onsets.ms[p.onset]!),
      );
    }
    if (toMs >= last) return line;
  }
}

/** Least squares. */
function straightThrough(x: readonly number[], y: readonly number[]) {
  const n = x.length;
  const mx = x.reduce((a, b) => a + b, 0) / n;
  const my = y.reduce((a, b) => a + b, 0) / n;
  let [sxx, sxy] = [0, 0];
  for (let i = 0; i < n; i++) {
    sxx += (x[i]! - mx) ** 2;
    sxy += (x[i]! - mx) * (y[i]! - my);
  }
  const ratio = sxx === 0 ? 1 : sxy / sxx;
  return { ratio, offsetMs: my - ratio * mx };
}
