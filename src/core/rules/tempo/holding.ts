import type { Mend } from '../finding';
import type { Target } from '../../target/schema';
import { plain } from '../../target/words';
import { bpmOf } from '../../time/tempo-map';
import { endTickOf, ticksPerQuarterOf, type Score } from '../../score/score';
import { holdBars } from '../../steps/timing/one-tempo-holding-bars';
import { holdClock } from '../../steps/timing/one-tempo-holding-clock';
import { mend } from '../define-rule';
import { ppqAllowed } from '../file/ppq';
import { ppqForClock, sayBpm, wholeTempo } from '../../time/tempos';

interface Range {
  readonly lowestBpm?: number | undefined;
  readonly highestBpm?: number | undefined;
}

// The file holds whole microseconds: a tempo that was typed as the limit must not breach it.
export const slowestIn = ({ lowestBpm = 1e-9 }: Range) => Math.ceil(60_000_000 / lowestBpm);

export const fastestIn = ({ highestBpm = 1e9 }: Range) => Math.floor(60_000_000 / highestBpm);

export const within = (block: Range) => (us: number) =>
  us <= slowestIn(block) && us >= fastestIn(block);

/** Tempos with how long each is in force, in ticks. */
export function stretches(score: Score) {
  const { tempos } = score.conductor;
  const end = endTickOf(score);
  const list =
    tempos.length > 0 && tempos[0]!.tick === 0
      ? tempos
      : [{ tick: 0, microsecondsPerQuarter: 500_000 }, ...tempos];
  // Of several at one tick the last counts.
  const counts = list.filter((t, i) => list[i + 1]?.tick !== t.tick);
  return counts.map((t, i) => ({
    tick: t.tick,
    us: t.microsecondsPerQuarter,
    ms: ((counts[i + 1]?.tick ?? Math.max(end, t.tick)) - t.tick) * t.microsecondsPerQuarter,
  }));
}

/**
 * The first tempo in range, unless another sounds more than twice as long (a bar of set-up stands
 * before it); else the longest-sounding in range, else the nearest limit.
 */
export function tempoToHold(score: Score, block: NonNullable<Target['tempo']>): number {
  const all = stretches(score);
  const fits = within(block);
  const first = all.find((t) => t.ms > 0) ?? all[0]!;
  const longest = new Map<number, number>();
  for (const t of all) if (fits(t.us)) longest.set(t.us, (longest.get(t.us) ?? 0) + t.ms);
  const best = [...longest].sort((a, b) => b[1] - a[1])[0];
  const own = longest.get(first.us);
  if (own !== undefined && own * 2 >= best![1]) return first.us;
  if (best) return best[0];
  return bpmOf(first.us) < (block.lowestBpm ?? 0)
    ? Math.floor(60_000_000 / block.lowestBpm!)
    : Math.ceil(60_000_000 / block.highestBpm!);
}

export const bpm = sayBpm;

/** A call that holds every note at its clock time, with a PPQ that the target takes. */
export const holdClockAt = (score: Score, target: Target, us: number, title?: string) => {
  const from = ticksPerQuarterOf(score.division);
  const ticksPerQuarter = ppqForClock(from, us, (p) => ppqAllowed(target.file?.ppq, p));
  return mend(title ?? `Hold clock time at ${bpm(us)}`, holdClock, {
    microsecondsPerQuarter: us,
    ticksPerQuarter,
  });
};

/** Of what a target has the tempo that is nearest: of its list, or whole, within its range. */
export function nearestOf(us: number, block: NonNullable<Target['tempo']>): number {
  const bpm = bpmOf(us);
  const { lowestBpm = 1, highestBpm = 1000 } = block;
  const list = block.onlyBpm ?? [
    Math.max(Math.ceil(lowestBpm), Math.min(Math.floor(highestBpm), Math.max(1, Math.round(bpm)))),
  ];
  const best = list.reduce((a, b) => (Math.abs(b - bpm) < Math.abs(a - bpm) ? b : a));
  return wholeTempo(best);
}

/**
 * How far notes come to stand beside their clock times when each tempo becomes another and the bars
 * are held, in ms. Both clocks run straight between tempos: the furthest is at one of them, or the end.
 */
export function driftOf(score: Score, becomes: (us: number) => number): number {
  const ppq = ticksPerQuarterOf(score.division);
  let off = 0;
  let furthest = 0;
  for (const { us, ms } of stretches(score)) {
    off += us === 0 ? 0 : (ms / us) * (becomes(us) - us);
    furthest = Math.max(furthest, Math.abs(off));
  }
  return furthest / ppq / 1000;
}

const sayDrift = (ms: number) =>
  ms < 0.5 ? 'nothing drifts' : `up to ${plain(Math.round(ms))} ms beside the clock`;

/** The way to hold bars by other tempos, with how far the clock drifts by it. */
export const sayHolding = (what: string, score: Score, becomes: (us: number) => number): string =>
  `${what}: ${sayDrift(driftOf(score, becomes))}`;

/** One tempo that holds the bars: the one that is held, and the one by which all lasts as long. */
export function holdingBars(
  score: Score,
  block: NonNullable<Target['tempo']>,
  held: number,
): Mend[] {
  const all = stretches(score);
  const total = all.reduce((sum, t) => sum + t.ms, 0);
  const ticks = all.reduce((sum, t) => sum + t.ms / t.us, 0);
  const mean = ticks > 0 ? Math.round(total / ticks) : held;
  const asLong = block.onlyBpm || block.wholeBpm ? nearestOf(mean, block) : mean;
  const drift = (us: number) => driftOf(score, () => us);
  return [...new Set([held, ...(within(block)(asLong) ? [asLong] : [])])]
    .sort((a, b) => drift(a) - drift(b))
    .map((us) =>
      mend(
        sayHolding(`Hold the bars at ${bpm(us)}`, score, () => us),
        holdBars,
        {
          microsecondsPerQuarter: us,
        },
      ),
    );
}
