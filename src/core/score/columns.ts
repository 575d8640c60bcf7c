import { type EventColumns, type NoteColumns } from './score';

/** New columns with `count` notes and nothing in them. */
export const newNotes = (count: number) => ({
  count,
  start: new Int32Array(count),
  end: new Int32Array(count),
  noteNumber: new Uint8Array(count),
  velocity: new Uint8Array(count),
  offKind: new Uint8Array(count),
  offVelocity: new Uint8Array(count),
  onOrder: new Uint32Array(count),
  offOrder: new Uint32Array(count),
  id: new Uint32Array(count),
  origin: new Uint32Array(count),
});

export const newEvents = (count: number) => ({
  count,
  tick: new Int32Array(count),
  kind: new Uint8Array(count),
  data1: new Uint8Array(count),
  data2: new Uint8Array(count),
  order: new Uint32Array(count),
});

const NOTE_KEYS = Object.keys(newNotes(0)).filter((k) => k !== 'count') as Exclude<
  keyof NoteColumns,
  'count'
>[];
const EVENT_KEYS = Object.keys(newEvents(0)).filter((k) => k !== 'count') as Exclude<
  keyof EventColumns,
  'count'
>[];

/** The notes at `indices`, in that order. */
export function pickNotes(notes: NoteColumns, indices: ArrayLike<number>): NoteColumns {
  const out = newNotes(indices.length);
  for (const key of NOTE_KEYS) {
    const from = notes[key];
    const to = out[key];
    for (let i = 0; i < indices.length; i++) to[i] = from[indices[i]!]!;
  }
  return out;
}

/** The events at `indices`, in that order. */
export function pickEvents(events: EventColumns, indices: ArrayLike<number>): EventColumns {
  const out = newEvents(indices.length);
  for (const key of EVENT_KEYS) {
    const from = events[key];
    const to = out[key];
    for (let i = 0; i < indices.length; i++) to[i] = from[indices[i]!]!;
  }
  return out;
}

/** Indices of the notes for which `keep` holds. */
export function notesWhere(notes: NoteColumns, keep: (i: number) => boolean): number[] {
  const out: number[] = [];
  for (let i = 0; i < notes.count; i++) if (keep(i)) out.push(i);
  return out;
}

/** The same notes sorted by start again; the columns themselves where they already are. */
export function sortNotes(notes: NoteColumns): NoteColumns {
  const { start, count } = notes;
  let sorted = true;
  for (let i = 1; i < count && sorted; i++) sorted = start[i - 1]! <= start[i]!;
  if (sorted) return notes;
  return pickNotes(notes, sortByKey(start));
}

/** One set of columns after the other, sorted by start. */
export function joinNotes(all: readonly NoteColumns[]): NoteColumns {
  const out = newNotes(all.reduce((sum, notes) => sum + notes.count, 0));
  let at = 0;
  for (const notes of all) {
    for (const key of NOTE_KEYS) out[key].set(notes[key], at);
    at += notes.count;
  }
  return sortNotes(out);
}

export function joinEvents(all: readonly EventColumns[]): EventColumns {
  const out = newEvents(all.reduce((sum, events) => sum + events.count, 0));
  let at = 0;
  for (const events of all) {
    for (const key of EVENT_KEYS) out[key].set(events[key], at);
    at += events.count;
  }
  return pickEvents(out, sortByKey(out.tick));
}

/** The same events on a track of their own: there they have no place of the source. */
export function withoutOrder(events: EventColumns): EventColumns {
  const out = newEvents(events.count);
  for (const key of ['tick', 'kind', 'data1', 'data2'] as const) out[key].set(events[key]);
  return out;
}

/**
 * Indices in the order of their keys (whole numbers from 0 to 2⁴⁸), equal keys in the order given.
 * A radix sort, 16 bits at a time: linear in the notes.
 */
export function sortByKey(keys: ArrayLike<number>): Uint32Array {
  const count = keys.length;
  let from = new Uint32Array(count);
  let most = 0;
  let sorted = true;
  for (let i = 0; i < count; i++) {
    from[i] = i;
    const key = keys[i]!;
    if (key > most) most = key;
    if (i > 0 && key < keys[i - 1]!) sorted = false;
  }
  if (sorted) return from;
  let to = new Uint32Array(count);
  // Small lists are not worth a heap of 65,536 slots.
  const bits = count < 20_000 ? 8 : 16;
  const slots = 1 << bits;
  const digit = new Uint16Array(count);
  const heap = new Uint32Array(slots + 1);
  for (let unit = 1; unit <= most; unit *= slots) {
    heap.fill(0);
    for (let i = 0; i < count; i++) {
      const d = Math.floor(keys[i]! / unit) & (slots - 1);
      digit[i] = d;
      heap[d + 1]!++;
    }
    for (let d = 0; d < slots; d++) heap[d + 1]! += heap[d]!;
    for (let i = 0; i < count; i++) {
      const index = from[i]!;
      to[heap[digit[index]!]!++] = index;
    }
    [from, to] = [to, from];
  }
  return from;
}
