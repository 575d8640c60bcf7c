import type { Checkpoint } from '../diagnostic/checkpoint';
import { seeded } from './seeded';
import type { SoundLayout } from './edits';
import { endOf } from './edits';
import { framesOf, type Samples } from './samples';
import { waveHead } from './wave';

const CHECK_EVERY = 1 << 19;

/** The samples of an edited sound, at the recording’s own rate; edges are put to whole frames. */
export function renderSound(
  recording: Samples,
  layout: SoundLayout,
  checkpoint?: Checkpoint,
): Samples {
  const { rate } = recording;
  const frame = (us: number) => Math.round((us * rate) / 1_000_000);
  const total = frame(endOf(layout));
  const there = framesOf(recording);
  const channels = recording.channels.map((from) => {
    const out = new Float32Array(total);
    for (const s of layout) {
      if (s.source === null) continue;
      const first = frame(s.from);
      const last = frame(s.to);
      const source = frame(s.source);
      const slope = (s.gainTo - s.gain) / Math.max(1, last - first);
      for (let i = first; i < last; i++) {
        if ((i - first) % CHECK_EVERY === 0) checkpoint?.(i, total);
        const at = source + i - first;
        if (at < there) out[i] = from[at]! * (s.gain + slope * (i - first));
      }
    }
    return out;
  });
  return { rate, channels };
}

export type WaveBits = 16 | 24;

/** What was louder than a sample can say was held at the loudest; how many samples that were. */
export interface Written {
  readonly bytes: Uint8Array;
  readonly clipped: number;
}

/**
 * A WAV of PCM. Sixteen bit are dithered: triangular noise of one step, from a seed, so that what is
 * quiet fades instead of breaking off; silence stays silent and values that fit exactly stay exact.
 */
export function writeWave(samples: Samples, bits: WaveBits, seed = 1): Written {
  const { rate, channels } = samples;
  const frames = framesOf(samples);
  const width = bits / 8;
  const dataBytes = frames * channels.length * width;
  const out = new Uint8Array(44 + dataBytes + (dataBytes % 2));
  out.set(waveHead({ rate, channels: channels.length, bits, dataBytes }));
  const view = new DataView(out.buffer);
  const top = 2 ** (bits - 1);
  const roll = seeded(seed);
  const STEPS = 1 << 16;
  let clipped = 0;
  let at = 44;
  for (let i = 0; i < frames; i++)
    for (const channel of channels) {
      let value = channel[i]! * top;
      if (bits === 16 && !Number.isInteger(value)) value += (roll(STEPS) - roll(STEPS)) / STEPS;
      let whole = Math.round(value);
      if (whole > top - 1 || whole < -top) {
        clipped++;
        whole = whole < 0 ? -top : top - 1;
      }
      view.setUint8(at, whole & 255);
      view.setUint8(at + 1, (whole >> 8) & 255);
      if (bits === 24) view.setUint8(at + 2, (whole >> 16) & 255);
      at += width;
    }
  return { bytes: out, clipped };
}
