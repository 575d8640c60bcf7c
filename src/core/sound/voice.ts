import type { SoundLayout, SoundStretch } from './edits';
import { endOf } from './edits';
import type { Samples } from './samples';

/**
 * Plays a recording beside a score, by the score’s own clock: whatever the speed, a moment of the
 * piece always sounds the same moment of the recording, so the two cannot drift apart. Slower and
 * faster it is resampled (linearly between neighbours), and its pitch goes with the speed.
 */
export class RecordingVoice {
  private samples: Samples | null = null;
  private layout: SoundLayout = [];
  private at = 0;
  gain = 1;

  load(samples: Samples | null, layout: SoundLayout) {
    this.samples = samples;
    this.layout = layout;
    this.at = 0;
  }

  get lengthMs(): number {
    return this.samples ? endOf(this.layout) / 1000 : 0;
  }

  /** Adds what sounds from a moment of the piece on; `stepMs` is what passes from frame to frame. */
  add(outputs: readonly Float32Array[], fromMs: number, stepMs: number) {
    const { samples, gain } = this;
    if (!samples || gain === 0 || outputs.length === 0) return;
    const { rate, channels } = samples;
    const frames = outputs[0]!.length;
    for (let i = 0; i < frames; i++) {
      const us = (fromMs + i * stepMs) * 1000;
      const stretch = this.stretchAt(us);
      if (!stretch || stretch.source === null) continue;
      const into = us - stretch.from;
      const frame = ((stretch.source + into) * rate) / 1_000_000;
      const low = Math.floor(frame);
      const part = frame - low;
      const span = stretch.to - stretch.from;
      const level = gain * (stretch.gain + ((stretch.gainTo - stretch.gain) * into) / span);
      for (let c = 0; c < outputs.length; c++) {
        const from = channels[Math.min(c, channels.length - 1)]!;
        if (low >= from.length) continue;
        const next = low + 1 < from.length ? from[low + 1]! : 0;
        outputs[c]![i]! += (from[low]! * (1 - part) + next * part) * level;
      }
    }
  }

  /** The stretch at a time; mostly the one of the frame before. */
  private stretchAt(us: number): SoundStretch | null {
    const { layout } = this;
    const last = layout[this.at];
    if (last && us >= last.from && us < last.to) return last;
    const found = layout.findIndex((s) => us >= s.from && us < s.to);
    if (found < 0) return null;
    this.at = found;
    return layout[found]!;
  }
}
