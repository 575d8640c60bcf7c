import { lastAtOrBefore } from './tempo-map';

export interface MeterEvent {
  readonly tick: number;
  readonly numerator: number;
  /** The note value of a beat: 4 for quarters, 8 for eighths. */
  readonly denominator: number;
}

/** A place in bars: bar and beat from 1, ticks from the beat. */
export interface Position {
  readonly bar: number;
  readonly beat: number;
  readonly tick: number;
}

interface Stretch extends MeterEvent {
  /** Number of its first bar, from 0. */
  readonly bar: number;
}

/**
 * Bars and beats. A beat is one denominator unit; a bar start is a rational number of ticks (PPQ 25
 * in x/8), so places are worked out in ticks × denominator and are exact. A meter event inside a
 * bar starts a new, counted bar.
 */
export interface MeterMap {
  readonly meters: readonly MeterEvent[];
  meterAt(tick: number): MeterEvent;
  placeAt(tick: number): Position;
  /** Bar (from 0) that holds a tick. */
  barAt(tick: number): number;
  /** Bars until a tick, as a fraction: whole only where a tick stands on the bar line itself. */
  barsAt(tick: number): number;
  /** First whole tick of a bar (from 0). */
  barStart(bar: number): number;
  /** First whole tick of a place. */
  tickOf(bar: number, beat: number, tick?: number): number;
  /** Bars that are begun before `endTick`; at least 1. */
  barCount(endTick: number): number;
}

/**
 * @param ticksPerQuarter a whole number above 0
 * @param meters in tick order; of several at one tick the last counts. Before the first, 4/4.
 */
export function makeMeterMap(ticksPerQuarter: number, meters: readonly MeterEvent[]): MeterMap {
  const whole = ticksPerQuarter * 4;
  const stretches: Stretch[] = [{ tick: 0, numerator: 4, denominator: 4, bar: 0 }];
  for (const { tick, numerator, denominator } of meters) {
    const last = stretches.at(-1)!;
    if (last.tick === tick) {
      stretches[stretches.length - 1] = { tick, numerator, denominator, bar: last.bar };
      continue;
    }
    if (last.numerator === numerator && last.denominator === denominator) {
      // The same meter on a bar line changes nothing; inside a bar it begins a new one.
      if (((tick - last.tick) * denominator) % (numerator * whole) === 0) continue;
    }
    const bars = Math.ceil(((tick - last.tick) * last.denominator) / (last.numerator * whole));
    stretches.push({ tick, numerator, denominator, bar: last.bar + bars });
  }
  const ticks = Float64Array.from(stretches, (s) => s.tick);
  const bars = Float64Array.from(stretches, (s) => s.bar);
  const at = (tick: number) => stretches[lastAtOrBefore(ticks, tick)]!;
  const ofBar = (bar: number) => stretches[lastAtOrBefore(bars, bar)]!;
  const startIn = (s: Stretch, beats: number) =>
    s.tick + Math.ceil((beats * whole) / s.denominator);

  const barAt = (tick: number) => {
    const s = at(tick);
    return s.bar + Math.floor(((tick - s.tick) * s.denominator) / (s.numerator * whole));
  };
  const tickOf = (bar: number, beat: number, tick = 0) => {
    const s = ofBar(bar - 1);
    return startIn(s, (bar - 1 - s.bar) * s.numerator + beat - 1) + tick;
  };
  return {
    meters: stretches.map(({ tick, numerator, denominator }) => ({ tick, numerator, denominator })),
    meterAt: at,
    barAt,
    barsAt(tick) {
      const s = at(tick);
      return s.bar + ((tick - s.tick) * s.denominator) / (s.numerator * whole);
    },
    tickOf,
    barStart: (bar) => tickOf(bar + 1, 1),
    placeAt(tick) {
      const s = at(tick);
      const beats = Math.floor(((tick - s.tick) * s.denominator) / whole);
      const bar = Math.floor(beats / s.numerator);
      return {
        bar: s.bar + bar + 1,
        beat: beats - bar * s.numerator + 1,
        tick: tick - startIn(s, beats),
      };
    },
    barCount: (endTick) => (endTick <= 0 ? 1 : barAt(endTick - 1) + 1),
  };
}

/** As people write a position: `4.1`, and with the ticks behind it where there are any `4.2+120`. */
export const sayPlace = ({ bar, beat, tick }: Position): string =>
  `${bar}.${beat}${tick > 0 ? `+${tick}` : ''}`;

/** As JSON and lists hold it, always in three numbers: `13|1|000`. */
export const placeCode = ({ bar, beat, tick }: Position): string =>
  `${bar}|${beat}|${String(tick).padStart(3, '0')}`;

/** Clock time for people: `0:53.196`. */
export function sayClock(ms: number): string {
  const whole = Math.round(Math.abs(ms));
  const minutes = Math.floor(whole / 60_000);
  const rest = whole - minutes * 60_000;
  const seconds = String(Math.floor(rest / 1000)).padStart(2, '0');
  return `${ms < 0 ? '−' : ''}${minutes}:${seconds}.${String(rest % 1000).padStart(3, '0')}`;
}
