import type { Target } from '../../target/schema';
import { bpmOf } from '../../time/tempo-map';
import { endTickOf, ticksPerQuarterOf, type Score } from '../../score/score';
import { holdClock } from '../../steps/timing/one-tempo-holding-clock';
import { mend } from '../define-rule';
import { ppqAllowed } from '../file/ppq';
import { ppqForClock, sayBpm } from '../../time/tempos';

export const within = (block: {
  lowestBpm?: number | undefined;
  highestBpm?: number | undefined;
}) => {
  // The file holds whole microseconds: a tempo that was typed as the limit must not breach it.
  const slowest = Math.ceil(60_000_000 / (block.lowestBpm ?? 1e-9));
  const fastest = Math.floor(60_000_000 / (block.highestBpm ?? 1e9));
  return (us: number) => us <= slowest && us >= fastest;
};

/** Tempos with how long each is in force, in ticks. */
export function stretches(score: Score) {
  const { tempos } = score.conductor;
  const end = endTickOf(score);
  const list =
    tempos.length > 0 && tempos[0]!.tick === 0
      ? tempos
      : [{ tick: 0, microsecondsPerQuarter: 500_000 }, ...tempos];
  return list.map((t, i) => ({
    tick: t.tick,
    us: t.microsecondsPerQuarter,
    ms: ((list[i + 1]?.tick ?? Math.max(end, t.tick)) - t.tick) * t.microsecondsPerQuarter,
  }));
}

/** The first tempo in range, else the longest-sounding in range, else the nearest limit. */
export function tempoToHold(score: Score, block: NonNullable<Target['tempo']>): number {
  const all = stretches(score);
  const fits = within(block);
  const first = all.find((t) => t.ms > 0) ?? all[0]!;
  if (fits(first.us)) return first.us;
  const longest = new Map<number, number>();
  for (const t of all) if (fits(t.us)) longest.set(t.us, (longest.get(t.us) ?? 0) + t.ms);
  const best = [...longest].sort((a, b) => b[1] - a[1])[0];
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

export const sayMeter = (m: { numerator: number; denominator: number }) =>
  `${m.numerator}/${m.denominator}`;

type Denominator = 1 | 2 | 4 | 8 | 16 | 32 | 64 | 128;

export const meterParams = (m: { numerator: number; denominator: number }) => ({
  numerator: m.numerator,
  denominator: m.denominator as Denominator,
});
