import { mapsOf } from '../score/inventory';
import { isIn, type Part, type Score } from '../score/score';
import { channelState, type ChannelState } from './channel-state';

/** Two states of the same music held against each other, note by note. Times in milliseconds. */
export interface Comparison {
  /** What all notes have in common: `after` minus `before`, the middle one of all differences. */
  readonly commonShiftMs: number;
  readonly notesBefore: number;
  readonly notesAfter: number;
  readonly dropped: number;
  readonly added: number;
  /** Start further than 1 ms from its time plus the common shift. */
  readonly moved: number;
  /** End further than 1 ms from its time plus the common shift, though the start is not. */
  readonly lengthChanged: number;
  readonly keyChanged: number;
  readonly velocityChanged: number;
  /** Program, bank, level, bend or pedal is another at the note or while it sounds. */
  readonly soundChanged: number;
  /** Kept notes that differ in one or more of these. */
  readonly changed: number;
  /** The furthest that a kept note stands from its time plus the common shift. */
  readonly furthestMs: number;
  readonly markersDropped: number;
  readonly lossless: boolean;
}

/** A note keeps its time where it stays within this. */
export const KEPT_WITHIN_MS = 1;

interface Flat {
  count: number;
  origin: Uint32Array;
  part: Uint32Array;
  index: Uint32Array;
}

function flatten(parts: readonly Part[]): Flat {
  const count = parts.reduce((sum, p) => sum + p.notes.count, 0);
  const flat: Flat = {
    count,
    origin: new Uint32Array(count),
    part: new Uint32Array(count),
    index: new Uint32Array(count),
  };
  let at = 0;
  parts.forEach((p, part) => {
    flat.origin.set(p.notes.origin, at);
    for (let i = 0; i < p.notes.count; i++) {
      flat.part[at] = part;
      flat.index[at++] = i;
    }
  });
  return flat;
}

/**
 * Compares by lineage: a note after is held against the note before that it came from. Notes of
 * parts that are left out do not count on either side.
 */
export function compareById(before: Score, after: Score): Comparison {
  const partsBefore = before.parts.filter(isIn);
  const partsAfter = after.parts.filter(isIn);
  const a = flatten(partsBefore);
  const b = flatten(partsAfter);
  const clockA = mapsOf(before).clock;
  const clockB = mapsOf(after).clock;
  let mostId = 0;
  for (let i = 0; i < a.count; i++) if (a.origin[i]! > mostId) mostId = a.origin[i]!;
  const where = new Int32Array(mostId + 1).fill(-1);
  for (let i = 0; i < a.count; i++) where[a.origin[i]!] = i;

  const pairA = new Int32Array(b.count).fill(-1);
  let kept = 0;
  let added = 0;
  for (let j = 0; j < b.count; j++) {
    const id = b.origin[j]!;
    const i = id > 0 && id <= mostId ? where[id]! : -1;
    if (i < 0) {
      added++;
      continue;
    }
    where[id] = -1; // a second note of the same origin is an added one
    pairA[j] = i;
    kept++;
  }
  const startA = new Float64Array(kept);
  const shift = new Float64Array(kept);
  let k = 0;
  for (let j = 0; j < b.count; j++) {
    const i = pairA[j]!;
    if (i < 0) continue;
    startA[k] = clockA.msAt(partsBefore[a.part[i]!]!.notes.start[a.index[i]!]!);
    shift[k] = clockB.msAt(partsAfter[b.part[j]!]!.notes.start[b.index[j]!]!) - startA[k]!;
    k++;
  }
  const commonShiftMs = commonOf(shift);

  const stateA = channelState(before);
  const stateB = channelState(after);
  let moved = 0;
  let lengthChanged = 0;
  let keyChanged = 0;
  let velocityChanged = 0;
  let soundChanged = 0;
  let changed = 0;
  let furthestMs = 0;
  k = 0;
  for (let j = 0; j < b.count; j++) {
    const i = pairA[j]!;
    if (i < 0) continue;
    const partA = partsBefore[a.part[i]!]!;
    const partB = partsAfter[b.part[j]!]!;
    const x = a.index[i]!;
    const y = b.index[j]!;
    const off = Math.abs(shift[k]! - commonShiftMs);
    const endA = partA.notes.end[x]!;
    const endB = partB.notes.end[y]!;
    const endOff = Math.abs(clockB.msAt(endB) - clockA.msAt(endA) - commonShiftMs);
    if (off > furthestMs) furthestMs = off;
    const elsewhere = off > KEPT_WITHIN_MS + 1e-6;
    const length = !elsewhere && endOff > KEPT_WITHIN_MS + 1e-6;
    const key = partA.notes.noteNumber[x] !== partB.notes.noteNumber[y];
    const velocity = partA.notes.velocity[x] !== partB.notes.velocity[y];
    const sound = differs(stateA, partA, x, stateB, partB, y);
    if (elsewhere) moved++;
    if (length) lengthChanged++;
    if (key) keyChanged++;
    if (velocity) velocityChanged++;
    if (sound) soundChanged++;
    if (elsewhere || length || key || velocity || sound) changed++;
    k++;
  }
  const dropped = a.count - kept;
  const markersDropped = Math.max(
    0,
    before.conductor.markers.length - after.conductor.markers.length,
  );
  return {
    commonShiftMs,
    notesBefore: a.count,
    notesAfter: b.count,
    dropped,
    added,
    moved,
    lengthChanged,
    keyChanged,
    velocityChanged,
    soundChanged,
    changed,
    furthestMs,
    markersDropped,
    lossless: dropped + added + changed === 0,
  };
}

/**
 * One score against the pieces that were made of it. Each piece has a shift of its own; a note is
 * dropped where no piece has it.
 */
export function comparePieces(before: Score, pieces: readonly Score[]): Comparison {
  const all = pieces.map((piece) => compareById(before, piece));
  const [first] = all;
  if (all.length === 1 || !first) return first ?? compareById(before, { ...before, parts: [] });
  const sum = (of: (c: Comparison) => number) => all.reduce((n, c) => n + of(c), 0);
  const kept = sum((c) => c.notesAfter - c.added);
  const dropped = Math.max(0, first.notesBefore - kept);
  const changed = sum((c) => c.changed);
  const added = sum((c) => c.added);
  return {
    commonShiftMs: first.commonShiftMs,
    notesBefore: first.notesBefore,
    notesAfter: sum((c) => c.notesAfter),
    dropped,
    added,
    moved: sum((c) => c.moved),
    lengthChanged: sum((c) => c.lengthChanged),
    keyChanged: sum((c) => c.keyChanged),
    velocityChanged: sum((c) => c.velocityChanged),
    soundChanged: sum((c) => c.soundChanged),
    changed,
    furthestMs: all.reduce((most, c) => Math.max(most, c.furthestMs), 0),
    markersDropped: Math.max(
      0,
      before.conductor.markers.length - pieces.reduce((n, p) => n + p.conductor.markers.length, 0),
    ),
    lossless: dropped + added + changed === 0,
  };
}

function differs(
  a: ChannelState | null,
  partA: Part,
  x: number,
  b: ChannelState | null,
  partB: Part,
  y: number,
): boolean {
  if (a === null && b === null) return false;
  const atA = a ? a.at(partA.channel, partA.notes.start[x]!, partA.notes.end[x]!) : 0;
  const atB = b ? b.at(partB.channel, partB.notes.start[y]!, partB.notes.end[y]!) : 0;
  return atA !== atB;
}

/**
 * The shift that most notes share: the middle one of the fullest millisecond, so that one note that
 * was moved far does not stand for all.
 */
export function commonOf(shifts: Float64Array): number {
  if (shifts.length === 0) return 0;
  const sorted = Float64Array.from(shifts).sort();
  let best = 0;
  let most = 0;
  let low = 0;
  for (let high = 0; high < sorted.length; high++) {
    while (sorted[high]! - sorted[low]! > KEPT_WITHIN_MS) low++;
    if (high - low + 1 > most) {
      most = high - low + 1;
      best = sorted[(low + high) >> 1]!;
    }
  }
  return Math.abs(best) < 1e-6 ? 0 : best;
}
