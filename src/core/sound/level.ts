import { framesOf, type Samples } from './samples';

/** What counts as silence where nothing else is said: 50 dB below full scale. */
export const SILENCE_DB = -50;

export const gainOf = (db: number): number => 10 ** (db / 20);
/** Decibels below full scale; −Infinity of nothing. */
export const decibels = (amplitude: number): number => 20 * Math.log10(amplitude);

export interface LevelFacts {
  /** The highest sample, 0 to 1 (floating point may exceed it). */
  readonly peak: number;
  /** Where the sound first and last exceeds the threshold; null where it never does. */
  readonly firstMs: number | null;
  readonly lastMs: number | null;
}

export function levelOf(samples: Samples, silenceDb = SILENCE_DB): LevelFacts {
  const { channels, rate } = samples;
  const threshold = gainOf(silenceDb);
  const frames = framesOf(samples);
  let [peak, first, last] = [0, Infinity, -1];
  for (const channel of channels)
    for (let i = 0; i < frames; i++) {
      const value = Math.abs(channel[i]!);
      if (value <= threshold) continue;
      if (value > peak) peak = value;
      if (i < first) first = i;
      if (i > last) last = i;
    }
  if (last < 0) {
    for (const channel of channels)
      for (let i = 0; i < frames; i++) peak = Math.max(peak, Math.abs(channel[i]!));
    return { peak, firstMs: null, lastMs: null };
  }
  return { peak, firstMs: (first * 1000) / rate, lastMs: (last * 1000) / rate };
}
