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
