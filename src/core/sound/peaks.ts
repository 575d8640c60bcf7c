import type { Checkpoint } from '../diagnostic/checkpoint';
import { framesOf, type Samples } from './samples';

/** Frames in a bin of the finest level. */
const FINEST = 128;
/** How many bins of one level make one of the next. */
const STEP = 4;
const CHECK_EVERY = 4096;

/** One zoom of the waveform: the lowest and the highest sample of each bin, −127 to 127. */
export interface PeakLevel {
  readonly framesPerBin: number;
  /** `[low, high]` of one bin behind the other, of all channels together. */
  readonly pairs: Int8Array;
}

/** Levels from the finest on. */
export interface Peaks {
  readonly rate: number;
  readonly levels: readonly PeakLevel[];
}

/** A waveform that can be drawn at every zoom: each level from the one below, linear in all. */
export function peaksOf(samples: Samples, checkpoint?: Checkpoint): Peaks {
  const frames = framesOf(samples);
  const bins = Math.ceil(frames / FINEST);
  const pairs = new Int8Array(bins * 2);
  for (let bin = 0; bin < bins; bin++) {
    if (bin % CHECK_EVERY === 0) checkpoint?.(bin, bins);
    const to = Math.min(frames, (bin + 1) * FINEST);
    let low = Infinity;
    let high = -Infinity;
    for (const channel of samples.channels)
      for (let i = bin * FINEST; i < to; i++) {
        const value = channel[i]!;
        if (value < low) low = value;
        if (value > high) high = value;
      }
    pairs[bin * 2] = Math.max(-127, Math.floor(low * 127));
    pairs[bin * 2 + 1] = Math.min(127, Math.ceil(high * 127));
  }
  const levels: PeakLevel[] = [{ framesPerBin: FINEST, pairs }];
  while (levels.at(-1)!.pairs.length > 256) levels.push(coarser(levels.at(-1)!));
  return { rate: samples.rate, levels };
}

function coarser({ framesPerBin, pairs }: PeakLevel): PeakLevel {
  const bins = pairs.length / 2;
  const out = new Int8Array(Math.ceil(bins / STEP) * 2);
  for (let bin = 0; bin * 2 < out.length; bin++) {
    let low = 127;
    let high = -127;
    for (let i = bin * STEP; i < Math.min(bins, (bin + 1) * STEP); i++) {
      low = Math.min(low, pairs[i * 2]!);
      high = Math.max(high, pairs[i * 2 + 1]!);
    }
    out[bin * 2] = low;
    out[bin * 2 + 1] = high;
  }
  return { framesPerBin: framesPerBin * STEP, pairs: out };
}

/** The coarsest level that still has a bin for each step of a drawing. */
export function levelFor({ rate, levels }: Peaks, msPerStep: number): PeakLevel {
  const frames = (msPerStep * rate) / 1000;
  let found = levels[0]!;
  for (const level of levels) if (level.framesPerBin <= frames) found = level;
  return found;
}
