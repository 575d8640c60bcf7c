import { rolesIn, type Role } from '../reading/importance/names';
import type { PartInventory } from '../score/inventory';
import { count, noteName } from '../target/words';

/** What a part seems to be beside its role in the music, and why: for the eye of a person, nothing is decided by it. */
export interface Suspicion {
  readonly says: string;
  readonly why: string;
}

/** What a name alone can tell. */
const NAMED: readonly (readonly [Role, string])[] = [
  ['left', 'the left hand'],
  ['right', 'the right hand'],
  ['effects', 'effects'],
];

/** Keys without a note between two bands of them. */
const EMPTY_BETWEEN = 8;

/** @param counts notes by key, 128 of them; `longMs` the median length of its notes */
export function suspectsOf(
  part: Pick<PartInventory, 'name' | 'channel' | 'notes' | 'lowest' | 'highest' | 'polyphony'>,
  counts: ArrayLike<number>,
  longMs: number,
): Suspicion[] {
  const { notes, lowest, highest, polyphony } = part;
  if (notes === 0 || lowest === null || highest === null) return [];
  const out: Suspicion[] = [];
  for (const [role, says] of NAMED)
    if (rolesIn(part.name).has(role)) out.push({ says, why: 'its name says so' });
  const keys: number[] = [];
  for (let key = 0; key < 128; key++) if (counts[key]! > 0) keys.push(key);
  if (part.channel === 10) return out;
  if (keys.length <= 2 && longMs >= 1500)
    out.push({
      says: 'a sampled loop',
      why: `${count(keys.length, 'key')}, held ${(longMs / 1000).toFixed(1)} s at a time`,
    });
  else if (highest - lowest >= 34 && polyphony >= 3)
    out.push({
      says: 'both hands of a keyboard',
      why: `${noteName(lowest)} to ${noteName(highest)}, ${polyphony} at once`,
    });
  const gap = bandsApart(keys, counts, notes);
  if (gap)
    out.push({
      says: 'two roles in one',
      why: `nothing between ${noteName(gap.below)} and ${noteName(gap.above)}`,
    });
  return out;
}

/** Keys between which two roles seem to be parted; null where nothing parts them. */
export function rolesParted(counts: ArrayLike<number>): { below: number; above: number } | null {
  const keys: number[] = [];
  let notes = 0;
  for (let key = 0; key < 128; key++) {
    if (counts[key]! > 0) keys.push(key);
    notes += counts[key]!;
  }
  return bandsApart(keys, counts, notes);
}

/** The widest run of empty keys that has a fair share of the notes on either side. */
function bandsApart(keys: readonly number[], counts: ArrayLike<number>, notes: number) {
  let below = 0;
  let best: { below: number; above: number } | null = null;
  for (let i = 0; i + 1 < keys.length; i++) {
    below += counts[keys[i]!]!;
    const [low, high] = [keys[i]!, keys[i + 1]!];
    const fair = below / notes >= 0.15 && below / notes <= 0.85;
    const wide = high - low;
    if (fair && wide > EMPTY_BETWEEN && (best === null || wide > best.above - best.below))
      best = { below: low, above: high };
  }
  return best;
}
