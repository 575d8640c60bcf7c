import type { TempoEvent } from './tempo-map';

/** A tick and the time, in milliseconds, at which it should be heard. */
export interface TimedTick {
  readonly tick: number;
  readonly ms: number;
}

/** Tempo that a file can hold, in microseconds a quarter. */
const SLOWEST = 0xffffff;

export type FittedTempo =
  | { readonly tempos: readonly TempoEvent[]; readonly problem?: undefined }
  | { readonly tempos?: undefined; readonly problem: string };

/**
 * Tempos that pass through timed ticks, of which the first is where it is already. Between two the
 * tempo is one (straight), or it goes from beat to beat along a monotone cubic through all (Fritsch
 * and Carlson, 1980), so that it bends at an anchor instead of breaking there. Tempos are whole
 * microseconds; each makes good what the ones before it were rounded by, so that an anchor is met
 * within half a microsecond a quarter.
 *
 * @param timed rising in tick and in time, at least two
 */
export function fitTempo(
  timed: readonly TimedTick[],
  ticksPerQuarter: number,
  { smooth = false } = {},
): FittedTempo {
  const times = smooth ? throughBeats(timed, ticksPerQuarter) : timed;
  const tempos: TempoEvent[] = [];
  const start = times[0]!;
  let reachedUs = start.ms * 1000;
  for (let i = 0; i + 1 < times.length; i++) {
    const [a, b] = [times[i]!, times[i + 1]!];
    const quarters = (b.tick - a.tick) / ticksPerQuarter;
    const tempo = Math.round((b.ms * 1000 - reachedUs) / quarters);
    if (tempo < 1 || tempo > SLOWEST)
      return {
        problem: `Between two anchors the tempo would be ${(60_000_000 / Math.max(1, tempo)).toFixed(1)} BPM, which a file cannot hold: one of them is misplaced.`,
      };
    reachedUs += tempo * quarters;
    if (tempos.at(-1)?.microsecondsPerQuarter !== tempo)
      tempos.push({ tick: a.tick, microsecondsPerQuarter: tempo });
  }
  return { tempos };
}

/** Times of the beats between anchors on a monotone curve, and those of the anchors as they are. */
function throughBeats(timed: readonly TimedTick[], ticksPerQuarter: number): TimedTick[] {
  const slopes = slopesOf(timed);
  const out: TimedTick[] = [];
  for (let i = 0; i + 1 < timed.length; i++) {
    const [a, b] = [timed[i]!, timed[i + 1]!];
    const length = b.tick - a.tick;
    out.push(a);
    const first = (Math.floor(a.tick / ticksPerQuarter) + 1) * ticksPerQuarter;
    for (let tick = first; tick < b.tick; tick += ticksPerQuarter) {
      const t = (tick - a.tick) / length;
      const [t2, t3] = [t * t, t * t * t];
      out.push({
        tick,
        ms:
          (2 * t3 - 3 * t2 + 1) * a.ms +
          (t3 - 2 * t2 + t) * length * slopes[i]! +
          (-2 * t3 + 3 * t2) * b.ms +
          (t3 - t2) * length * slopes[i + 1]!,
      });
    }
  }
  out.push(timed.at(-1)!);
  return out;
}

/** Slopes at each anchor, in milliseconds a tick, by which the curve never turns back. */
function slopesOf(timed: readonly TimedTick[]): number[] {
  const n = timed.length;
  const step = timed.slice(1).map((b, i) => (b.ms - timed[i]!.ms) / (b.tick - timed[i]!.tick));
  return timed.map((_, i) => {
    if (i === 0) return step[0]!;
    if (i === n - 1) return step[n - 2]!;
    const [left, right] = [
      timed[i]!.tick - timed[i - 1]!.tick,
      timed[i + 1]!.tick - timed[i]!.tick,
    ];
    // The weighted harmonic mean: between the slopes on both sides, nearer to the flatter.
    const [w1, w2] = [2 * right + left, right + 2 * left];
    return (w1 + w2) / (w1 / step[i - 1]! + w2 / step[i]!);
  });
}
