import type { Piece } from '../score/piece';
import { notesWhere, pickNotes, sortByKey } from '../score/columns';
import type { Maps } from '../score/inventory';
import { importanceOf } from '../reading/importance/importance';
import { channelPartsOf, seatPartsOf } from '../reading/lines';
import { isIn, OFF_BY_NOTE_OFF, OFF_MISSING, type NoteColumns, type Part } from '../score/score';
import { withScore, type Selection } from './define-step';

/**
 * The selected notes of the parts that share a voice (or of all parts), in columns: by start, of one
 * start the highest first.
 */
export interface Crowd {
  readonly count: number;
  readonly parts: readonly Part[];
  /** Which of `parts`, and which of its notes. */
  readonly part: Uint32Array;
  readonly index: Uint32Array;
  readonly start: Int32Array;
  readonly end: Int32Array;
  readonly key: Uint8Array;
  readonly velocity: Uint8Array;
}

export function crowdsOf(
  piece: Piece,
  select: Selection,
  over: 'seat' | 'channel' | 'all',
): Crowd[] {
  const groups =
    over === 'all'
      ? [piece.score.parts.filter(isIn)]
      : over === 'seat'
        ? seatPartsOf(piece)
        : channelPartsOf(piece);
  return groups.map((group) => crowdOf(group.filter(select.part), select));
}

function crowdOf(parts: readonly Part[], select: Selection): Crowd {
  const most = parts.reduce((n, p) => n + p.notes.count, 0);
  const part = new Uint32Array(most);
  const index = new Uint32Array(most);
  const sorting = new Float64Array(most);
  let count = 0;
  parts.forEach((of, p) => {
    const { start, noteNumber } = of.notes;
    for (let i = 0; i < of.notes.count; i++) {
      if (!select.note(of, i)) continue;
      part[count] = p;
      index[count] = i;
      sorting[count++] = start[i]! * 128 + 127 - noteNumber[i]!;
    }
  });
  const order = sortByKey(sorting.subarray(0, count));
  const crowd = {
    count,
    parts,
    part: new Uint32Array(count),
    index: new Uint32Array(count),
    start: new Int32Array(count),
    end: new Int32Array(count),
    key: new Uint8Array(count),
    velocity: new Uint8Array(count),
  };
  for (let n = 0; n < count; n++) {
    const { notes } = parts[part[order[n]!]!]!;
    const i = index[order[n]!]!;
    crowd.part[n] = part[order[n]!]!;
    crowd.index[n] = i;
    crowd.start[n] = notes.start[i]!;
    crowd.end[n] = notes.end[i]!;
    crowd.key[n] = notes.noteNumber[i]!;
    crowd.velocity[n] = notes.velocity[i]!;
  }
  return crowd;
}

/** What a note that came from no source is worth beside those that did. */
const BY_HAND = 1;

/** What would be lost without a note, by what it was in the source: about 0 to 1.5. */
export function weightIn(came: Piece): (crowd: Crowd, n: number) => number {
  const { weight } = importanceOf(came.score);
  return (crowd, n) => {
    const origin = crowd.parts[crowd.part[n]!]!.notes.origin[crowd.index[n]!]!;
    return origin === 0 ? BY_HAND : (weight[origin] ?? BY_HAND);
  };
}

/** Notes that a step takes out, by part. */
export class Gone {
  readonly marks = new Map<Part, Uint8Array>();
  count = 0;
  add(crowd: Crowd, n: number) {
    const part = crowd.parts[crowd.part[n]!]!;
    let marks = this.marks.get(part);
    if (!marks) this.marks.set(part, (marks = new Uint8Array(part.notes.count)));
    if (marks[crowd.index[n]!] === 0) this.count++;
    marks[crowd.index[n]!] = 1;
  }
}

/** Notes that a step ends elsewhere, by part: note to tick. */
export class Cuts {
  readonly ends = new Map<Part, Map<number, number>>();
  set(crowd: Crowd, n: number, tick: number) {
    const part = crowd.parts[crowd.part[n]!]!;
    const ends = this.ends.get(part) ?? new Map<number, number>();
    this.ends.set(part, ends.set(crowd.index[n]!, tick));
  }
  get count(): number {
    return [...this.ends.values()].reduce((sum, ends) => sum + ends.size, 0);
  }
}

/** Notes struck this close together are one chord; a note that was longer is not made shorter. */
export const CHORD_MS = 60;
/** What is shorter than that is a click. */
const CLICK_MS = 40;

/** Ends a note at a tick; one of which only a click would stay goes altogether. */
export function endAt(
  crowd: Crowd,
  n: number,
  tick: number,
  { clock }: Pick<Maps, 'clock'>,
  cuts: Cuts,
  gone: Gone,
) {
  const from = clock.msAt(crowd.start[n]!);
  const [was, is] = [clock.msAt(crowd.end[n]!) - from, clock.msAt(tick) - from];
  const under = (least: number) => is < least - 1e-6 && was >= least - 1e-6;
  if (under(CHORD_MS) || under(CLICK_MS)) gone.add(crowd, n);
  else cuts.set(crowd, n, tick);
}

/** The piece with notes ended elsewhere and notes taken out; untouched parts are shared. */
export function applyTo(piece: Piece, { ends }: Cuts, { marks }: Gone): Piece {
  if (ends.size === 0 && marks.size === 0) return piece;
  const parts = piece.score.parts.map((part) => {
    const cut = ends.get(part);
    const gone = marks.get(part);
    const notes = cut ? setEnds(part.notes, cut) : part.notes;
    if (gone) {
      const kept = notesWhere(notes, (i) => gone[i] === 0);
      return { ...part, notes: pickNotes(notes, kept) };
    }
    return cut ? { ...part, notes } : part;
  });
  return withScore(piece, { parts });
}

/** Notes with other ends; their note-offs find their own place within the tick. */
export function setEnds(notes: NoteColumns, ends: ReadonlyMap<number, number>): NoteColumns {
  const end = Int32Array.from(notes.end);
  const offOrder = Uint32Array.from(notes.offOrder);
  const offKind = Uint8Array.from(notes.offKind);
  for (const [i, tick] of ends) {
    end[i] = tick;
    offOrder[i] = 0;
    if (offKind[i] === OFF_MISSING) offKind[i] = OFF_BY_NOTE_OFF;
  }
  return { ...notes, end, offOrder, offKind };
}
