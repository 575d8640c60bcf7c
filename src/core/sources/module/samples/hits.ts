import { noveltyOf, onsetsOf } from '../../../sound/onsets';
import type { Sample } from '../module';
import { featuresOf } from './features';

export interface Hit {
  /** Seconds into the sample at key 60. */
  readonly at: number;
  readonly strength: number;
  /** Key of the percussion map (General MIDI Level 1). */
  readonly key: number;
}

/** A beat inside one sample: its tempo at key 60, how many beats, and its hits. */
export interface SampledBeat {
  readonly bpm: number;
  readonly beats: number;
  readonly hits: readonly Hit[];
}

const LEAST_SECONDS = 0.9;
const LEAST_HITS = 4;
const IN_TIME_SECONDS = 0.012;
/** Below it there is too little of a drum to be told from another. */
const LEAST_RATE = 4000;
/** A hit that is weaker than that beside the strongest is left out. */
const WEAKEST = 0.22;

/** Strikes inside a long sample that stand on a grid; null where it is none. */
export function beatIn(sample: Sample): SampledBeat | null {
  const seconds = sample.frames.length / sample.rate;
  if (seconds < LEAST_SECONDS || seconds > 40 || sample.rate < LEAST_RATE) return null;
  const heard = { rate: sample.rate, channels: [sample.frames] };
  const { ms, strength } = onsetsOf(heard, noveltyOf(heard));
  const at: { at: number; strength: number }[] = [];
  for (let i = 0; i < ms.length; i++)
    if (strength[i]! >= WEAKEST)
      at.push({ at: Math.max(0, ms[i]! / 1000), strength: strength[i]! });
  if (at.length < LEAST_HITS) return null;
  // It goes round: its length is a whole number of beats.
  let best: { beats: number; fit: number } | null = null;
  for (const beats of [2, 4, 8, 16, 32]) {
    const bpm = (60 * beats) / seconds;
    if (bpm < 70 || bpm > 180) continue;
    const step = seconds / beats / 4;
    let [fit, sum] = [0, 0];
    for (const h of at) {
      const off = Math.abs(h.at / step - Math.round(h.at / step)) * step;
      fit += h.strength * Math.max(0, 1 - off / 0.03);
      sum += h.strength;
    }
    const share = fit / sum;
    if (!best || share > best.fit + 0.02) best = { beats, fit: share };
  }
  if (!best || best.fit < 0.5) return null;
  const bpm = (60 * best.beats) / seconds;
  const sixteenth = seconds / best.beats / 4;
  /** What was played to the grid of the beat is on it. */
  const inTime = (t: number) => {
    const on = Math.round(t / sixteenth) * sixteenth;
    return Math.abs(t - on) <= IN_TIME_SECONDS && on < seconds ? on : t;
  };
  const hits = at.map((h, i) => {
    const end = Math.min(at[i + 1]?.at ?? seconds, h.at + 0.12);
    const frames = sample.frames.subarray(
      Math.round(h.at * sample.rate),
      Math.round(end * sample.rate),
    );
    return {
      ...h,
      at: inTime(h.at),
      key: drumKeyOf({ ...sample, frames, loop: null, sustain: null }),
    };
  });
  return { bpm, beats: best.beats, hits };
}

/** Bass drum, snare or hat, by where the power of a short sound lies. */
function drumKeyOf(sample: Sample): number {
  const f = featuresOf(sample);
  if (f.low > 0.45) return 36;
  if (f.high > 0.45 || f.centre > 5000) return 42;
  return f.centre < 500 ? 36 : 38;
}
