import type { Maps } from '../../score/inventory';
import { ticksPerQuarterOf, type Part, type Score } from '../../score/score';
import type { Moments } from './moments';

/** Roles are told apart by stretches of so many bars, of longer songs by more. */
const WINDOW_BARS = 2;
const MOST_WINDOWS = 2000;

/** How parts play, by stretch of bars: rows of `parts` columns. */
export interface Measures {
  readonly windows: number;
  readonly parts: number;
  readonly bars: number;
  /** The stretch that a tick is in. */
  windowAt(tick: number): number;
  /** Moments at which it strikes, and all its notes. */
  readonly strikes: Float32Array;
  readonly notes: Float32Array;
  /** Milliseconds in which it is the highest, the lowest, or heard at all. */
  readonly highest: Float32Array;
  readonly lowest: Float32Array;
  readonly heard: Float32Array;
  readonly velocity: Float32Array;
  /** Sums of keys of top notes; of steps of a tone or two, of repeated notes and of leaps. */
  readonly keys: Float32Array;
  readonly steps: Float32Array;
  readonly repeats: Float32Array;
  /** Milliseconds of all stretches. */
  readonly long: Float32Array;
  /** By part, over the song: bars that have the rhythm, or the figure, of the bar before. */
  readonly sameRhythm: Float32Array;
  readonly sameFigure: Float32Array;
}

/** What sounds highest and lowest of each part at one time. */
class Outer {
  readonly key: Int16Array;
  readonly end: Float64Array;
  constructor(
    parts: number,
    private readonly sign: 1 | -1,
  ) {
    this.key = new Int16Array(parts).fill(-1);
    this.end = new Float64Array(parts);
  }
  strike(part: number, key: number, tick: number, end: number) {
    const further = (this.key[part]! - key) * this.sign > 0;
    if (this.end[part]! > tick && further) return;
    this.key[part] = key;
    this.end[part] = end;
  }
  /** Who is the outermost at a tick; −1 where nobody sounds. */
  at(tick: number): number {
    let best = -1;
    for (let p = 0; p < this.key.length; p++)
      if (this.end[p]! > tick && (best < 0 || (this.key[p]! - this.key[best]!) * this.sign > 0))
        best = p;
    return best;
  }
}

/** Goes once through all moments. */
export function measure(moments: Moments, score: Score, { clock, bars }: Maps): Measures {
  const parts = moments.parts.length;
  const end = moments.count === 0 ? 0 : moments.tick[moments.count - 1]!;
  const allBars = bars.barAt(end) + 1;
  const perWindow = Math.max(WINDOW_BARS, Math.ceil(allBars / MOST_WINDOWS));
  const windows = Math.ceil(allBars / perWindow);
  const table = () => new Float32Array(windows * parts);
  const out = {
    strikes: table(),
    notes: table(),
    highest: table(),
    lowest: table(),
    heard: table(),
    velocity: table(),
    keys: table(),
    steps: table(),
    repeats: table(),
    long: new Float32Array(windows),
  };
  const windowAt = (tick: number) =>
    Math.min(windows - 1, Math.floor(bars.barAt(tick) / perWindow));
  const tops = new Outer(parts, 1);
  const bottoms = new Outer(parts, -1);
  const before = new Int16Array(parts).fill(-1);
  const heardUntil = new Float64Array(parts);
  const habits = new Habits(parts, ticksPerQuarterOf(score.division));
  const top = new Int16Array(parts);
  for (let m = 0; m < moments.count; m++) {
    const tick = moments.tick[m]!;
    const bar = bars.barAt(tick);
    const w = windowAt(tick);
    const struck: number[] = [];
    for (let n = moments.first[m]!; n < moments.first[m + 1]!; n++) {
      const p = moments.part[n]!;
      const { noteNumber, velocity, end: ends, start } = moments.parts[p]!.notes;
      const i = moments.index[n]!;
      const key = noteNumber[i]!;
      const cell = w * parts + p;
      if (struck.includes(p)) top[p] = Math.max(top[p]!, key);
      else {
        struck.push(p);
        top[p] = key;
        out.strikes[cell]!++;
      }
      tops.strike(p, key, start[i]!, ends[i]!);
      bottoms.strike(p, key, start[i]!, ends[i]!);
      out.notes[cell]!++;
      out.velocity[cell]! += velocity[i]!;
      const until = clock.msAt(ends[i]!);
      out.heard[cell]! += Math.max(0, until - Math.max(moments.ms[m]!, heardUntil[p]!));
      heardUntil[p] = Math.max(heardUntil[p]!, until);
    }
    for (const p of struck) {
      const cell = w * parts + p;
      out.keys[cell]! += top[p]!;
      const by = before[p]! < 0 ? 12 : Math.abs(top[p]! - before[p]!);
      if (by === 0) out.repeats[cell]!++;
      else if (by <= 4) out.steps[cell]!++;
      before[p] = top[p]!;
      habits.strike(p, bar, tick - bars.barStart(bar), top[p]!);
    }
    const next = m + 1 < moments.count ? moments.ms[m + 1]! : moments.ms[m]! + 500;
    const high = tops.at(tick);
    const low = bottoms.at(tick);
    const span = (outer: Outer, p: number) =>
      Math.max(0, Math.min(next, clock.msAt(outer.end[p]!)) - moments.ms[m]!);
    if (high >= 0) out.highest[w * parts + high]! += span(tops, high);
    if (low >= 0) out.lowest[w * parts + low]! += span(bottoms, low);
    out.long[w]! += next - moments.ms[m]!;
  }
  return { ...out, windows, parts, bars: allBars, windowAt, ...habits.shares() };
}

/** How often a bar of a part is like the one before: in rhythm, and in rhythm and figure. */
class Habits {
  private readonly bar: Int32Array;
  private readonly rhythm: Int32Array;
  private readonly figure: Int32Array;
  private readonly lastRhythm: Int32Array;
  private readonly lastFigure: Int32Array;
  private readonly from: Int16Array;
  private readonly counts: Float32Array;
  private readonly same: [rhythm: Float32Array, figure: Float32Array];
  constructor(
    private readonly parts: number,
    private readonly quarter: number,
  ) {
    const numbers = () => new Int32Array(parts);
    this.bar = numbers().fill(-1);
    [this.rhythm, this.figure, this.lastRhythm, this.lastFigure] = [
      numbers(),
      numbers(),
      numbers(),
      numbers(),
    ];
    this.from = new Int16Array(parts);
    this.counts = new Float32Array(parts);
    this.same = [new Float32Array(parts), new Float32Array(parts)];
  }
  strike(p: number, bar: number, tick: number, key: number) {
    if (this.bar[p] !== bar) {
      this.close(p);
      this.bar[p] = bar;
      this.rhythm[p] = this.figure[p] = 17;
      this.from[p] = key;
    }
    // An eighth of a quarter is how near a place is told.
    const place = Math.round((tick * 8) / this.quarter);
    this.rhythm[p] = (Math.imul(this.rhythm[p]!, 31) + place) | 0;
    this.figure[p] = (Math.imul(this.figure[p]!, 31) + place * 256 + key - this.from[p]!) | 0;
  }
  private close(p: number) {
    if (this.bar[p]! < 0) return;
    this.counts[p]!++;
    if (this.rhythm[p] === this.lastRhythm[p]) this.same[0][p]!++;
    if (this.figure[p] === this.lastFigure[p]) this.same[1][p]!++;
    this.lastRhythm[p] = this.rhythm[p]!;
    this.lastFigure[p] = this.figure[p]!;
  }
  shares() {
    for (let p = 0; p < this.parts; p++) this.close(p);
    const share = (of: Float32Array) => of.map((n, p) => n / Math.max(1, this.counts[p]! - 1));
    return { sameRhythm: share(this.same[0]), sameFigure: share(this.same[1]) };
  }
}

/** The first program that a part is given; null where it is given none. */
export function firstProgram({ events }: Pick<Part, 'events'>): number | null {
  for (let i = 0; i < events.count; i++) if (events.kind[i] === 0xc0) return events.data1[i]!;
  return null;
}

/** How loud a channel is set at first, of 127. MIDI 1.0, controller 7. */
export function firstVolume({ events }: Part): number {
  for (let i = 0; i < events.count; i++)
    if (events.kind[i] === 0xb0 && events.data1[i] === 7) return events.data2[i]!;
  return 100;
}
