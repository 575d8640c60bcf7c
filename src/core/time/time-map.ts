import { lastAtOrBefore, type Clock } from './tempo-map';

/** From `from` on a tick goes to `to + (tick − from) × num / den`, rounded to a whole tick. */
export interface MapStretch {
  readonly from: number;
  readonly to: number;
  readonly num: number;
  readonly den: number;
}

/**
 * How steps moved time: one stage a step, each a rising function of whole ticks. Plain data, so
 * that it crosses to the screen. Composition is one list behind the other, and so a map again.
 */
export interface TimeMap {
  readonly stages: readonly (readonly MapStretch[])[];
}

export const SAME_TIME: TimeMap = { stages: [] };

export const compose = (first: TimeMap | undefined, then: TimeMap | undefined): TimeMap => ({
  stages: [...(first?.stages ?? []), ...(then?.stages ?? [])],
});

const stage = (...stretches: MapStretch[]): TimeMap => ({ stages: [stretches] });

/** Everything later by as many ticks. */
export const shifted = (ticks: number): TimeMap => stage({ from: 0, to: ticks, num: 1, den: 1 });

/** Ticks of one PPQ as those of another. */
export const scaled = (fromPpq: number, toPpq: number): TimeMap =>
  stage({ from: 0, to: 0, num: toPpq, den: fromPpq });

/** The stretch from a tick on becomes the start; what stood before is held at 0. */
export const cutAt = (tick: number): TimeMap =>
  tick === 0
    ? SAME_TIME
    : stage({ from: 0, to: 0, num: 0, den: 1 }, { from: tick, to: 0, num: 1, den: 1 });

/** As many ticks more before a place; what stands there and behind it moves. */
export const opened = (tick: number, ticks: number): TimeMap =>
  stage({ from: 0, to: 0, num: 1, den: 1 }, { from: tick, to: tick + ticks, num: 1, den: 1 });

/** A stretch taken out: what stood in it is held at its beginning, what stands behind it moves up. */
export const closed = (from: number, to: number): TimeMap =>
  stage(
    ...(from > 0 ? [{ from: 0, to: 0, num: 1, den: 1 }] : []),
    { from, to: from, num: 0, den: 1 },
    { from: to, to: from, num: 1, den: 1 },
  );

/** Every tick at its clock time, counted in ticks of one tempo. */
export function heldByClock(
  clock: Clock,
  ticksPerQuarter: number,
  microsecondsPerQuarter: number,
): TimeMap {
  const den = clock.divisor * microsecondsPerQuarter;
  const stretches = clock.tempos.map(({ tick }) => ({
    from: tick,
    to: (Number(clock.exactAt(tick)) * ticksPerQuarter) / den,
    num: Number(clock.exactAt(tick + 1) - clock.exactAt(tick)) * ticksPerQuarter,
    den,
  }));
  return { stages: [stretches] };
}

/**
 * Every tick of one clock at its time on another, later by as many milliseconds.
 * @param ticks ticks at which either clock changes, rising
 */
export function heldOnClock(from: Clock, to: Clock, offsetMs: number): TimeMap {
  const edges = new Set(from.tempos.map((t) => t.tick));
  for (const { tick } of to.tempos) edges.add(from.tickAt(to.msAt(tick) - offsetMs));
  const rising = [...edges].sort((a, b) => a - b);
  const at = (tick: number) => exactTick(to, from.msAt(tick) + offsetMs);
  const stretches = rising.map((tick, i) => {
    const next = rising[i + 1] ?? tick + 1_000_000;
    return { from: tick, to: at(tick), num: at(next) - at(tick), den: next - tick };
  });
  return { stages: [stretches] };
}

/** A place between ticks; below 0 where the time is before the start. */
function exactTick(clock: Clock, ms: number): number {
  const near = ms <= 0 ? 0 : clock.tickAt(ms);
  const next = clock.msAt(near + 1) - clock.msAt(near);
  return near + (ms - clock.msAt(near)) / next;
}

/** Where a tick goes; a whole number, −1 or less only where a source was put before the start. */
export function mapTick(map: TimeMap | undefined, tick: number): number {
  let at = tick;
  for (const stretches of map?.stages ?? []) {
    const { from, to, num, den } = stretchAt(stretches, at);
    at = Math.round(to + ((at - from) * num) / den);
  }
  return at;
}

/** The map as a function, for many ticks. */
export function mapper(map: TimeMap): (tick: number) => number {
  const stages = map.stages.map((stretches) => ({
    stretches,
    starts: Float64Array.from(stretches, (s) => s.from),
  }));
  return (tick) => {
    let at = tick;
    for (const { stretches, starts } of stages) {
      const { from, to, num, den } = stretches[lastAtOrBefore(starts, at)]!;
      at = Math.round(to + ((at - from) * num) / den);
    }
    return at;
  };
}

/** Where a tick came from: the last that goes no further than it. */
export function unmapTick(map: TimeMap | undefined, tick: number): number {
  let at = tick;
  for (const stretches of [...(map?.stages ?? [])].reverse())
    at = Math.max(0, unmapStage(stretches, at));
  return at;
}

const through = ({ from, to, num, den }: MapStretch, tick: number) =>
  Math.round(to + ((tick - from) * num) / den);

function unmapStage(stretches: readonly MapStretch[], tick: number): number {
  // The last stretch whose beginning goes no further; what was opened up came from the one before.
  let k = 0;
  stretches.forEach((s, i) => {
    if (through(s, s.from) <= tick) k = i;
  });
  const found = stretches[k]!;
  const last = (stretches[k + 1]?.from ?? Infinity) - 1;
  if (found.num === 0) return Math.min(last, Number.MAX_SAFE_INTEGER);
  const near = found.from + Math.floor(((tick - found.to) * found.den) / found.num);
  let at = Math.min(last, near);
  // What is rounded may be one off to either side, or several where many ticks go to one.
  while (at > found.from && through(found, at) > tick) at--;
  while (at < last && through(found, at + 1) <= tick) at++;
  return at;
}

function stretchAt(stretches: readonly MapStretch[], tick: number): MapStretch {
  let low = 0;
  let high = stretches.length - 1;
  while (low < high) {
    const mid = (low + high + 1) >> 1;
    if (stretches[mid]!.from <= tick) low = mid;
    else high = mid - 1;
  }
  return stretches[low]!;
}
