import type { PartInventory } from '../score/inventory';
import { count, noteName } from '../target/words';
import { rolesIn, type Role } from '../reading/importance/names';

/** What a part seems to be, and why: for the eye of a person, nothing is decided by it. */
export interface Suspicion {
  readonly says: string;
  readonly why: string;
}

const WORDS: Readonly<Record<Role, string>> = {
  lead: 'a lead',
  bass: 'a bass',
  drums: 'drums',
  chords: 'chords',
  left: 'the left hand',
  right: 'the right hand',
  voice: 'a voice',
  cues: 'cues',
  effects: 'effects',
};

const LOW = 50;
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
  const named = rolesIn(part.name);
  for (const role of named) out.push({ says: WORDS[role], why: 'its name says so' });
  const keys: number[] = [];
  let sum = 0;
  for (let key = 0; key < 128; key++)
    if (counts[key]! > 0) {
      keys.push(key);
      sum += key * counts[key]!;
    }
  const middle = sum / notes;
  if (part.channel === 10) {
    if (!named.has('drums')) out.push({ says: WORDS.drums, why: 'it is on channel 10' });
    return out;
  }
  if (keys.length <= 2 && longMs >= 1500)
    out.push({
      says: 'a sampled loop',
      why: `${count(keys.length, 'key')}, held ${(longMs / 1000).toFixed(1)} s at a time`,
    });
  else if (named.size === 0) {
    if (polyphony === 1 && middle < LOW)
      out.push({
        says: WORDS.bass,
        why: `low, one note at a time (around ${noteName(Math.round(middle))})`,
      });
    else if (polyphony === 1 && keys.length > 4)
      out.push({ says: WORDS.lead, why: 'one note at a time' });
    else if (highest - lowest >= 34 && polyphony >= 3)
      out.push({
        says: 'both hands of a keyboard',
        why: `${noteName(lowest)} to ${noteName(highest)}, ${polyphony} at once`,
      });
    else if (polyphony >= 3) out.push({ says: WORDS.chords, why: `${polyphony} notes at once` });
  }
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
