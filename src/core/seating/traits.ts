import type { Maps } from '../score/inventory';
import type { Part } from '../score/score';
import { isDrumPart } from '../reading/importance/drums';
import { rolesIn, type Role } from '../reading/importance/names';

/** What seats are chosen by: how a part is named, and how it plays. */
export interface Traits {
  readonly part: Part;
  readonly roles: ReadonlySet<Role>;
  readonly drums: boolean;
  /** Notes by key. */
  readonly keys: Uint32Array;
  readonly lowest: number;
  readonly highest: number;
  readonly middle: number;
  /** Share of its notes that begin while fewer than n others sound, by n; index 0 is n = 1. */
  readonly withVoices: readonly number[];
  /** Milliseconds from one strike to the next, in order; chords are one strike. */
  readonly gaps: Float64Array;
  readonly notesASecond: number;
}

const MOST_VOICES = 16;

export function traitsOf(part: Part, { clock }: Maps): Traits {
  const { notes } = part;
  const keys = new Uint32Array(128);
  let sum = 0;
  let lowest = 127;
  let highest = 0;
  for (let i = 0; i < notes.count; i++) {
    const key = notes.noteNumber[i]!;
    keys[key]!++;
    sum += key;
    if (key < lowest) lowest = key;
    if (key > highest) highest = key;
  }
  const drums = isDrumPart(part);
  const roles = new Set(rolesIn(part.name));
  if (drums) roles.add('drums');
  const withVoices = voicesOf(part);
  const starts: number[] = [];
  for (let i = 0; i < notes.count; i++) {
    const ms = clock.msAt(notes.start[i]!);
    if (starts.length === 0 || ms > starts.at(-1)! + 0.5) starts.push(ms);
  }
  const gaps = Float64Array.from(
    { length: Math.max(0, starts.length - 1) },
    (_, i) => starts[i + 1]! - starts[i]!,
  );
  const long = starts.length > 1 ? starts.at(-1)! - starts[0]! : 1000;
  return {
    part,
    roles,
    drums,
    keys,
    lowest: notes.count > 0 ? lowest : 60,
    highest: notes.count > 0 ? highest : 60,
    middle: notes.count > 0 ? sum / notes.count : 60,
    withVoices,
    gaps,
    notesASecond: notes.count / Math.max(1, long / 1000),
  };
}

/**
 * How many of its notes n voices could strike, were each to end where the next needs its voice: all
 * but those beyond the nth of one chord.
 */
function voicesOf({ notes }: Part): number[] {
  const lost = new Float64Array(MOST_VOICES + 1);
  let size = 0;
  for (let i = 0; i <= notes.count; i++) {
    const same = i > 0 && i < notes.count && notes.start[i] === notes.start[i - 1];
    if (same) {
      size++;
      continue;
    }
    for (let n = 1; n <= MOST_VOICES; n++) if (size > n) lost[n]! += size - n;
    size = 1;
  }
  return Array.from({ length: MOST_VOICES }, (_, n) =>
    notes.count === 0 ? 1 : 1 - lost[n + 1]! / notes.count,
  );
}

/** The share of its notes that voices can strike. */
export const heardWith = (t: Traits, voices: number): number =>
  t.withVoices[Math.max(1, Math.min(MOST_VOICES, voices)) - 1]!;

/** The share of its strikes that come late enough behind the one before. */
export function inTime({ gaps }: Traits, apartMs: number): number {
  if (gaps.length === 0) return 1;
  // Those that are kept when each that comes too soon is passed over.
  let kept = 1;
  let since = 0;
  for (const gap of gaps) {
    since += gap;
    if (since < apartMs - 1e-6) continue;
    kept++;
    since = 0;
  }
  return kept / (gaps.length + 1);
}
