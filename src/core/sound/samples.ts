/** A recording, decoded: one column of samples a channel, all of the same length, −1 to 1. */
export interface Samples {
  readonly rate: number;
  readonly channels: readonly Float32Array[];
}

/** Longest recording that is taken, in milliseconds, and how much memory its samples may take. */
export const LONGEST_RECORDING_MS = 30 * 60_000;
export const LARGEST_DECODED_BYTES = 512 * 1024 * 1024;

export const framesOf = ({ channels }: Samples): number => channels[0]?.length ?? 0;

export const lengthMs = (samples: Samples): number => (framesOf(samples) * 1000) / samples.rate;

/** The mean of the channels in `[from, to)`; what stands outside of the recording is silence. */
export function mixInto(to: Float32Array, { channels }: Samples, from: number): Float32Array {
  to.fill(0);
  const share = 1 / channels.length;
  for (const channel of channels) {
    const first = Math.max(0, -from);
    const last = Math.min(to.length, channel.length - from);
    for (let i = first; i < last; i++) to[i]! += channel[from + i]! * share;
  }
  return to;
}

/** So alike are channels that hold one sound, by their correlation. */
const ONE_SOUND = 0.7;
/** Frames between those that are held against each other. */
const STRIDE = 7;

/**
 * What is listened to beside each other: a recording whose channels are alike as one mixed channel, any
 * other as two. Levels of sides are added, never their samples, so that channels which cancel are heard.
 */
export function sidesOf({ rate, channels }: Samples): readonly Samples[] {
  if (channels.length < 2) return [{ rate, channels }];
  const of = (rest: number) => channels.filter((_, c) => c % 2 === rest);
  const alike = channels.every(
    (c) => c === channels[0] || correlation(channels[0]!, c) > ONE_SOUND,
  );
  return alike ? [{ rate, channels }] : [of(0), of(1)].map((some) => ({ rate, channels: some }));
}

function correlation(a: Float32Array, b: Float32Array): number {
  let [aa, bb, ab] = [0, 0, 0];
  for (let i = 0; i < a.length; i += STRIDE) {
    aa += a[i]! * a[i]!;
    bb += b[i]! * b[i]!;
    ab += a[i]! * b[i]!;
  }
  // One that is silent hides nothing.
  return aa === 0 || bb === 0 ? 1 : ab / Math.sqrt(aa * bb);
}
