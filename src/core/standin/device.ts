import type { Seat, Target } from '../target/schema';
import type { Gathering } from './played';

/** A note on its way through a device. */
export interface DeviceNote {
  /** As the device plays it. */
  atUs: number;
  endUs: number;
  /** As it is written. */
  readonly writtenUs: number;
  readonly tick: number;
  readonly endTick: number;
  readonly channel: number;
  readonly track: string | null;
  /** Its seat by id; `channel N` where the target has none. */
  seat: string;
  readonly key: number;
  readonly velocity: number;
  readonly release: number;
  readonly file: string;
}

/** What keeps a limit strictly: a stop. Of cautions and remarks a device takes no notice. */
export const keeps = (block: { readonly severity?: string | undefined } | undefined): boolean =>
  block !== undefined && (block.severity ?? 'stop') === 'stop';

/** Microseconds. Moments are exact here as in the rules: what a limit allows is allowed to its edge. */
export const HAIR_US = 1e-3;

/** Passes notes from limit to limit; what one drops the next does not see. */
export class Device {
  constructor(
    readonly target: Target,
    readonly out: Gathering,
    public notes: DeviceNote[],
  ) {}

  drop(n: DeviceNote, because: string, block: string | null, how: 'silent' | 'altered' = 'silent') {
    const { atUs, seat, key, file, writtenUs } = n;
    this.out.dropped.push({
      atUs: Math.round(atUs),
      seat,
      key,
      file,
      because,
      block,
      how,
      writtenUs,
    });
  }

  /** Keeps the notes for which `keep` says nothing; what it says is why one is silent. */
  sift(block: string | null, keep: (n: DeviceNote) => string | null) {
    this.notes = this.notes.filter((n) => {
      const because = keep(n);
      if (because !== null) this.drop(n, because, block);
      return because === null;
    });
  }

  *bySeat(seats?: readonly string[]): Iterable<DeviceNote[]> {
    const groups = new Map<string, DeviceNote[]>();
    for (const n of this.notes) {
      if (seats && !seats.includes(n.seat)) continue;
      const there = groups.get(n.seat);
      if (there) there.push(n);
      else groups.set(n.seat, [n]);
    }
    yield* groups.values();
  }

  private without(gone: ReadonlySet<DeviceNote>) {
    if (gone.size > 0) this.notes = this.notes.filter((n) => !gone.has(n));
  }

  /** Nobody sits there: what no seat listens to is not heard. */
  seats() {
    const { seats, channels, seating } = this.target;
    if (keeps(channels))
      this.sift('channels', (n) =>
        channels!.only.includes(n.channel) ? null : `it does not listen to channel ${n.channel}`,
      );
    if (seats.length === 0 || seats.every((s) => s.kind === 'file')) return;
    for (const n of this.notes) n.seat = seatOf(seats, n)?.id ?? '';
    if (seating?.unseated === 'taken') return;
    this.sift('seats', (n) => (n.seat === '' ? `nobody listens on channel ${n.channel}` : null));
  }

  keys() {
    const { notes, seats } = this.target;
    const strict = keeps(notes);
    const limits = new Map(seats.map((s) => [s.id, s.accepts]));
    this.sift('notes', ({ key, seat }) => {
      const own = limits.get(seat);
      const off =
        key < (own?.lowest ?? 0) ||
        key > (own?.highest ?? 127) ||
        (own?.only !== undefined && !own.only.includes(key));
      if (off) return 'its seat has no such key';
      if (!strict || !notes) return null;
      const { lowest = 0, highest = 127, without, only } = notes;
      return key < lowest ||
        key > highest ||
        without?.includes(key) ||
        (only && !only.includes(key))
        ? 'it has no such key'
        : null;
    });
    if (strict && notes?.most !== undefined && this.notes.length > notes.most) {
      const kept = this.notes.slice(0, notes.most);
      for (const n of this.notes.slice(notes.most)) this.drop(n, 'its memory is full', 'notes');
      this.notes = kept;
    }
  }

  start() {
    const { start } = this.target;
    if (!keeps(start) || start?.leadInMs === undefined) return;
    const ready = start.leadInMs * 1000;
    this.sift('start', (n) => (n.writtenUs < ready - HAIR_US ? 'it is not ready yet' : null));
  }

  velocity() {
    const { velocity } = this.target;
    if (!keeps(velocity)) return;
    const { lowest = 1, highest = 127 } = velocity!;
    for (const n of this.notes)
      if (n.velocity < lowest || n.velocity > highest)
        this.drop(n, 'its velocity is beyond what it sounds', 'velocity', 'altered');
  }

  /** A hammer that moves is not moved again; a cue that follows too soon is passed over. */
  apart() {
    const { spacing, polyphony } = this.target;
    if (!keeps(spacing)) return;
    const gone = new Set<DeviceNote>();
    const { sameKeyApartMs, apartMs, strikesASecond } = spacing!;
    for (const group of this.bySeat()) {
      const onKey = new Map<number, number>();
      let before: DeviceNote | null = null;
      const strikes: number[] = [];
      for (const n of group) {
        if (sameKeyApartMs !== undefined) {
          const last = onKey.get(n.key);
          if (last !== undefined && n.writtenUs - last < sameKeyApartMs * 1000 - HAIR_US) {
            this.drop(n, `the key was moved less than ${sameKeyApartMs} ms before`, 'spacing');
            gone.add(n);
            continue;
          }
          onKey.set(n.key, n.writtenUs);
        }
        if (apartMs !== undefined && before && !(polyphony && before.tick === n.tick)) {
          if (n.writtenUs - before.writtenUs < apartMs * 1000 - HAIR_US) {
            this.drop(n, `it follows less than ${apartMs} ms behind another`, 'spacing');
            gone.add(n);
            continue;
          }
        }
        before = n;
        if (strikesASecond === undefined) continue;
        if (strikes.at(-1) !== n.writtenUs) {
          while (strikes.length > 0 && n.writtenUs - strikes[0]! >= 1_000_000 - HAIR_US)
            strikes.shift();
          if (strikes.length >= strikesASecond) {
            this.drop(n, `it keeps up with ${strikesASecond} in a second`, 'spacing');
            gone.add(n);
            continue;
          }
          strikes.push(n.writtenUs);
        }
      }
    }
    this.without(gone);
  }

  lengths() {
    const { length } = this.target;
    if (!keeps(length)) return;
    const { shortestMs = 0, longestMs } = length!;
    this.sift('length', (n) =>
      n.endUs - n.atUs < shortestMs * 1000 - 1 ? 'it is too short to be noticed' : null,
    );
    if (longestMs === undefined) return;
    for (const n of this.notes) {
      if (n.endUs - n.atUs <= longestMs * 1000 + HAIR_US) continue;
      this.drop(n, `it cannot hold longer than ${longestMs} ms`, 'length', 'altered');
      n.endUs = n.atUs + longestMs * 1000;
    }
  }

  /** As many voices as there are: what finds none free is not heard. */
  voices() {
    const { polyphony } = this.target;
    if (!keeps(polyphony)) return;
    const { together, over, seats, spanSemitones, sharedNotes } = polyphony!;
    const gone = new Set<DeviceNote>();
    const groups = over === 'all' ? [this.notes] : [...this.bySeat(seats)];
    for (const group of groups) {
      let sounding: DeviceNote[] = [];
      for (const n of group) {
        sounding = sounding.filter((o) => o.endTick > n.tick);
        if (n.endTick <= n.tick) continue;
        if (sounding.length >= together) {
          this.drop(n, `it plays ${together} at once`, 'polyphony');
          gone.add(n);
          continue;
        }
        const low = sounding.reduce((m, o) => Math.min(m, o.key), n.key);
        const high = sounding.reduce((m, o) => Math.max(m, o.key), n.key);
        if (spanSemitones !== undefined && high - low > spanSemitones) {
          this.drop(n, `a hand reaches ${spanSemitones} semitones`, 'polyphony');
          gone.add(n);
          continue;
        }
        sounding.push(n);
      }
    }
    this.without(gone);
    if (sharedNotes !== 'none') return;
    const shared = new Set<DeviceNote>();
    const held = new Map<number, DeviceNote[]>();
    for (const n of this.notes) {
      if (seats && !seats.includes(n.seat)) continue;
      const there = (held.get(n.key) ?? []).filter((o) => o.endTick > n.tick);
      if (there.some((o) => o.seat !== n.seat)) {
        this.drop(n, 'the other hand holds the same key', 'polyphony');
        shared.add(n);
      } else there.push(n);
      held.set(n.key, there);
    }
    this.without(shared);
  }

  /** Steam: what was open in the last stretch of time may not exceed what there is. */
  breath() {
    const { spacing } = this.target;
    if (!keeps(spacing) || spacing?.mostOpenMs === undefined || spacing.openInMs === undefined)
      return;
    const most = spacing.mostOpenMs * 1000;
    const within = spacing.openInMs * 1000;
    for (const group of this.bySeat()) {
      const open: { from: number; to: number }[] = [];
      let first = 0;
      for (const n of group) {
        // Only what is not open already takes steam.
        const from = Math.max(n.atUs, open.at(-1)?.to ?? 0);
        if (n.endUs <= from) continue;
        const used = (until: number) => {
          let sum = 0;
          for (let k = first; k < open.length; k++)
            sum += Math.max(
              0,
              Math.min(open[k]!.to, until) - Math.max(open[k]!.from, until - within),
            );
          return sum + until - Math.max(from, until - within);
        };
        while (first < open.length && open[first]!.to <= from - within) first++;
        if (
          used(n.endUs) <= most + HAIR_US &&
          !crosses(open, first, from, n.endUs, within, used, most)
        ) {
          open.push({ from, to: n.endUs });
          continue;
        }
        // The moment at which it runs out, to the microsecond.
        let low = from;
        let high = n.endUs;
        while (high - low > 1) {
          const mid = (low + high) / 2;
          if (used(mid) > most) high = mid;
          else low = mid;
        }
        this.drop(n, 'it runs out of steam', 'spacing', 'altered');
        n.endUs = low;
        open.push({ from, to: low });
      }
    }
  }
}

/** Whether the steam runs out inside a note although it has come back at its end. */
function crosses(
  open: readonly { from: number; to: number }[],
  first: number,
  from: number,
  end: number,
  within: number,
  used: (until: number) => number,
  most: number,
): boolean {
  for (let k = first; k < open.length; k++)
    for (const edge of [open[k]!.from + within, open[k]!.to + within])
      if (edge > from && edge < end && used(edge) > most + HAIR_US) return true;
  return false;
}

/** The seat that listens to a note: by channel, and by track where a seat names one. */
export function seatOf(
  seats: readonly Seat[],
  { channel, track }: { readonly channel: number; readonly track: string | null },
): Seat | undefined {
  return seats.find((s) => {
    if (s.kind === 'file') return false;
    if (s.kind === 'track') return s.track === track;
    if (s.channel !== channel) return false;
    return s.kind === 'laneGroup' && s.track !== undefined ? s.track === track : true;
  });
}
