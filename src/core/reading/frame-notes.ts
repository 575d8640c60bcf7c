import type { Maps } from '../score/inventory';
import { sortByKey } from '../score/columns';
import type { Piece } from '../score/piece';
import { frameAt } from './frames';
import { heardNotes, type HeardNotes } from './heard-notes';

/** Changes by frame; in one frame the offs stand before the ons, by channel and key. */
export interface FrameChanges {
  readonly count: number;
  readonly frame: Int32Array;
  readonly channel: Uint8Array;
  readonly on: Uint8Array;
  readonly key: Uint8Array;
  readonly velocity: Uint8Array;
}

export interface FrameNotes {
  readonly changes: FrameChanges;
  /** Channels with notes, and what their parts are called. */
  readonly names: ReadonlyMap<number, string>;
  readonly notes: HeardNotes;
  /** The frames of each note: it sounds in [on, off). */
  readonly on: Int32Array;
  readonly off: Int32Array;
  /** Notes shorter than a frame, held for one. */
  readonly short: number;
  /** Notes that a shift moved before frame 0: they are not in the table. */
  readonly before: number;
  /** Notes that begin in the frame of another of their key and channel: the deck sees one. */
  readonly shared: readonly number[];
}

/** The notes of a piece as a deck of frames plays them. */
export function frameNotes(piece: Piece, maps: Maps, rate: number, shift: number): FrameNotes {
  const notes = heardNotes(piece);
  const on = new Int32Array(notes.count);
  const off = new Int32Array(notes.count);
  const names = new Map<number, string>();
  let short = 0;
  let before = 0;
  const shared: number[] = [];
  const last = new Map<number, number>();
  for (let i = 0; i < notes.count; i++) {
    const part = notes.parts[notes.part[i]!]!;
    on[i] = frameAt(maps, rate, notes.start[i]!) + shift;
    const end = frameAt(maps, rate, notes.end[i]!) + shift;
    off[i] = Math.max(end, on[i]! + 1);
    if (end <= on[i]!) short++;
    if (on[i]! < 0) {
      before++;
      continue;
    }
    const line = part.channel * 128 + notes.key[i]!;
    if (last.get(line) === on[i]) shared.push(i);
    last.set(line, on[i]!);
    const name = names.get(part.channel);
    if (name === undefined) names.set(part.channel, part.name);
    else if (!name.split(' + ').includes(part.name))
      names.set(part.channel, `${name} + ${part.name}`.slice(0, 200));
  }
  return { changes: changesOf(notes, on, off), names, notes, on, off, short, before, shared };
}

function changesOf(notes: HeardNotes, on: Int32Array, off: Int32Array): FrameChanges {
  const list: number[] = [];
  for (let i = 0; i < notes.count; i++) if (on[i]! >= 0) list.push(i);
  const count = list.length * 2;
  const channelOf = (i: number) => notes.parts[notes.part[i]!]!.channel;
  const order = new Float64Array(count);
  list.forEach((i, k) => {
    const line = channelOf(i) * 128 + notes.key[i]!;
    // Frames stay below 2³¹: the whole is exact.
    order[k * 2] = (on[i]! * 2 + 1) * 4096 + line;
    order[k * 2 + 1] = off[i]! * 2 * 4096 + line;
  });
  const sorted = sortByKey(order);
  const out = {
    count,
    frame: new Int32Array(count),
    channel: new Uint8Array(count),
    on: new Uint8Array(count),
    key: new Uint8Array(count),
    velocity: new Uint8Array(count),
  };
  for (let k = 0; k < count; k++) {
    const place = sorted[k]!;
    const i = list[place >> 1]!;
    const begins = (place & 1) === 0;
    out.frame[k] = begins ? on[i]! : off[i]!;
    out.channel[k] = channelOf(i);
    out.on[k] = begins ? 1 : 0;
    out.key[k] = notes.key[i]!;
    out.velocity[k] = begins ? notes.velocity[i]! : 0;
  }
  return out;
}
