import type { Piece } from '../plan/model';
import { sortByKey } from './columns';
import { isIn, type NoteColumns, type Part } from './score';

/** What rules need of notes that are looked at together. */
export type LineNotes = Pick<NoteColumns, 'count' | 'start' | 'end' | 'noteNumber' | 'id'>;

/**
 * What the far side takes for one voice: the parts that share a track and a channel as delivered.
 * A merge to one track can make two notes one, so overlaps and stuck notes are judged here.
 */
export interface OutputLine {
  readonly channel: number;
  readonly parts: readonly Part[];
  /** Notes of all its parts, sorted by start. */
  readonly notes: LineNotes;
}

/** The parts of each line, without their notes joined. */
export function linePartsOf({ score, delivery }: Piece): Part[][] {
  const groups = new Map<string, Part[]>();
  for (const part of score.parts) {
    if (!isIn(part)) continue;
    const key = delivery.layout === 'single' ? `${part.channel}` : `${part.track}/${part.channel}`;
    const group = groups.get(key);
    if (group) group.push(part);
    else groups.set(key, [part]);
  }
  return [...groups.values()];
}

/** The parts that share a seat; without seats those that share a line. */
export function seatPartsOf({ score, delivery }: Piece): Part[][] {
  const groups = new Map<string, Part[]>();
  for (const part of score.parts) {
    if (!isIn(part)) continue;
    const line = delivery.layout === 'single' ? `${part.channel}` : `${part.track}/${part.channel}`;
    const key = part.seat === null ? `line ${line}` : `seat ${part.seat}`;
    const group = groups.get(key);
    if (group) group.push(part);
    else groups.set(key, [part]);
  }
  return [...groups.values()];
}

export const seatGroupsOf = (piece: Piece): OutputLine[] => seatPartsOf(piece).map(lineOf);

const lineOf = (parts: readonly Part[]): OutputLine => ({
  channel: parts[0]!.channel,
  parts,
  notes: notesTogether(parts),
});

export const linesOf = (piece: Piece): OutputLine[] => linePartsOf(piece).map(lineOf);

/** The notes of several parts in one, sorted by start. */
export function notesTogether(parts: readonly Part[]): LineNotes {
  if (parts.length === 1) return parts[0]!.notes;
  const count = parts.reduce((sum, p) => sum + p.notes.count, 0);
  const starts = new Int32Array(count);
  const ends = new Int32Array(count);
  const keys = new Uint8Array(count);
  const ids = new Uint32Array(count);
  let at = 0;
  for (const { notes } of parts) {
    starts.set(notes.start, at);
    ends.set(notes.end, at);
    keys.set(notes.noteNumber, at);
    ids.set(notes.id, at);
    at += notes.count;
  }
  const order = sortByKey(starts);
  const start = new Int32Array(count);
  const end = new Int32Array(count);
  const noteNumber = new Uint8Array(count);
  const id = new Uint32Array(count);
  for (let k = 0; k < count; k++) {
    const i = order[k]!;
    start[k] = starts[i]!;
    end[k] = ends[i]!;
    noteNumber[k] = keys[i]!;
    id[k] = ids[i]!;
  }
  return { count, start, end, noteNumber, id };
}
