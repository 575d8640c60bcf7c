import { FreePlaces } from './free-places';
import { mapsOf } from '../score/inventory';
import { sortByKey } from '../score/columns';
import { isIn, ticksPerQuarterOf, type Score } from '../score/score';

/** All notes of a score in order of start, in both measures of time. */
export interface MusicLine {
  count: number;
  start: Float64Array;
  length: Float64Array;
  ms: Float64Array;
  lengthMs: Float64Array;
  key: Uint8Array;
  velocity: Uint8Array;
  channel: Uint8Array;
}

export type TimeBase = 'clock' | 'quarters';

function lineOf(score: Score, base: TimeBase): MusicLine {
  const { clock } = mapsOf(score);
  const parts = score.parts.filter(isIn);
  const total = parts.reduce((n, p) => n + p.notes.count, 0);
  const ticks = new Int32Array(total);
  const part = new Uint32Array(total);
  const index = new Uint32Array(total);
  let at = 0;
  parts.forEach((p, k) => {
    ticks.set(p.notes.start, at);
    for (let i = 0; i < p.notes.count; i++) {
      part[at] = k;
      index[at++] = i;
    }
  });
  const order = sortByKey(ticks);
  const quarter = 1 / ticksPerQuarterOf(score.division);
  const line: MusicLine = {
    count: total,
    start: new Float64Array(total),
    length: new Float64Array(total),
    ms: new Float64Array(total),
    lengthMs: new Float64Array(total),
    key: new Uint8Array(total),
    velocity: new Uint8Array(total),
    channel: new Uint8Array(total),
  };
  for (let n = 0; n < total; n++) {
    const p = parts[part[order[n]!]!]!;
    const i = index[order[n]!]!;
    const from = p.notes.start[i]!;
    const to = p.notes.end[i]!;
    line.ms[n] = clock.msAt(from);
    line.lengthMs[n] = clock.msAt(to) - line.ms[n]!;
    line.start[n] = base === 'clock' ? line.ms[n]! : from * quarter;
    line.length[n] = base === 'clock' ? line.lengthMs[n]! : (to - from) * quarter;
    line.key[n] = p.notes.noteNumber[i]!;
    line.velocity[n] = p.notes.velocity[i]!;
    line.channel[n] = p.channel;
  }
  return line;
}

/** Notes of each key, in order of start. */
function byKey(line: MusicLine): Uint32Array[] {
  const counts = new Uint32Array(128);
  for (let n = 0; n < line.count; n++) counts[line.key[n]!]!++;
  const lists = Array.from(counts, (c) => new Uint32Array(c));
  counts.fill(0);
  for (let n = 0; n < line.count; n++) {
    const key = line.key[n]!;
    lists[key]![counts[key]!++] = n;
  }
  return lists;
}

/** Of more notes than this at one place on one key which is which says nothing any more. */
const MOST_LOOKED_AT = 256;
const SAMPLES = 400;
const MOST_VOTES_A_SAMPLE = 4000;

/**
 * The shift that most notes share: sampled notes of A vote for their distance to every note of B on
 * the same key, in bins of twice the tolerance; the fullest pair of bins wins.
 */
function commonShift(a: MusicLine, b: MusicLine, tolerance: number) {
  const keysB = byKey(b);
  const bin = tolerance * 2;
  const votes = new Map<number, { votes: number; sum: number }>();
  const step = Math.max(1, Math.floor(a.count / SAMPLES));
  let asked = 0;
  for (let n = 0; n < a.count; n += step) {
    const list = keysB[a.key[n]!]!;
    if (list.length === 0) continue;
    asked++;
    const stride = Math.max(1, Math.ceil(list.length / MOST_VOTES_A_SAMPLE));
    for (let k = 0; k < list.length; k += stride) {
      const by = b.start[list[k]!]! - a.start[n]!;
      const slot = Math.round(by / bin);
      const known = votes.get(slot);
      if (known) {
        known.votes++;
        known.sum += by;
      } else votes.set(slot, { votes: 1, sum: by });
    }
  }
  let best = { votes: 0, sum: 0 };
  for (const [slot, here] of votes) {
    const next = votes.get(slot + 1);
    const both = { votes: here.votes + (next?.votes ?? 0), sum: here.sum + (next?.sum ?? 0) };
    // Of equals the smallest shift is the likeliest.
    const less = Math.abs(both.sum / both.votes) < Math.abs(best.sum / (best.votes || 1));
    if (both.votes > best.votes || (both.votes === best.votes && less)) best = both;
  }
  return {
    shift: best.votes === 0 ? 0 : best.sum / best.votes,
    share: asked === 0 ? 0 : best.votes / asked,
  };
}

/** Notes of two files that are the same ones, as far as music tells; by their index in each line. */
export interface MusicMatch {
  readonly a: MusicLine;
  readonly b: MusicLine;
  readonly base: TimeBase;
  /** In quarters or milliseconds. */
  readonly tolerance: number;
  readonly shift: number;
  /** For each note of one the note of the other; −1 where it has none. */
  readonly matchA: Int32Array;
  readonly matchB: Int32Array;
  /** Notes of A that stand elsewhere in B, and that are on another key there. */
  readonly moved: readonly number[];
  readonly otherKey: readonly number[];
}

/** Matches two files despite a shift, another PPQ, another tempo map or another track layout. */
export function matchMusic(scoreA: Score, scoreB: Score): MusicMatch {
  const ppqA = ticksPerQuarterOf(scoreA.division);
  const ppqB = ticksPerQuarterOf(scoreB.division);
  const tickMs = (s: Score, ppq: number) => mapsOf(s).clock.tempoAt(0) / 1000 / ppq;
  // Within this two notes stand at one place: half a tick of the coarser file, or less than a tick
  // where both count alike.
  const tolerances: Record<TimeBase, number> = {
    quarters: ppqA === ppqB ? 0.49 / ppqA : 0.51 / Math.min(ppqA, ppqB),
    clock: 0.51 * Math.max(tickMs(scoreA, ppqA), tickMs(scoreB, ppqB)),
  };
  const trials = (['quarters', 'clock'] as const).map((base) => {
    const a = lineOf(scoreA, base);
    const b = lineOf(scoreB, base);
    return { base, a, b, tolerance: tolerances[base], ...commonShift(a, b, tolerances[base]) };
  });
  // Quarters are exact; the clock is taken where it matches clearly more.
  const chosen = trials[1]!.share > trials[0]!.share * 1.02 ? trials[1]! : trials[0]!;
  const { a, b, base, tolerance, shift } = chosen;

  const matchA = new Int32Array(a.count).fill(-1);
  const matchB = new Int32Array(b.count).fill(-1);
  const keysA = byKey(a);
  const keysB = byKey(b);
  const pair = (x: number, y: number) => {
    matchA[x] = y;
    matchB[y] = x;
  };
  for (let key = 0; key < 128; key++)
    pairInPlace(a, b, keysA[key]!, keysB[key]!, shift, tolerance, pair);
  // What is left on a key and stands near is taken as moved.
  const reach = base === 'clock' ? 1000 : 2;
  const moved: number[] = [];
  for (let key = 0; key < 128; key++) {
    const left = keysA[key]!.filter((n) => matchA[n]! < 0);
    const free = keysB[key]!.filter((n) => matchB[n]! < 0);
    const places = new FreePlaces(free.length);
    let k = 0;
    for (const x of left) {
      const wanted = a.start[x]! + shift;
      while (k < free.length && b.start[free[k]!]! < wanted) k++;
      // The nearest on either side; of two as near the earlier one.
      const [before, behind] = [places.last(k - 1), places.next(k)];
      const away = (j: number) =>
        j < 0 || j >= free.length ? Infinity : Math.abs(b.start[free[j]!]! - wanted);
      const best = away(behind) < away(before) ? behind : before;
      if (away(best) > reach) continue;
      places.take(best);
      pair(x, free[best]!);
      moved.push(x);
    }
  }
  // A note at the same place, of the same length, on another key was put on another key.
  const otherKey: number[] = [];
  const leftA = unmatched(matchA);
  const leftB = unmatched(matchB);
  const places = new FreePlaces(leftB.length);
  let k = 0;
  for (const x of leftA) {
    const wanted = a.start[x]! + shift;
    while (k < leftB.length && b.start[leftB[k]!]! < wanted - tolerance) k++;
    let looked = 0;
    for (let j = places.next(k); j < leftB.length; j = places.next(j + 1)) {
      const y = leftB[j]!;
      if (b.start[y]! > wanted + tolerance || looked++ === MOST_LOOKED_AT) break;
      if (Math.abs(b.length[y]! - a.length[x]!) > tolerance * 2) continue;
      places.take(j);
      pair(x, y);
      otherKey.push(x);
      break;
    }
  }
  return { a, b, base, tolerance, shift, matchA, matchB, moved, otherKey };
}

export const unmatched = (match: Int32Array): number[] => {
  const out: number[] = [];
  match.forEach((m, n) => m < 0 && out.push(n));
  return out;
};

/** Two sorted lists of one key walked together; of several in reach the one of the same length. */
function pairInPlace(
  a: MusicLine,
  b: MusicLine,
  listA: Uint32Array,
  listB: Uint32Array,
  shift: number,
  tolerance: number,
  pair: (x: number, y: number) => void,
) {
  const places = new FreePlaces(listB.length);
  let k = 0;
  for (const x of listA) {
    const wanted = a.start[x]! + shift;
    while (k < listB.length && b.start[listB[k]!]! < wanted - tolerance) k++;
    let best = -1;
    let looked = 0;
    for (let j = places.next(k); j < listB.length; j = places.next(j + 1)) {
      if (b.start[listB[j]!]! > wanted + tolerance || looked++ === MOST_LOOKED_AT) break;
      const off = (i: number) =>
        Math.abs(b.length[listB[i]!]! - a.length[x]!) +
        (b.velocity[listB[i]!] === a.velocity[x] ? 0 : tolerance / 2) +
        (b.channel[listB[i]!] === a.channel[x] ? 0 : tolerance / 4);
      if (best < 0 || off(j) < off(best)) best = j;
    }
    if (best < 0) continue;
    places.take(best);
    pair(x, listB[best]!);
  }
}
