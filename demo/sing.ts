import type { Samples } from '../src/core/sound/samples';
import { seeded } from './song';

/** A note that is sung; drums are those of channel 10. */
export interface Sung {
  readonly ms: number;
  readonly lengthMs: number;
  readonly key: number;
  readonly velocity: number;
  readonly drum?: boolean;
}

export interface RenderOptions {
  readonly rate?: number;
  readonly lengthMs?: number;
  /** Noise so many dB below the music. */
  readonly noiseDb?: number;
  /** A room: reflections that fade within a third of a second. */
  readonly echo?: boolean;
  readonly seed?: number;
}

/** Sings a tune: partials that fade, soft attacks of a few ms, drums of noise. Always the same. */
export function sing(notes: readonly Sung[], options: RenderOptions = {}): Samples {
  const { rate = 22_050, noiseDb, echo, seed = 1 } = options;
  const end = notes.reduce((last, n) => Math.max(last, n.ms + n.lengthMs), 0);
  const frames = Math.ceil(((options.lengthMs ?? end + 600) * rate) / 1000);
  const out = new Float32Array(frames);
  const roll = seeded(seed);
  const white = () => roll(20_001) / 10_000 - 1;
  for (const note of notes) {
    const from = Math.round((note.ms * rate) / 1000);
    const loud = (note.velocity / 127) ** 1.5 * (note.drum ? 0.5 : 0.16);
    const ring = note.drum ? 120 : note.lengthMs + 160;
    const length = Math.min(frames - from, Math.round((ring * rate) / 1000));
    const attack = note.drum ? 0.001 : 0.004;
    const hz = 440 * 2 ** ((note.key - 69) / 12);
    const off = note.lengthMs / 1000;
    const fade = Math.exp(-1 / (rate * (note.drum ? 0.03 : 0.35)));
    const letGo = Math.exp(-1 / (rate * 0.05));
    if (length <= 0) continue;
    const sound = new Float64Array(length);
    if (note.drum) {
      for (let i = 0; i < length; i++) sound[i] = white() * 0.7;
      addTone(sound, note.key === 36 ? 70 : 300, rate, 1);
    } else
      for (const p of [1, 2, 3, 4, 5])
        if (hz * p < rate * 0.45) addTone(sound, hz * p, rate, 1 / p ** 1.3);
    let level = loud;
    for (let i = 0; i < length; i++) {
      const t = i / rate;
      level *= !note.drum && t > off ? fade * letGo : fade;
      if (from + i >= 0) out[from + i]! += sound[i]! * level * Math.min(1, t / attack);
    }
  }
  if (echo)
    for (const [ms, gain] of [
      [19, 0.32],
      [31, 0.26],
      [47, 0.22],
      [71, 0.17],
      [113, 0.12],
    ] as const) {
      const late = Math.round((ms * rate) / 1000);
      for (let i = frames - 1; i >= late; i--) out[i]! += out[i - late]! * gain;
    }
  if (noiseDb !== undefined) {
    let power = 0;
    for (let i = 0; i < frames; i++) power += out[i]! * out[i]!;
    const level = Math.sqrt(power / frames) * 10 ** (-noiseDb / 20) * Math.sqrt(3);
    for (let i = 0; i < frames; i++) out[i]! += white() * level;
  }
  let peak = 1;
  for (let i = 0; i < frames; i++) peak = Math.max(peak, Math.abs(out[i]!));
  for (let i = 0; i < frames; i++) out[i]! /= peak;
  return { rate, channels: [out] };
}

/** A sine by turning a pointer: no call of a sine for each sample. */
function addTone(sound: Float64Array, hz: number, rate: number, gain: number) {
  const cos = Math.cos((2 * Math.PI * hz) / rate);
  const sin = Math.sin((2 * Math.PI * hz) / rate);
  let x = gain;
  let y = 0;
  for (let i = 0; i < sound.length; i++) {
    const turned = x * cos - y * sin;
    y = x * sin + y * cos;
    x = turned;
    sound[i]! += y;
  }
}
