import type { Clock } from '../../time/tempo-map';
import type { MeterMap } from '../../time/meter-map';
import type { Jump } from './alignment';

/** A row of whole bars, the first from 1. */
export interface Bars {
  readonly fromBar: number;
  readonly bars: number;
}

/** By how much the score has more there than the sound, in milliseconds; below 0 the sound has more. */
export const jumpMs = (j: Jump): number => j.beforeMs - j.afterMs;

/** A jump is as long as whole bars are, but for as much. */
const WHOLE_MS = 160;

/**
 * The whole bars of the score that a jump passes over: they begin near where it does. Null where it is
 * as long as no whole bars, or where the sound has more.
 */
export function missingBars(
  { clock, bars }: { readonly clock: Clock; readonly bars: MeterMap },
  jump: Jump,
): Bars | null {
  const more = jumpMs(jump);
  if (more <= 0) return null;
  // Of what lies between both ends some is in the sound: the bars begin somewhere near its start.
  const near = bars.barAt(clock.tickAt(jump.scoreFromMs));
  let best: (Bars & { readonly off: number }) | null = null;
  for (let from = Math.max(0, near - 1); from <= near + 1; from++) {
    const start = clock.msAt(bars.barStart(from));
    const last = bars.barAt(clock.tickAt(start + more + WHOLE_MS));
    for (const to of [last, last + 1]) {
      if (to <= from) continue;
      const length = clock.msAt(bars.barStart(to)) - start;
      const off = Math.abs(length - more) + 0.1 * Math.abs(start - jump.scoreFromMs);
      if (Math.abs(length - more) > WHOLE_MS) continue;
      if (!best || off < best.off) best = { fromBar: from + 1, bars: to - from, off };
    }
  }
  return best && { fromBar: best.fromBar, bars: best.bars };
}

export const sayBars = ({ fromBar, bars }: Bars): string =>
  bars === 1 ? `bar ${fromBar}` : `bars ${fromBar} to ${fromBar + bars - 1}`;

const tenth = (ms: number) => Math.round(ms * 10) / 10;

/** What is done about a jump: bars of the score that go, silence put into the sound, or a piece of it cut. */
export interface JumpEdits {
  /** By how much the score has more, in milliseconds; below 0 the sound has more. */
  readonly moreMs: number;
  readonly lost: Bars | null;
  readonly silence: { readonly atMs: number; readonly ms: number };
  readonly cut: { readonly fromMs: number; readonly toMs: number };
}

export function editsOf(
  maps: { readonly clock: Clock; readonly bars: MeterMap },
  jump: Jump,
): JumpEdits {
  const moreMs = jumpMs(jump);
  const lost = missingBars(maps, jump);
  // The sound has what stands before the bars that it lacks: there silence begins.
  const from = lost ? maps.clock.msAt(maps.bars.barStart(lost.fromBar - 1)) : jump.scoreFromMs;
  const atMs = tenth(Math.max(0, lost ? from + jump.beforeMs : jump.soundFromMs));
  return {
    moreMs,
    lost,
    silence: { atMs, ms: tenth(moreMs) },
    cut: { fromMs: tenth(jump.soundFromMs), toMs: tenth(jump.soundFromMs - moreMs) },
  };
}
