import { levelFor, type Peaks } from '../../core/sound/peaks';
import type { SoundLayout } from '../../core/sound/edits';

/** A recording as it lies on a clock, ready to be drawn. */
export interface Wave {
  readonly peaks: Peaks;
  readonly layout: SoundLayout;
  /** What is soft is drawn larger: where it begins matters, not how loud it is. */
  readonly scale: number;
}

/** As large as there is room for, and not so large that its noise looks like music. */
export const scaleFor = (peak: number): number =>
  peak > 0 ? Math.max(1, Math.min(10, 0.92 / peak)) : 1;

export interface WaveBox {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly height: number;
  /** Milliseconds of the piece at an x. */
  readonly msAt: (x: number) => number;
}

/** Pixels of one line of a waveform. */
const STEP = 1;

/**
 * Draws a recording by the clock: for each pixel its lowest and highest sample of the time that the
 * pixel covers, at the level that the plan gives it. What was put in is a thin line, what lies
 * outside of the recording is empty.
 */
export function drawWave(
  c: CanvasRenderingContext2D,
  { peaks, layout, scale }: Wave,
  { left, right, top, height, msAt }: WaveBox,
  colour: string,
): void {
  if (right <= left || layout.length === 0) return;
  const middle = top + height / 2;
  const half = height / 2;
  const msPerStep = Math.max(0.01, (msAt(right) - msAt(left)) / ((right - left) / STEP));
  const { framesPerBin, pairs } = levelFor(peaks, msPerStep);
  const binUs = (framesPerBin * 1_000_000) / peaks.rate;
  const bins = pairs.length / 2;
  let at = 0;
  c.fillStyle = colour;
  c.beginPath();
  for (let x = left; x < right; x += STEP) {
    const us = msAt(x) * 1000;
    const next = msAt(x + STEP) * 1000;
    while (at < layout.length && us >= layout[at]!.to) at++;
    const stretch = layout[at];
    if (!stretch || us < stretch.from) continue;
    if (stretch.source === null) {
      c.rect(x, middle, STEP, 0.5);
      continue;
    }
    const from = Math.floor((stretch.source + us - stretch.from) / binUs);
    const to = Math.max(
      from + 1,
      Math.ceil((stretch.source + Math.min(next, stretch.to) - stretch.from) / binUs),
    );
    let [low, high] = [127, -127];
    for (let bin = Math.max(0, from); bin < Math.min(bins, to); bin++) {
      low = Math.min(low, pairs[bin * 2]!);
      high = Math.max(high, pairs[bin * 2 + 1]!);
    }
    if (low > high) continue;
    const gain =
      stretch.gain +
      ((stretch.gainTo - stretch.gain) * (us - stretch.from)) /
        Math.max(1, stretch.to - stretch.from);
    const y1 = Math.max(-1, Math.min(1, (high / 127) * gain * scale)) * half;
    const y2 = Math.max(-1, Math.min(1, (low / 127) * gain * scale)) * half;
    c.rect(x, middle - y1, STEP, Math.max(0.75, y1 - y2));
  }
  c.fill();
}
