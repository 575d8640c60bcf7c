import type { Checkpoint } from '../diagnostic/checkpoint';
import type { SoundLayout } from './edits';
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

/** How long one value of a loudness curve stands for. */
export const CURVE_MS = 20;

/** How loud an edited sound is over time, 0 to 1, a value for every 20 ms: half its swing there. */
export function loudnessOf({ rate, levels }: Peaks, layout: SoundLayout): Float32Array {
  // The finest level whose bins are no longer than what a value stands for.
  const fits = levels.filter((l) => (l.framesPerBin * 1000) / rate <= CURVE_MS);
  const level = fits.at(-1) ?? levels[0];
  const out = new Float32Array(Math.ceil((layout.at(-1)?.to ?? 0) / (CURVE_MS * 1000)));
  if (!level) return out;
  const bins = level.pairs.length / 2;
  const perUs = rate / level.framesPerBin / 1e6;
  for (const s of layout) {
    if (s.source === null) continue;
    const first = Math.floor(s.from / (CURVE_MS * 1000));
    for (let k = first; k < out.length && k * CURVE_MS * 1000 < s.to; k++) {
      const from = Math.max(s.from, k * CURVE_MS * 1000);
      const to = Math.min(s.to, (k + 1) * CURVE_MS * 1000);
      const gain = s.gain + ((s.gainTo - s.gain) * (from - s.from)) / Math.max(1, s.to - s.from);
      const last = Math.min(bins, Math.ceil((s.source + to - s.from) * perUs));
      for (let bin = Math.floor((s.source + from - s.from) * perUs); bin < last; bin++) {
        const swing = (level.pairs[bin * 2 + 1]! - level.pairs[bin * 2]!) / 254;
        out[k] = Math.max(out[k]!, swing * gain);
      }
    }
  }
  return out;
}
