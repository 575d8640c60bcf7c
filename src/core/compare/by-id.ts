import type { Checkpoint } from '../diagnostic/checkpoint';
import { heardEnds, type HeardEnds } from '../reading/heard-ends';
import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { isIn, OFF_MISSING, ticksPerQuarterOf, type Part, type Score } from '../score/score';
import type { Clock } from '../time/tempo-map';
import { HEARS_ALL, type Hearing } from '../target/hearing';
import { channelState, States, type ChannelState } from './channel-state';

/** Two states of the same music held against each other, note by note. Times in milliseconds. */
export interface Comparison {
  /** What all notes have in common: `after` minus `before`, the middle one of all differences. */
  readonly commonShiftMs: number;
  /** The same for each piece by itself. */
  readonly shiftsMs: readonly number[];
  readonly notesBefore: number;
  readonly notesAfter: number;
  /** Notes that no piece holds any more. */
  readonly dropped: number;
  /** Notes of no origin, and further copies of one. */
  readonly added: number;
  /** Start further than 1 ms from its time plus the common shift. */
  readonly moved: number;
  /** End further than 1 ms from its time plus the common shift, though the start is not. */
  readonly lengthChanged: number;
  /** Of these, notes that were notes and are clicks now: shorter than 40 ms. */
  readonly clicks: number;
  readonly keyChanged: number;
  /** Kept notes of another pitch class than all others moved to; drums do not count. */
  readonly classChanged: number;
  /** Semitones, from 0 to 11, that most notes were moved by beside octaves. */
  readonly transposed: number;
  /** Start further than 60 ms from its time, and at another place of the music than all others. */
  readonly movedFar: number;
  readonly velocityChanged: number;
  /** Program, bank, level, expression, pan, bend or pedal is another at the note or in it. */
  readonly soundChanged: number;
  /** Kept notes that differ in one or more of these. */
  readonly changed: number;
  /** The furthest that a kept note stands from its time plus the common shift. */
  readonly furthestMs: number;
  /** The same of the ends of notes that keep their start. */
  readonly furthestEndMs: number;
  readonly markersDropped: number;
  readonly lossless: boolean;
}

/** A note keeps its time where it stays within this. */
export const KEPT_WITHIN_MS = 1;
const FAR_MS = 60;
const THOUSANDTHS = 1000;
/** Of a quarter, in thousandths: half a thirty-second. */
const FAR_PLACE = 62.5;
const HAIR = 1e-6;
/** What is shorter is no note any more. */
const CLICK_MS = 40;

/** What is compared: a score, and how it is laid out where that is known. */
export type Laid = Pick<Piece, 'score'> & Partial<Pick<Piece, 'delivery'>>;

export interface CompareOptions {
  /** What the target hears beside notes; what it refuses is no loss, and listed elsewhere. */
  readonly hearing?: Hearing;
  readonly checkpoint?: Checkpoint;
  /** Is given the ids, of before, of all notes that are dropped or otherwise. */
  readonly otherwise?: Set<number>;
  /** Where many are compared with the same: what was read of a piece is read once. */
  readonly memo?: CompareMemo;
}

/** What comparisons by one hearing know of the pieces that they met; it goes when the piece goes. */
export class CompareMemo {
  readonly states = new States();
  readonly sides = new WeakMap<Laid, Side>();
  /** Places of the pieces that were last compared with. */
  places: { readonly of: readonly Side[]; readonly places: Indices } | null = null;
}

/** One score against another. */
export const compareById = (before: Laid, after: Laid, options?: CompareOptions): Comparison =>
  comparePieces([before], [after], options);

interface Side {
  readonly laid: Laid;
  readonly parts: readonly Part[];
  readonly clock: Clock;
  /** Ticks. */
  readonly quarter: number;
  readonly ends: HeardEnds;
  readonly state: ChannelState | null;
}

function sideOf(laid: Laid, memo: CompareMemo, hearing: Hearing): Side {
  const known = memo.sides.get(laid);
  if (known) return known;
  const side = {
    laid,
    parts: laid.score.parts.filter(isIn),
    clock: mapsOf(laid.score).clock,
    quarter: ticksPerQuarterOf(laid.score.division),
    ends: heardEnds(laid),
    state: channelState(laid.score.parts, memo.states, hearing),
  };
  memo.sides.set(laid, side);
  return side;
}

/** The same objects in the same order. */
const same = <T>(a: readonly T[], b: readonly T[]) =>
  a === b || (a.length === b.length && a.every((x, i) => x === b[i]));

/**
 * Parts that are the same object on both sides, on a channel of which nothing else became another, under the same clock: unless all was shifted, none of their notes is otherwise.
 */
function untouched(from: Side | undefined, side: Side): ReadonlySet<Part> {
  if (!from) return new Set();
  const [was, is] = [from.laid.score, side.laid.score];
  const laidAlike =
    from.laid.delivery?.layout === side.laid.delivery?.layout &&
    JSON.stringify(was.division) === JSON.stringify(is.division) &&
    same(was.conductor.tempos, is.conductor.tempos);
  if (!laidAlike) return new Set();
  const byChannel = (parts: readonly Part[]) => {
    const out = new Map<number, Part[]>();
    for (const p of parts) {
      const list = out.get(p.channel);
      if (list) list.push(p);
      else out.set(p.channel, [p]);
    }
    return out;
  };
  // A line is a channel, or the part of it that is on one track: the channel holds both.
  const then = byChannel(from.parts);
  return new Set(
    [...byChannel(side.parts)].flatMap(([channel, parts]) =>
      same(parts, then.get(channel) ?? []) ? parts : [],
    ),
  );
}

/** Where the notes of one side stand, by id. */
interface Indices {
  readonly piece: Uint16Array;
  readonly part: Uint32Array;
  /** Index of the note in its part; −1 where no note has the id. */
  readonly index: Int32Array;
}

function placesOf(sides: readonly Side[]): Indices {
  let most = 0;
  for (const { parts } of sides)
    for (const { notes } of parts)
      for (let i = 0; i < notes.count; i++) if (notes.id[i]! > most) most = notes.id[i]!;
  const places = {
    piece: new Uint16Array(most + 1),
    part: new Uint32Array(most + 1),
    index: new Int32Array(most + 1).fill(-1),
  };
  sides.forEach(({ parts }, s) =>
    parts.forEach(({ notes }, p) => {
      for (let i = 0; i < notes.count; i++) {
        const id = notes.id[i]!;
        places.piece[id] = s;
        places.part[id] = p;
        places.index[id] = i;
      }
    }),
  );
  return places;
}

/**
 * Compares by lineage: a note after is held against the note before that it is, else against the one
 * that it came from. Each piece has a shift of its own. Notes of parts that are left out do not
 * count on either side; a note counts as kept once, however many pieces hold it.
 */
export function comparePieces(
  before: readonly Laid[],
  after: readonly Laid[],
  { hearing = HEARS_ALL, checkpoint, otherwise, memo = new CompareMemo() }: CompareOptions = {},
): Comparison {
  const sides = before.map((l) => sideOf(l, memo, hearing));
  if (!memo.places || !same(memo.places.of, sides))
    memo.places = { of: sides, places: placesOf(sides) };
  const { places } = memo.places;
  const seen = new Uint8Array(places.index.length);
  const sum = {
    added: 0,
    moved: 0,
    lengthChanged: 0,
    clicks: 0,
    keyChanged: 0,
    movedFar: 0,
    velocityChanged: 0,
    soundChanged: 0,
    changed: 0,
  };
  const byClass = new Uint32Array(12);
  let kept = 0;
  let notesAfter = 0;
  let furthestMs = 0;
  let furthestEndMs = 0;
  let commonShiftMs = 0;
  const shiftsMs: number[] = [];
  const pair = (notes: Part['notes'], i: number): number => {
    const id = notes.id[i]!;
    if (id < seen.length && places.index[id]! >= 0) return id;
    const origin = notes.origin[i]!;
    return origin > 0 && origin < seen.length && places.index[origin]! >= 0 ? origin : 0;
  };
  after.forEach((laid, n) => {
    checkpoint?.(n, after.length);
    const side = sideOf(laid, memo, hearing);
    const alike = untouched(sides[n], side);
    const total = side.parts.reduce((count, p) => count + p.notes.count, 0);
    notesAfter += total;
    const ids = new Uint32Array(total);
    const shifts = new Float64Array(total);
    const inMusic = new Float64Array(total);
    let at = 0;
    let paired = 0;
    const pairedOf: number[] = [];
    for (const part of side.parts) {
      const { notes } = part;
      const stands = alike.has(part);
      const first = paired;
      for (let i = 0; i < notes.count; i++) {
        const id = stands ? notes.id[i]! : pair(notes, i);
        ids[at++] = id;
        if (id === 0 || seen[id] === 1) {
          sum.added++;
          if (id > 0) ids[at - 1] = 0;
          continue;
        }
        seen[id] = 1;
        if (stands) {
          paired++; // both differences are 0
          continue;
        }
        const from = sides[places.piece[id]!]!;
        const start = from.parts[places.part[id]!]!.notes.start[places.index[id]!]!;
        inMusic[paired] = THOUSANDTHS * (notes.start[i]! / side.quarter - start / from.quarter);
        shifts[paired++] = side.clock.msAt(notes.start[i]!) - from.clock.msAt(start);
      }
      pairedOf.push(paired - first);
      checkpoint?.(n, after.length);
    }
    kept += paired;
    const shift = commonOf(shifts.subarray(0, paired));
    // Where the tempo is another one, a note that keeps its place in the bars is not moved far.
    const placeShift = commonOf(inMusic.subarray(0, paired));
    shiftsMs.push(shift);
    if (n === 0) commonShiftMs = shift;
    at = 0;
    let k = 0;
    for (const [p, part] of side.parts.entries()) {
      const { notes } = part;
      if (shift === 0 && placeShift === 0 && alike.has(part)) {
        at += notes.count;
        k += pairedOf[p]!;
        if (part.channel !== 10) byClass[0]! += pairedOf[p]!;
        continue;
      }
      const ends = side.ends(part);
      for (let i = 0; i < notes.count; i++) {
        const id = ids[at++]!;
        if (id === 0) continue;
        const from = sides[places.piece[id]!]!;
        const was = from.parts[places.part[id]!]!;
        const x = places.index[id]!;
        const place = Math.abs(inMusic[k]! - placeShift);
        const off = Math.abs(shifts[k++]! - shift);
        if (off > furthestMs) furthestMs = off;
        const elsewhere = off > KEPT_WITHIN_MS + HAIR;
        const endOff = elsewhere ? 0 : endBeside(from, was, x, side, part, i, ends[i]!, shift);
        if (endOff > furthestEndMs) furthestEndMs = endOff;
        const length = endOff > KEPT_WITHIN_MS + HAIR;
        const key = was.notes.noteNumber[x] !== notes.noteNumber[i];
        const velocity = hearing.velocity && was.notes.velocity[x] !== notes.velocity[i];
        const sound =
          (from.state?.of(was, x, was.notes.end[x]!) ?? 0) !==
          (side.state?.of(part, i, notes.end[i]!) ?? 0);
        if (elsewhere) sum.moved++;
        if (off > FAR_MS && place > FAR_PLACE) sum.movedFar++;
        if (was.channel !== 10)
          byClass[(((notes.noteNumber[i]! - was.notes.noteNumber[x]!) % 12) + 12) % 12]!++;
        if (length) {
          sum.lengthChanged++;
          const now = side.clock.msAt(ends[i]!) - side.clock.msAt(notes.start[i]!);
          const then = from.clock.msAt(was.notes.end[x]!) - from.clock.msAt(was.notes.start[x]!);
          if (now < CLICK_MS && then >= CLICK_MS) sum.clicks++;
        }
        if (key) sum.keyChanged++;
        if (velocity) sum.velocityChanged++;
        if (sound) sum.soundChanged++;
        if (elsewhere || length || key || velocity || sound) {
          sum.changed++;
          otherwise?.add(id);
        }
      }
      checkpoint?.(n, after.length);
    }
  });
  const notesBefore = sides.reduce((n, s) => n + s.parts.reduce((m, p) => m + p.notes.count, 0), 0);
  const dropped = notesBefore - kept;
  if (otherwise && dropped > 0)
    for (let id = 1; id < seen.length; id++)
      if (seen[id] === 0 && places.index[id]! >= 0) otherwise.add(id);
  const transposed = byClass.indexOf(Math.max(...byClass));
  const pitched = byClass.reduce((a, b) => a + b, 0);
  return {
    commonShiftMs,
    shiftsMs,
    notesBefore,
    notesAfter,
    dropped,
    transposed,
    classChanged: pitched - byClass[transposed]!,
    ...sum,
    furthestMs,
    furthestEndMs,
    markersDropped: Math.max(0, markersIn(before) - markersIn(after)),
    lossless: dropped + sum.added + sum.changed === 0,
  };
}

const markersIn = (laid: readonly Laid[]) =>
  laid.reduce((n, { score }: { score: Score }) => n + score.conductor.markers.length, 0);

/** How far a note ends beside where it ended, in ms; one that never ends has no length to change. */
function endBeside(
  from: Side,
  was: Part,
  x: number,
  side: Side,
  part: Part,
  i: number,
  end: number,
  shift: number,
): number {
  const stuck = was.notes.offKind[x] === OFF_MISSING;
  if (stuck && part.notes.offKind[i] === OFF_MISSING) return 0;
  return Math.abs(side.clock.msAt(end) - from.clock.msAt(from.ends(was)[x]!) - shift);
}

/**
 * The shift that most notes share: the middle one of the fullest millisecond, so that one note that
 * was moved far does not stand for all.
 */
export function commonOf(shifts: Float64Array): number {
  if (shifts.length === 0) return 0;
  // What more than half of them have to the last digit needs no sorting: it is the middle one.
  let likeliest = 0;
  let votes = 0;
  for (const shift of shifts) {
    if (votes === 0) likeliest = shift;
    votes += shift === likeliest ? 1 : -1;
  }
  let agree = 0;
  for (const shift of shifts) if (shift === likeliest) agree++;
  if (agree * 2 > shifts.length) return Math.abs(likeliest) < 1e-6 ? 0 : likeliest;
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
