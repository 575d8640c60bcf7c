import type { Division } from '../smf/file';

export interface TempoEvent {
  readonly tick: number;
  readonly microsecondsPerQuarter: number;
}

/** SMF 1.0: "If no tempo is given, 120 BPM is assumed." */
export const DEFAULT_TEMPO = 500_000;

export const bpmOf = (microsecondsPerQuarter: number): number =>
  60_000_000 / microsecondsPerQuarter;
export const tempoOf = (bpm: number): number => Math.round(60_000_000 / bpm);

/**
 * Ticks and clock time, both ways. The sums are whole numbers: a clock time is held as
 * microseconds × divisor, so that tick → clock → tick returns the tick whatever the tempos.
 */
export interface Clock {
  /** Milliseconds at a tick; a derived figure. */
  msAt(tick: number): number;
  /** The tick nearest to a clock time, at least 0. */
  tickAt(ms: number): number;
  /** Exact clock time at a tick, in units of 1 µs / `divisor`. */
  exactAt(tick: number): bigint;
  /** The last tick at or before an exact clock time. */
  tickAtExact(time: bigint): number;
  readonly divisor: number;
  /** The tempo in force, in microseconds per quarter; a nominal 500,000 under SMPTE. */
  tempoAt(tick: number): number;
  readonly tempos: readonly TempoEvent[];
  /** How long as many ticks last at the tempo of tick 0: what is put in there runs at it. */
  msAtStart(ticks: number): number;
  /** The fewest ticks at the tempo of tick 0 that last so long. */
  ticksAtStart(ms: number): number;
}

/**
 * @param tempos in tick order; of several at one tick the last counts. Before the first, 120 BPM.
 * Under an SMPTE division tempo events do not tell the time (SMF 1.0, "Header Chunks").
 */
export function makeClock(division: Division, tempos: readonly TempoEvent[]): Clock {
  const { divisor, pieces } =
    division.kind === 'ppq' ? fromTempos(division.ticksPerQuarter, tempos) : fromFrames(division);
  const starts = Float64Array.from(pieces, (p) => p.tick);
  const exact: bigint[] = [];
  const ms: number[] = [];
  const perMs = divisor * 1000;
  let sum = 0n;
  pieces.forEach((piece, i) => {
    if (i > 0) {
      const before = pieces[i - 1]!;
      sum += BigInt(piece.tick - before.tick) * BigInt(before.unitsPerTick);
    }
    exact.push(sum);
    ms.push(toMs(sum, perMs));
  });
  const at = (tick: number) => lastAtOrBefore(starts, tick);
  const first = pieces[0]!.unitsPerTick;
  return {
    divisor,
    msAtStart: (ticks) => (ticks * first) / perMs,
    ticksAtStart: (time) => Math.max(0, Math.ceil((time * perMs) / first - 1e-9)),
    tempos: pieces.map((p) => ({ tick: p.tick, microsecondsPerQuarter: p.tempo })),
    tempoAt: (tick) => pieces[at(tick)]!.tempo,
    msAt(tick) {
      const i = at(tick);
      return ms[i]! + ((tick - starts[i]!) * pieces[i]!.unitsPerTick) / perMs;
    },
    tickAt(time) {
      if (!(time > 0)) return 0;
      let low = 0;
      let high = ms.length - 1;
      while (low < high) {
        const mid = (low + high + 1) >> 1;
        if (ms[mid]! <= time) low = mid;
        else high = mid - 1;
      }
      return Math.round(starts[low]! + ((time - ms[low]!) * perMs) / pieces[low]!.unitsPerTick);
    },
    exactAt(tick) {
      const i = at(tick);
      return exact[i]! + BigInt(tick - starts[i]!) * BigInt(pieces[i]!.unitsPerTick);
    },
    tickAtExact(time) {
      let low = 0;
      let high = exact.length - 1;
      while (low < high) {
        const mid = (low + high + 1) >> 1;
        if (exact[mid]! <= time) low = mid;
        else high = mid - 1;
      }
      return starts[low]! + Number((time - exact[low]!) / BigInt(pieces[low]!.unitsPerTick));
    },
  };
}

interface Piece {
  tick: number;
  tempo: number;
  /** Units of 1 µs / divisor that a tick lasts. */
  unitsPerTick: number;
}

/** A tick lasts tempo / PPQ µs: the divisor is the PPQ and a tick is `tempo` units. */
function fromTempos(ticksPerQuarter: number, tempos: readonly TempoEvent[]) {
  const pieces: Piece[] = [{ tick: 0, tempo: DEFAULT_TEMPO, unitsPerTick: DEFAULT_TEMPO }];
  for (const { tick, microsecondsPerQuarter: tempo } of tempos) {
    if (pieces.at(-1)!.tick === tick) pieces.pop();
    pieces.push({ tick, tempo, unitsPerTick: tempo });
  }
  return { divisor: ticksPerQuarter, pieces };
}

/** 29 stands for 29.97 frames a second, 30000/1001 exactly. */
function fromFrames(division: { framesPerSecond: number; ticksPerFrame: number }) {
  const drop = division.framesPerSecond === 29;
  const divisor = (drop ? 30 : division.framesPerSecond) * division.ticksPerFrame;
  const unitsPerTick = drop ? 1_001_000 : 1_000_000;
  return { divisor, pieces: [{ tick: 0, tempo: DEFAULT_TEMPO, unitsPerTick }] };
}

function toMs(exact: bigint, perMs: number): number {
  const unit = BigInt(perMs);
  return Number(exact / unit) + Number(exact % unit) / perMs;
}

/** Index of the last entry that is at or before `value`; 0 where there is none. */
/** What is in force where a list begins: of several at its first tick the last. */
export const firstInForce = <E extends { readonly tick: number }>(
  list: readonly E[],
): E | undefined => {
  let at = 0;
  while (at + 1 < list.length && list[at + 1]!.tick === list[0]!.tick) at++;
  return list[at];
};

export function lastAtOrBefore(sorted: ArrayLike<number>, value: number): number {
  let low = 0;
  let high = sorted.length - 1;
  while (low < high) {
    const mid = (low + high + 1) >> 1;
    if (sorted[mid]! <= value) low = mid;
    else high = mid - 1;
  }
  return low;
}
