import { bpmOf } from './tempo-map';

/** Microseconds a quarter of a whole BPM: 60,000,000/N, to the nearest. */
export const wholeTempo = (bpm: number): number => Math.round(60_000_000 / bpm);

/** Whether a tempo is a whole number N: 60,000,000/N rounded down or to the nearest. */
export function isWholeBpm(us: number): boolean {
  const bpm = Math.round(60_000_000 / us);
  for (const n of [bpm - 1, bpm, bpm + 1])
    if (n > 0 && (us === Math.floor(60_000_000 / n) || us === Math.round(60_000_000 / n)))
      return true;
  return false;
}

const TEMPOS = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 8 });

/** A tempo in as few digits as lead back to it: 96.5, but 39.99997 where 40 would be another. */
export function plainBpm(us: number): string {
  const bpm = bpmOf(us);
  for (let digits = 0; digits <= 8; digits++) {
    const text = bpm.toFixed(digits);
    if (wholeTempo(Number(text)) === us) return TEMPOS.format(Number(text));
  }
  return String(bpm);
}

/** For people: whole microseconds make 179.9996 of 180, which nobody wrote. */
export function sayBpm(us: number): string {
  const bpm = bpmOf(us);
  const short = Math.round(bpm * 100) / 100;
  return `${Math.abs(bpm - short) < 0.001 ? TEMPOS.format(short) : plainBpm(us)} BPM`;
}

/** Finest PPQ that is needed so that a tick lasts 1 ms or less, as a multiple of what it was. */
export function ppqForClock(
  ticksPerQuarter: number,
  microsecondsPerQuarter: number,
  allowed: (ppq: number) => boolean = () => true,
): number {
  const fine = (ppq: number) => microsecondsPerQuarter / ppq <= 1000;
  for (let k = 1; k * ticksPerQuarter <= 32_767; k++) {
    const ppq = k * ticksPerQuarter;
    if (fine(ppq) && allowed(ppq)) return ppq;
  }
  for (let ppq = 32_767; ppq > 0; ppq--) if (allowed(ppq)) return ppq;
  return ticksPerQuarter;
}
