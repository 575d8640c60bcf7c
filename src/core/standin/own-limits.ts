import type { Limit } from '../target/limit-schema';
import type { Device, DeviceNote } from './device';

/** What a device counts by, in microseconds and ticks of the file that it was given. */
export interface DeviceTime {
  readonly ppq: number;
  readonly endTick: number;
  us(tick: number): number;
  /** Bar from 0, as a fraction. */
  bars(tick: number): number;
  /** Quarters of each bar, and microseconds a quarter, as they are stated. */
  readonly barQuarters: readonly number[];
  readonly tempos: readonly number[];
  readonly noteTracks: number;
  /** Beats in the bar at a tick. */
  beatsAt(tick: number): number;
}

/** How close two numbers are one, for what was rounded to ticks and microseconds. */
const CLOSE = 0.0015;

function holds({ least, most, oneOf, multipleOf }: Limit, n: number): boolean {
  if (least !== undefined && n < least - CLOSE) return false;
  if (most !== undefined && n > most + CLOSE) return false;
  if (oneOf !== undefined && oneOf.every((o) => Math.abs(o - n) > CLOSE)) return false;
  if (multipleOf === undefined) return true;
  const over = Math.abs(n) % multipleOf;
  return Math.min(over, multipleOf - over) <= Math.max(CLOSE / 10, multipleOf * 1e-4);
}

/** The device keeps limits of its own as it keeps its blocks: what breaks one is not played. */
export function ownLimits(device: Device, time: DeviceTime, file: string): void {
  const { limits = [], seats } = device.target;
  for (const limit of limits) {
    if ((limit.severity ?? 'stop') !== 'stop') continue;
    const because = limit.why.charAt(0).toLowerCase() + limit.why.slice(1);
    const refuse = () => device.out.refuse(file, 'the whole file', limit.title, 'limits');
    const whole = wholes(limit, time);
    if (whole !== null) {
      if (whole.some((n) => !holds(limit, n))) refuse();
      continue;
    }
    const groups = limit.over === 'piece' ? [device.notes] : [...device.bySeat(limit.where?.seats)];
    const gone = new Set<DeviceNote>();
    let refused = false;
    for (const group of groups) {
      const seat = seats.find((s) => s.id === group[0]?.seat);
      const lanes = seat?.kind === 'laneGroup' ? seat.laneNotes : null;
      const meant = group.filter((n) => counts(limit, n, time));
      const played = new Passed(limit, time, lanes);
      if (!played.bySingleNotes) {
        if (played.sums(meant).some((n) => !holds(limit, n))) refused = true;
        continue;
      }
      for (const n of meant) {
        const value = played.value(n);
        if (value === null || holds(limit, value)) played.keep(n);
        else gone.add(n);
      }
    }
    if (refused || (gone.size > 0 && limit.does === 'refuse')) {
      refuse();
      continue;
    }
    for (const n of gone) device.drop(n, because, 'limits');
    if (gone.size > 0) device.notes = device.notes.filter((n) => !gone.has(n));
  }
}

function counts({ where }: Limit, n: DeviceNote, time: DeviceTime): boolean {
  if (!where) return true;
  if (where.keys && !where.keys.includes(n.key)) return false;
  if (n.velocity < (where.softest ?? 1) || n.velocity > (where.hardest ?? 127)) return false;
  const bar = Math.floor(time.bars(n.tick) + 1e-9) + 1;
  return bar >= (where.fromBar ?? 1) && bar <= (where.toBar ?? Number.MAX_SAFE_INTEGER);
}

/** What is asked of the file as a whole; null where notes are counted. */
function wholes({ measure }: Limit, time: DeviceTime): readonly number[] | null {
  if (measure === 'tempo-bpm') return time.tempos.map((us) => 60_000_000 / us);
  if (measure === 'bar-quarters') return time.barQuarters;
  if (measure === 'clock-ms') return [time.us(time.endTick) / 1000];
  if (measure === 'bars') return [Math.max(1, Math.ceil(time.bars(time.endTick) - 1e-9))];
  if (measure === 'tracks') return [time.noteTracks];
  return null;
}

/** What a device remembers of the notes that it has played. */
class Passed {
  private last: DeviceNote | null = null;
  /** Start of the strike before the one of `last`. */
  private before: DeviceNote | null = null;
  private chord: DeviceNote[] = [];
  private repeats = 0;
  private busyTo = -1;
  private window: DeviceNote[] = [];

  constructor(
    private readonly limit: Limit,
    private readonly time: DeviceTime,
    private readonly lanes: readonly number[] | null,
  ) {}

  get bySingleNotes(): boolean {
    const { over, measure, least } = this.limit;
    if (over === 'note' || over === 'strike') return true;
    return least === undefined && ['notes', 'strikes', 'different-keys'].includes(measure);
  }

  keep(n: DeviceNote) {
    if (this.last && this.last.tick === n.tick) this.chord.push(n);
    else {
      this.before = this.last;
      this.chord = [n];
    }
    this.repeats = this.last?.key === n.key ? this.repeats + 1 : 1;
    this.last = n;
    this.busyTo = Math.max(this.busyTo, n.endTick);
    this.window.push(n);
  }

  value(n: DeviceNote): number | null {
    const { measure, over } = this.limit;
    const { time, last } = this;
    const inChord = last !== null && last.tick === n.tick;
    const lane = (key: number) => {
      if (!this.lanes) return key;
      const at = this.lanes.indexOf(key);
      return at < 0 ? null : at;
    };
    const bar = () => {
      const exact = time.bars(n.tick);
      const whole = Math.floor(exact + 1e-9);
      return Math.max(0, exact - whole) * time.beatsAt(n.tick);
    };
    switch (measure) {
      case 'note-number':
        return n.key;
      case 'velocity':
        return n.velocity;
      case 'length-ms':
        return (time.us(n.endTick) - time.us(n.tick)) / 1000;
      case 'gap-ms':
        return this.busyTo < 0 ? null : Math.max(0, time.us(n.tick) - time.us(this.busyTo)) / 1000;
      case 'apart-ms': {
        const from = inChord ? this.before : last;
        return from === null ? null : (time.us(n.tick) - time.us(from.tick)) / 1000;
      }
      case 'interval':
        return last === null ? null : Math.abs(n.key - last.key);
      case 'jump': {
        const [to, from] = [lane(n.key), last === null ? null : lane(last.key)];
        return to === null || from === null ? null : Math.abs(to - from);
      }
      case 'run':
        return last?.key === n.key ? this.repeats + 1 : 1;
      case 'place-in-bar':
        return bar();
      case 'place-in-beat': {
        const beats = bar();
        const part = beats - Math.floor(beats + 1e-6);
        return Math.max(0, part);
      }
      case 'together':
        return inChord ? this.chord.length + 1 : 1;
      case 'different-keys':
        if (over === 'strike')
          return new Set([...(inChord ? this.chord : []), n].map((c) => c.key)).size;
        return this.inWindow(n);
      default:
        return this.inWindow(n);
    }
  }

  /** Notes, strikes or keys of the stretch that this note falls into, this one with them. */
  private inWindow(n: DeviceNote): number {
    const { time, limit } = this;
    if (limit.over === 'second')
      this.window = this.window.filter((o) => time.us(n.tick) - time.us(o.tick) < 1_000_000 - 1);
    if (limit.over === 'bar') {
      const bar = Math.floor(time.bars(n.tick) + 1e-9);
      this.window = this.window.filter((o) => Math.floor(time.bars(o.tick) + 1e-9) === bar);
    }
    const all = [...this.window, n];
    if (limit.measure === 'notes') return all.length;
    return new Set(all.map((o) => (limit.measure === 'strikes' ? o.tick : o.key))).size;
  }

  /** Sums over whole stretches, where no note alone can be passed over. */
  sums(meant: readonly DeviceNote[]): number[] {
    const { time, limit } = this;
    const bars = Math.max(1, Math.ceil(time.bars(time.endTick) - 1e-9));
    if (limit.measure === 'sounding-percent') {
      let us = 0;
      let until = 0;
      for (const n of meant) {
        const from = Math.max(until, n.tick);
        if (n.endTick > from) us += time.us(n.endTick) - time.us(from);
        until = Math.max(until, n.endTick);
      }
      const whole = time.us(time.endTick);
      return [whole === 0 ? 0 : (us / whole) * 100];
    }
    const barOf = (n: DeviceNote) => Math.floor(time.bars(n.tick) + 1e-9);
    if (limit.measure === 'filled-percent') return [(new Set(meant.map(barOf)).size / bars) * 100];
    const sum = (own: readonly DeviceNote[]) =>
      limit.measure === 'notes'
        ? own.length
        : new Set(own.map((o) => (limit.measure === 'strikes' ? o.tick : o.key))).size;
    if (limit.over === 'seat' || limit.over === 'piece') return [sum(meant)];
    const by = new Map<number, DeviceNote[]>();
    const seconds = Math.floor(time.us(time.endTick) / 1_000_000 + 1e-6);
    const from = limit.over === 'bar' ? (limit.where?.fromBar ?? 1) - 1 : 0;
    const to =
      limit.over === 'bar' ? Math.min(bars, limit.where?.toBar ?? bars) : Math.max(0, seconds);
    for (let k = from; k < Math.min(to, 100_000); k++) by.set(k, []);
    for (const n of meant)
      by.get(
        limit.over === 'bar' ? barOf(n) : Math.floor(time.us(n.tick) / 1_000_000 + 1e-9),
      )?.push(n);
    return [...by.values()].map(sum);
  }
}
