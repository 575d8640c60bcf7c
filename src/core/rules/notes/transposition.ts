import type { Importance } from '../../reading/importance/importance';
import type { Part } from '../../score/score';
import { foldKey } from '../../steps/pitch';
import { allowedKeys, limitsFor, type Limits } from '../../target/limits';
import type { Target } from '../../target/schema';
import { count } from '../../target/words';

/** What becomes of a part: semitones up, and what its seat takes. */
interface Move {
  readonly part: Part;
  readonly by: number;
  readonly limits: Limits | null;
}

export interface Common {
  /** Semitones of all, octaves apart: −5 to 6. */
  readonly semitones: number;
  readonly moves: readonly Move[];
  /** Shares of their notes that the target has, after and now; an octave away counts as having it. */
  readonly share: number;
  readonly now: number;
  /** Some of the music has no key in any octave now, and has one after. */
  readonly gains: boolean;
}

/** Parts by what is alike of them, in the order in which it comes. */
export function alike<K>(moves: readonly Move[], of: (move: Move) => K): [K, Part[]][] {
  const out = new Map<K, Part[]>();
  for (const m of moves) out.set(of(m), [...(out.get(of(m)) ?? []), m.part]);
  return [...out];
}

export function sayMoves({ semitones, moves }: Common): string {
  const direction = (by: number) => `${by > 0 ? 'up' : 'down'} ${count(Math.abs(by), 'semitone')}`;
  const [first] = moves;
  if (moves.every((m) => m.by === first!.by)) return `Everything ${direction(first!.by)}`;
  return semitones === 0
    ? 'Each part in its octave'
    : `Everything ${direction(semitones)}, each part in its octave`;
}

/** So much of the music is worth that all of it is transposed before anything else is done. */
const GAIN = 0.01;
/** What an octave away is worth of what has a key, and what a move costs, in shares of the music. */
const FOLDED = 0.9;
const OTHER_KEY = 0.985;
const PER_SEMITONE = 0.0004;
const MOST_OCTAVES = 4;

interface Fit {
  readonly direct: number;
  readonly folded: number;
}

/** How often a part has each key, by notes and by their weight, and which of them there are. */
interface Counted {
  readonly part: Part;
  readonly limits: Limits | null;
  readonly allowed: readonly boolean[];
  readonly keys: Uint32Array;
  readonly weights: Float64Array;
  /** Of its weights. */
  readonly total: number;
  readonly lowest: number;
  readonly highest: number;
}

function fitOf({ allowed, keys, weights }: Counted, by: number, of: 'keys' | 'weights'): Fit {
  const counted = of === 'keys' ? keys : weights;
  let [direct, folded] = [0, 0];
  for (let key = Math.max(0, -by); key < 128 && key + by < 128; key++) {
    if (counted[key] === 0) continue;
    if (allowed[key + by]) direct += counted[key]!;
    else if (foldKey(key + by, allowed) >= 0) folded += counted[key]!;
  }
  return { direct, folded };
}

/**
 * The one transposition of everything that sounds together, drums excepted, with the octave of each part,
 * under which most of the music has a key or one of its octaves, the tune and the bass before the rest;
 * the smallest move of two that are as good.
 */
export function transpositionFor(
  parts: readonly Part[],
  target: Target,
  { weight }: Importance,
): Common | null {
  const counted = parts
    .filter(
      (p) =>
        p.channel !== 10 &&
        p.notes.count > 0 &&
        target.seats.find((s) => s.id === p.seat)?.kind !== 'laneGroup',
    )
    .map((part): Counted => {
      const limits = limitsFor(target, part) ?? null;
      const limited = limits && limits.only?.length !== 1 ? limits : null;
      const keys = new Uint32Array(128);
      const weights = new Float64Array(128);
      let total = 0;
      for (let i = 0; i < part.notes.count; i++) {
        const key = part.notes.noteNumber[i]!;
        keys[key]!++;
        const worth = weight[part.notes.origin[i]!] || 1;
        weights[key]! += worth;
        total += worth;
      }
      return {
        part,
        limits: limited,
        allowed: limited ? allowedKeys(limited) : [],
        keys,
        weights,
        total,
        lowest: keys.findIndex((n) => n > 0),
        highest: keys.findLastIndex((n) => n > 0),
      };
    });
  const limited = counted.filter((c) => c.limits !== null);
  if (limited.length === 0) return null;
  const sum = (of: 'keys' | 'weights') => {
    let all = 0;
    for (const { [of]: own } of limited) for (const n of own) all += n;
    return all;
  };
  const total = sum('weights');
  const all = (moves: readonly number[], of: 'keys' | 'weights') =>
    limited.reduce(
      (f, c) => {
        const own = fitOf(c, moves[counted.indexOf(c)]!, of);
        return { direct: f.direct + own.direct, folded: f.folded + own.folded };
      },
      { direct: 0, folded: 0 },
    );
  const may = (c: Counted, by: number) => c.lowest + by >= 0 && c.highest + by <= 127;
  /** Where a part goes under a transposition, and what that is worth; null where it has no room. */
  const best = (c: Counted, semitones: number): { by: number; worth: number } | null => {
    let found: { by: number; worth: number } | null = null;
    for (let n = 0; n <= (c.limits ? MOST_OCTAVES : 0); n++)
      for (const by of n === 0 ? [semitones] : [semitones + 12 * n, semitones - 12 * n]) {
        if (!may(c, by)) continue;
        const { direct, folded } = c.limits ? fitOf(c, by, 'weights') : { direct: 0, folded: 0 };
        const worth = direct + folded * FOLDED - c.total * PER_SEMITONE * Math.abs(by);
        if (!found || worth > found.worth) found = { by, worth };
      }
    return found;
  };
  const still = counted.map(() => 0);
  let [chosen, moves, most] = [0, still, -Infinity];
  for (const semitones of [0, 1, -1, 2, -2, 3, -3, 4, -4, 5, -5, 6]) {
    const found = counted.map((c) => best(c, semitones));
    if (found.some((f) => f === null)) continue;
    const worth = found.reduce((n, f) => n + f!.worth, 0) * (semitones === 0 ? 1 : OTHER_KEY);
    if (worth <= most) continue;
    [chosen, moves, most] = [semitones, found.map((f) => f!.by), worth];
  }
  const after = all(moves, 'keys');
  const has = (of: readonly number[]) => {
    const { direct, folded } = all(of, 'weights');
    return direct + folded;
  };
  return {
    semitones: chosen,
    moves: counted.map(({ part, limits }, i) => ({ part, by: moves[i]!, limits })),
    share: (after.direct + after.folded) / sum('keys'),
    now: all(still, 'keys').direct / sum('keys'),
    gains: has(moves) - has(still) > total * GAIN,
  };
}
