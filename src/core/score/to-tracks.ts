import { TrackBuilder } from '../smf/build';
import { META, META_KEY, META_MARKER, META_METER, META_TEMPO, type SmfTrack } from '../smf/file';
import { sortByKey } from './columns';
import {
  OFF_BY_VELOCITY_0,
  OFF_MISSING,
  isIn,
  type EventColumns,
  type NoteColumns,
  type Part,
  type Score,
} from './score';

/** Which of a score's tracks and parts go into one track of the delivery. */
export interface TrackSelection {
  /** Indices of score tracks whose own events (names, texts, sysex) are written. */
  readonly tracks: readonly number[];
  /** Indices of score tracks whose tempo, meter, key and marker events are written. */
  readonly conductorOf: readonly number[];
  /** Indices into the score's parts. */
  readonly parts: readonly number[];
}

/** Within one tick: ends of notes, then what prepares, then beginnings; a note of no length last. */
const RANK_OFF = 0;
const RANK_OTHER = 1;
const RANK_ON = 2;
const RANK_EMPTY_OFF = 3;

interface Entry {
  tick: number;
  rank: number;
  /** Place in the source's track; 0 where there is none any more. */
  order: number;
  status: number;
  type: number;
  /** A tempo is its number: a song may follow its tempo thousands of times. */
  body: Uint8Array | number;
}

const put = ({ tick, status, type, body }: Entry, to: TrackBuilder) =>
  typeof body === 'number' ? to.tempo(tick, body) : to.longEvent(tick, status, type, body);

/**
 * The end of a delivered track, at the least. One that stands for no track of the score holds what
 * conducts the whole, and ends with it.
 */
export function endOfTrack(score: Score, { tracks, parts }: TrackSelection): number {
  const own = [...tracks, ...parts.map((i) => score.parts[i]!.track)];
  // What is left out does not make it longer.
  const of = own.length > 0 ? own : score.parts.filter(isIn).map((p) => p.track);
  return of.reduce((end, track) => Math.max(end, score.tracks[track]!.endTick), 0);
}

/** The events of one delivered track, in the order of the source where it still holds. */
export function toTrack(score: Score, selection: TrackSelection): SmfTrack {
  const plain = plainEntries(score, selection);
  const parts = selection.parts.map((i) => score.parts[i]!);
  const [only] = selection.tracks;
  const ofOneTrack =
    selection.tracks.length === 1 && parts.every((part) => part.sourceTrack === only);
  const end = endOfTrack(score, selection);
  return (
    (ofOneTrack && inSourceOrder(parts, plain, score.tracks[only!]!.endOrder, end)) ||
    inOrderOfTime(parts, plain, end)
  );
}

const eventsOf = (parts: readonly Part[]) =>
  parts.reduce((n, part) => n + part.notes.count * 2 + part.events.count, 0);

/** Marks a slot that holds a meta or sysex event; no channel message has this status. */
const PLAIN = 0xff;

/**
 * Every event in the slot that it had in its source; null where one has none any more, two share
 * one, or time would run backwards.
 * @param slots the order of the source's end-of-track: no event comes behind it
 */
function inSourceOrder(
  parts: readonly Part[],
  plain: readonly Entry[],
  slots: number,
  endTick: number,
): SmfTrack | null {
  // Where little is left of a long track its slots are not worth walking.
  if (slots > (eventsOf(parts) + plain.length) * 4 + 1024) return null;
  const columns = {
    tick: new Int32Array(slots),
    status: new Uint8Array(slots),
    data1: new Uint8Array(slots),
    data2: new Uint8Array(slots),
  };
  const { tick, status, data1, data2 } = columns;
  for (const { notes, events, channel: number } of parts) {
    const channel = number - 1;
    const { count, start, end, noteNumber, velocity, offKind, offVelocity } = notes;
    const { onOrder, offOrder } = notes;
    for (let i = 0; i < count; i++) {
      const on = onOrder[i]!;
      if (on === 0 || on >= slots || status[on] !== 0) return null;
      tick[on] = start[i]!;
      status[on] = 0x90 | channel;
      data1[on] = noteNumber[i]!;
      data2[on] = velocity[i]!;
      const kind = offKind[i]!;
      if (kind === OFF_MISSING) continue;
      const off = offOrder[i]!;
      if (off === 0 || off >= slots || status[off] !== 0) return null;
      tick[off] = end[i]!;
      status[off] = (kind === OFF_BY_VELOCITY_0 ? 0x90 : 0x80) | channel;
      data1[off] = noteNumber[i]!;
      data2[off] = kind === OFF_BY_VELOCITY_0 ? 0 : offVelocity[i]!;
    }
    for (let i = 0; i < events.count; i++) {
      const order = events.order[i]!;
      if (order === 0 || order >= slots || status[order] !== 0) return null;
      tick[order] = events.tick[i]!;
      status[order] = events.kind[i]! | channel;
      data1[order] = events.data1[i]!;
      data2[order] = events.data2[i]!;
    }
  }
  for (const entry of plain) {
    if (entry.order === 0 || entry.order >= slots || status[entry.order] !== 0) return null;
    tick[entry.order] = entry.tick;
    status[entry.order] = PLAIN;
  }
  let last = 0;
  for (let slot = 1; slot < slots; slot++) {
    if (status[slot] === 0) continue;
    if (tick[slot]! < last) return null;
    last = tick[slot]!;
  }
  const builder = new TrackBuilder(slots + 1);
  let from = 1;
  for (const entry of byOrder(plain)) {
    builder.channelEvents(columns, from, entry.order);
    put(entry, builder);
    from = entry.order + 1;
  }
  builder.channelEvents(columns, from, slots);
  return builder.end(Math.max(endTick, last));
}

/**
 * By tick; within one tick ends of notes, then what prepares, then beginnings. Where the source had
 * them otherwise on a channel of one of its tracks, that order is kept: a program change behind a
 * note-on is not for that note, a note-off behind a pedal is held by it.
 */
function inOrderOfTime(parts: readonly Part[], plain: readonly Entry[], endTick: number): SmfTrack {
  const total = eventsOf(parts) + plain.length;
  const keys = new Float64Array(total);
  const status = new Uint8Array(total);
  const data1 = new Uint8Array(total);
  const data2 = new Uint8Array(total);
  /** Of which part, and where in its source's track: only where that decides something. */
  let ties: { part: Uint32Array; order: Uint32Array } | null = null;
  let n = 0;
  const add = (tick: number, rank: number, s: number, d1: number, d2: number) => {
    keys[n] = tick * 4 + rank;
    status[n] = s;
    data1[n] = d1;
    data2[n++] = d2;
  };
  for (const [p, { notes, events, channel: number }] of parts.entries()) {
    const channel = number - 1;
    const first = events.count > 0 ? firstOrders(events) : null;
    const from = n;
    let kept = false;
    for (let i = 0; i < notes.count; i++) {
      const start = notes.start[i]!;
      const end = notes.end[i]!;
      const key = notes.noteNumber[i]!;
      add(start, RANK_ON, 0x90 | channel, key, notes.velocity[i]!);
      const kind = notes.offKind[i]!;
      if (kind === OFF_MISSING) continue;
      const byVelocity = kind === OFF_BY_VELOCITY_0;
      const before = first?.get(end) ?? Infinity;
      const held = notes.offOrder[i]! > before;
      kept ||= held;
      const rank = end === start ? RANK_EMPTY_OFF : held ? RANK_OTHER : RANK_OFF;
      const off = byVelocity ? 0 : notes.offVelocity[i]!;
      add(end, rank, (byVelocity ? 0x90 : 0x80) | channel, key, off);
    }
    const struck = first ? earliestOns(notes, first) : null;
    for (let i = 0; i < events.count; i++) {
      const behind = events.order[i]! > (struck!.get(events.tick[i]!) ?? Infinity);
      kept ||= behind;
      add(
        events.tick[i]!,
        behind ? RANK_ON : RANK_OTHER,
        events.kind[i]! | channel,
        events.data1[i]!,
        events.data2[i]!,
      );
    }
    if (!kept) continue;
    ties ??= { part: new Uint32Array(total), order: new Uint32Array(total) };
    // In the order in which they were added above.
    let k = from;
    const tie = (order: number) => {
      ties!.part[k] = p + 1;
      // What has lost its place comes last: it is as if set up by all of its tick.
      ties!.order[k++] = order === 0 ? 0xffffffff : order;
    };
    for (let i = 0; i < notes.count; i++) {
      tie(notes.onOrder[i]!);
      if (notes.offKind[i] !== OFF_MISSING) tie(notes.offOrder[i]!);
    }
    for (let i = 0; i < events.count; i++) tie(events.order[i]!);
  }
  const firstPlain = n;
  for (const entry of plain) add(entry.tick, entry.rank, PLAIN, 0, 0);
  const order = sortByKey(keys.subarray(0, n));
  if (ties) keepOrder(order, keys, ties);
  const builder = new TrackBuilder(n + 1);
  let last = 0;
  for (let k = 0; k < n; k++) {
    const i = order[k]!;
    last = Math.floor(keys[i]! / 4);
    if (status[i] === PLAIN) put(plain[i - firstPlain]!, builder);
    else builder.channelEvent(last, status[i]!, data1[i]!, data2[i]!);
  }
  return builder.end(Math.max(endTick, last));
}

/** By tick the first place at which an event stands in the source's track. */
function firstOrders({ count, tick, order }: EventColumns): Map<number, number> {
  const first = new Map<number, number>();
  for (let i = 0; i < count; i++) {
    if (order[i] === 0) continue;
    const known = first.get(tick[i]!);
    if (known === undefined || order[i]! < known) first.set(tick[i]!, order[i]!);
  }
  return first;
}

/** The first note-on at each tick that has events. */
function earliestOns(notes: NoteColumns, events: ReadonlyMap<number, number>): Map<number, number> {
  const first = new Map<number, number>();
  for (let i = 0; i < notes.count; i++) {
    const tick = notes.start[i]!;
    const on = notes.onOrder[i]!;
    if (on === 0 || !events.has(tick)) continue;
    const known = first.get(tick);
    if (known === undefined || on < known) first.set(tick, on);
  }
  return first;
}

/** Within each run of one tick and rank, the entries of a part in the order of its source. */
function keepOrder(
  order: Uint32Array,
  keys: Float64Array,
  { part, order: place }: { part: Uint32Array; order: Uint32Array },
) {
  for (let from = 0; from < order.length;) {
    let to = from + 1;
    while (to < order.length && keys[order[to]!] === keys[order[from]!]) to++;
    if (to - from > 1) {
      const run = order.subarray(from, to);
      if (run.some((i) => part[i]! > 0))
        run.sort((a, b) => part[a]! - part[b]! || place[a]! - place[b]! || a - b);
    }
    from = to;
  }
}

function byOrder(entries: readonly Entry[]): readonly Entry[] {
  for (let i = 1; i < entries.length; i++)
    if (entries[i]!.order < entries[i - 1]!.order)
      return [...entries].sort((a, b) => a.order - b.order);
  return entries;
}

function plainEntries(score: Score, selection: TrackSelection): Entry[] {
  const out: Entry[] = [];
  const conducted = new Set(selection.conductorOf);
  const add = (
    tick: number,
    order: number,
    status: number,
    type: number,
    body: Uint8Array | number,
  ) => out.push({ tick, rank: RANK_OTHER, order, status, type, body });
  for (const index of selection.tracks)
    for (const e of score.tracks[index]!.events) add(e.tick, e.order, e.status, e.type, e.bytes);
  const { tempos, meters, keys, markers } = score.conductor;
  for (const e of tempos)
    if (conducted.has(e.track)) add(e.tick, e.order, META, META_TEMPO, e.microsecondsPerQuarter);
  for (const e of meters) {
    if (!conducted.has(e.track)) continue;
    const body = Uint8Array.of(e.numerator, Math.log2(e.denominator), ...e.rest);
    add(e.tick, e.order, META, META_METER, body);
  }
  for (const e of keys) if (conducted.has(e.track)) add(e.tick, e.order, META, META_KEY, e.bytes);
  for (const e of markers)
    if (conducted.has(e.track)) add(e.tick, e.order, META, META_MARKER, e.bytes);
  return out;
}
