import { TrackBuilder } from '../smf/build';
import { META, META_KEY, META_MARKER, META_METER, META_TEMPO, type SmfTrack } from '../smf/file';
import { sortByKey } from './columns';
import { OFF_BY_VELOCITY_0, OFF_MISSING, type Score } from './score';

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
  put: (to: TrackBuilder) => void;
}

/** A tempo as the three bytes of its meta event. */
export const tempoBytes = (microsecondsPerQuarter: number): Uint8Array =>
  Uint8Array.of(
    (microsecondsPerQuarter >> 16) & 0xff,
    (microsecondsPerQuarter >> 8) & 0xff,
    microsecondsPerQuarter & 0xff,
  );

/** The events of one delivered track, in the order of the source where it still holds. */
export function toTrack(score: Score, selection: TrackSelection): SmfTrack {
  const single = selection.tracks.length === 1 ? selection.tracks[0] : undefined;
  const plain = plainEntries(score, selection);
  const parts = selection.parts.map((i) => score.parts[i]!);
  let total = plain.length;
  for (const part of parts) {
    total += part.notes.count * 2 + part.events.count;
  }
  const events = new Events(total);
  for (const part of parts) {
    const channel = part.channel - 1;
    const { notes, events: others } = part;
    for (let i = 0; i < notes.count; i++) {
      const start = notes.start[i]!;
      const end = notes.end[i]!;
      const key = notes.noteNumber[i]!;
      events.add(start, RANK_ON, notes.onOrder[i]!, 0x90 | channel, key, notes.velocity[i]!);
      const kind = notes.offKind[i]!;
      if (kind === OFF_MISSING) continue;
      const status = (kind === OFF_BY_VELOCITY_0 ? 0x90 : 0x80) | channel;
      const velocity = kind === OFF_BY_VELOCITY_0 ? 0 : notes.offVelocity[i]!;
      const rank = end > start ? RANK_OFF : RANK_EMPTY_OFF;
      events.add(end, rank, notes.offOrder[i]!, status, key, velocity);
    }
    for (let i = 0; i < others.count; i++) {
      const status = others.kind[i]! | channel;
      const { tick, order, data1, data2 } = others;
      events.add(tick[i]!, RANK_OTHER, order[i]!, status, data1[i]!, data2[i]!);
    }
  }
  plain.forEach((entry, i) => events.add(entry.tick, entry.rank, entry.order, 0, 0, 0, i));

  const endTick = endOf(score, selection, events);
  const builder = new TrackBuilder(events.count + 1);
  const sorted = (single !== undefined && events.inSourceOrder()) || events.sorted();
  for (let k = 0; k < sorted.length; k++) {
    const i = sorted[k]!;
    if (events.status[i] === 0) plain[events.plain.get(i)!]!.put(builder);
    else
      builder.channelEvent(events.tick[i]!, events.status[i]!, events.data1[i]!, events.data2[i]!);
  }
  return builder.end(endTick);
}

/** Events of one track before they are put in order. */
class Events {
  count = 0;
  readonly tick: Int32Array;
  readonly rank: Uint8Array;
  readonly order: Uint32Array;
  readonly status: Uint8Array;
  readonly data1: Uint8Array;
  readonly data2: Uint8Array;
  readonly plain = new Map<number, number>();
  constructor(capacity: number) {
    this.tick = new Int32Array(capacity);
    this.rank = new Uint8Array(capacity);
    this.order = new Uint32Array(capacity);
    this.status = new Uint8Array(capacity);
    this.data1 = new Uint8Array(capacity);
    this.data2 = new Uint8Array(capacity);
  }

  add(
    tick: number,
    rank: number,
    order: number,
    status: number,
    data1: number,
    data2: number,
    plain?: number,
  ) {
    const i = this.count++;
    this.tick[i] = tick;
    this.rank[i] = rank;
    this.order[i] = order;
    this.status[i] = status;
    this.data1[i] = data1;
    this.data2[i] = data2;
    if (plain !== undefined) this.plain.set(i, plain);
  }

  /** By the source's own order, where every event still has one and time still runs forward. */
  inSourceOrder(): Uint32Array | null {
    let most = 0;
    for (let i = 0; i < this.count; i++) {
      const order = this.order[i]!;
      if (order === 0) return null;
      if (order > most) most = order;
    }
    if (most > this.count * 4 + 1024) return this.bySortedOrder();
    const slots = new Uint32Array(most + 1);
    for (let i = 0; i < this.count; i++) {
      const order = this.order[i]!;
      if (slots[order] !== 0) return null;
      slots[order] = i + 1;
    }
    const out = new Uint32Array(this.count);
    let at = 0;
    for (let k = 0; k <= most; k++) if (slots[k] !== 0) out[at++] = slots[k]! - 1;
    return this.runsForward(out) ? out : null;
  }

  private bySortedOrder(): Uint32Array | null {
    const out = sortByKey(this.order.subarray(0, this.count));
    for (let k = 1; k < out.length; k++)
      if (this.order[out[k]!] === this.order[out[k - 1]!]) return null;
    return this.runsForward(out) ? out : null;
  }

  private runsForward(indices: Uint32Array): boolean {
    for (let k = 1; k < indices.length; k++)
      if (this.tick[indices[k]!]! < this.tick[indices[k - 1]!]!) return false;
    return true;
  }

  /** By tick, then by rank, then as collected. */
  sorted(): Uint32Array {
    const keys = new Float64Array(this.count);
    for (let i = 0; i < this.count; i++) keys[i] = this.tick[i]! * 4 + this.rank[i]!;
    return sortByKey(keys);
  }
}

function plainEntries(score: Score, selection: TrackSelection): Entry[] {
  const out: Entry[] = [];
  const conducted = new Set(selection.conductorOf);
  const add = (tick: number, order: number, status: number, type: number, bytes: Uint8Array) =>
    out.push({
      tick,
      rank: RANK_OTHER,
      order,
      put: (to) => to.longEvent(tick, status, type, bytes),
    });
  for (const index of selection.tracks)
    for (const e of score.tracks[index]!.events) add(e.tick, e.order, e.status, e.type, e.bytes);
  const { tempos, meters, keys, markers } = score.conductor;
  for (const e of tempos)
    if (conducted.has(e.track))
      add(e.tick, e.order, META, META_TEMPO, tempoBytes(e.microsecondsPerQuarter));
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

/** A track ends where its source's track did, or with its last event if that is later. */
function endOf(score: Score, selection: TrackSelection, events: Events): number {
  let end = 0;
  for (const index of selection.tracks) end = Math.max(end, score.tracks[index]!.endTick);
  for (const part of selection.parts)
    end = Math.max(end, score.tracks[score.parts[part]!.track]!.endTick);
  for (let i = 0; i < events.count; i++) if (events.tick[i]! > end) end = events.tick[i]!;
  return end;
}
