import type { BeatEstimate } from './beat';

/** What is believed of a beat, in words. */
export function sayBeat({ bpm, from, to, confidence }: Omit<BeatEstimate, 'ms'>): string {
  if (confidence < 0.5) return 'no even beat';
  const at = bpm.toFixed(1);
  const tempo =
    to - from < 0.02 * bpm ? `${at} BPM` : `${at} BPM, ${from.toFixed(1)} to ${to.toFixed(1)}`;
  return `${tempo} (${Math.round(confidence * 100)} % sure)`;
}
