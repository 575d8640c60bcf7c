import type { Piece } from '../score/piece';
import { sortByKey } from '../score/columns';
import { isIn, type NoteColumns, type Part } from '../score/score';
import type { Target } from '../target/schema';

/** What rules need of notes that are looked at together. */
export type LineNotes = Pick<NoteColumns, 'count' | 'start' | 'end' | 'noteNumber' | 'id'>;

/**
 * What the far side takes for one voice: the parts that share a track and a channel as delivered.
 * A merge to one track can make two notes one, so overlaps and stuck notes are judged here.
 */
export interface OutputLine {
  readonly channel: number;
  /** Those that have notes, where any has: one that is there for its events is no second voice. */
  readonly parts: readonly Part[];
  /** Notes of all its parts, sorted by start. */
  readonly notes: LineNotes;
}

/** Parts that are delivered, in groups of one key, in the order of their first part. */
function grouped({ score }: Piece, keyOf: (part: Part) => string): Part[][] {
  const groups = new Map<string, Part[]>();
  for (const part of score.parts) {
    if (!isIn(part)) continue;
    const key = keyOf(part);
    const group = groups.get(key);
    if (group) group.push(part);
    else groups.set(key, [part]);
  }
  return [...groups.values()];
}

/**
 * By what the far side tells notes of one key apart: in a MIDI file by track and channel; in a chart by
 * seat, in strands by part, wherever they stand in the source.
 */
export type ToldBy = 'track' | 'seat' | 'part';

export const toldByOf = ({ seats, strands }: Target): ToldBy =>
  strands !== undefined ? 'part' : seats.some((s) => s.kind === 'laneGroup') ? 'seat' : 'track';

const lineKey =
  ({ delivery }: Piece, toldBy: ToldBy = 'track') =>
  (part: Part): string => {
    if (toldBy === 'part') return part.id;
    const apart = toldBy === 'seat' && part.seat !== null ? `${part.seat} ` : '';
    return delivery.layout === 'single'
      ? `${apart}${part.channel}`
      : `${apart}${part.track}/${part.channel}`;
  };

/** The parts of each line, without their notes joined. */
export const linePartsOf = (piece: Piece, toldBy?: ToldBy): Part[][] =>
  grouped(piece, lineKey(piece, toldBy));

/**
 * The parts that share a seat; without seats those that share a channel, which is all that a device
 * tells them apart by, whatever their tracks.
 */
export const seatPartsOf = (piece: Piece, toldBy?: ToldBy): Part[][] =>
  grouped(piece, (p) => {
    if (p.seat !== null) return `seat ${p.seat}`;
    return toldBy === 'part' ? `part ${p.id}` : `channel ${p.channel}`;
  });

/**
 * The parts that share a channel, whatever their tracks: program, controllers and bend are the
 * channel's, and a chord is struck on it. MIDI 1.0, "Channel Voice Messages".
 */
export const channelPartsOf = (piece: Piece): Part[][] => grouped(piece, (p) => `${p.channel}`);

/** The same, of those of them that play. */
function playedLine(parts: readonly Part[]): OutputLine {
  const played = parts.filter((p) => p.notes.count > 0);
  return lineOf(played.length > 0 ? played : parts);
}

export const seatGroupsOf = (piece: Piece, toldBy?: ToldBy): OutputLine[] =>
  seatPartsOf(piece, toldBy).map(playedLine);

const lineOf = (parts: readonly Part[]): OutputLine => ({
  channel: parts[0]!.channel,
  parts,
  notes: notesTogether(parts),
});

/** With all their parts: what a channel is told is told to whoever plays on it. */
export const channelsOf = (piece: Piece): OutputLine[] => channelPartsOf(piece).map(lineOf);

export const linesOf = (piece: Piece, toldBy?: ToldBy): OutputLine[] =>
  linePartsOf(piece, toldBy).map(playedLine);

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
