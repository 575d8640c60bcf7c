import type { NewConductor } from '../readers/tracks';
import type { RowBeats } from './beats';
import type { Performance } from './strikes';

export const PPQ = 960;

/** A µs count of a tempo has 24 bits. */
const SLOWEST = 2 ** 24 - 1;
/** Seconds that the tempo map may stand beside the module before it is put right. */
const LEANS = 0.0003;

/** Beats with their seconds and ticks; meters, tempos and the pass of each pattern. */
export interface TimeLine {
  readonly conductor: NewConductor;
  readonly endTick: number;
  /** Tick of a time in seconds. */
  readonly tickAt: (seconds: number) => number;
}

interface Beat {
  at: number;
  seconds: number;
  tick: number;
  ticks: number;
}

/**
 * Rows as bars of beats. Each beat has the tempo that makes it as long as it is (in whole µs; what
 * rounding leaves is made good in the next), so that no length of song drifts; what is uneven inside a
 * beat stays so. A pattern begins a bar; the bar before it is as long as its rows.
 */
export function timeLine(
  { rows, seconds }: Performance,
  { rowsPerBeat, beatsPerBar }: RowBeats,
): TimeLine {
  const beats: Beat[] = [];
  const meters: NewConductor['meters'][number][] = [];
  const tempos: NewConductor['tempos'][number][] = [];
  const markers: NewConductor['markers'][number][] = [];
  const halves = [1, 2, 4, 8, 16].includes(rowsPerBeat);
  let tick = 0;
  let mapped = 0;
  let tempo = 0;
  let meter = '';
  for (let from = 0; from < rows.length;) {
    let to = from + 1;
    while (to < rows.length && rows[to]!.order === rows[from]!.order) to++;
    markers.push({ tick, text: `Pattern ${rows[from]!.pattern}` });
    for (let bar = from; bar < to; bar += rowsPerBeat * beatsPerBar) {
      const length = Math.min(rowsPerBeat * beatsPerBar, to - bar);
      const whole = length % rowsPerBeat === 0;
      const [numerator, denominator] =
        whole || !halves ? [Math.ceil(length / rowsPerBeat), 4] : [length, 4 * rowsPerBeat];
      if (meter !== `${numerator}/${denominator}`) {
        meter = `${numerator}/${denominator}`;
        meters.push({ tick, numerator: Math.min(255, numerator), denominator });
      }
      for (let row = bar; row < bar + length; row += rowsPerBeat) {
        const end = Math.min(row + rowsPerBeat, bar + length);
        const at = rows[row]!.at;
        const until = end < rows.length ? rows[end]!.at : seconds;
        const share = halves ? (end - row) / rowsPerBeat : 1;
        const need = until - mapped;
        const quarters = Math.max(1, Math.ceil((need * 1e6) / share / SLOWEST));
        const ticks = Math.round(PPQ * share) * quarters;
        const exact = Math.max(1, Math.round((need * 1e6 * PPQ) / ticks));
        const kept = (tempo * ticks) / PPQ / 1e6;
        if (tempo === 0 || Math.abs(kept - need) > LEANS) {
          if (exact !== tempo) tempos.push({ tick, microsecondsPerQuarter: exact });
          tempo = exact;
        }
        beats.push({ at, seconds: until - at, tick, ticks });
        mapped += (tempo * ticks) / PPQ / 1e6;
        tick += ticks;
      }
    }
    from = to;
  }
  const tickAt = (time: number): number => {
    let [low, high] = [0, beats.length - 1];
    if (high < 0) return 0;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (beats[middle]!.at <= time + 1e-9) low = middle;
      else high = middle - 1;
    }
    const b = beats[low]!;
    const share = b.seconds > 0 ? (time - b.at) / b.seconds : 0;
    return Math.round(b.tick + Math.max(0, Math.min(1, share)) * b.ticks);
  };
  return { conductor: { tempos, meters, markers }, endTick: tick, tickAt };
}
