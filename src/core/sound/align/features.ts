import type { Checkpoint } from '../../diagnostic/checkpoint';
import { framesOf, sidesOf, type Samples } from '../samples';
import { Spectrum, Windows } from '../spectrum';
import { BANDS, CLASSES, type Features, HOP_MS, SIZE, finished } from './frames';

const LOWEST_KEY = 36;

const HIGHEST_KEY = 100;

/** Below it nothing is heard, against full scale. */
const SILENT = 2e-4;

const CHECK_EVERY = 256;

const WINDOW_SECONDS = 0.186;

/** Edges of the bands of noise, hertz. */
const BAND_EDGES = [30, 180, 2200, 9000];

const hzOf = (key: number) => 440 * 2 ** ((key - 69) / 12);

/** The features of a recording; a window of about 190 ms, so that low tones are told apart. */
export function soundFeatures(samples: Samples, checkpoint?: Checkpoint): Features {
  const windows = new Windows(sidesOf(samples), WINDOW_SECONDS);
  const { size, rate, each } = windows;
  const hop = (rate * HOP_MS) / 1000;
  const frames = Math.max(1, Math.ceil(framesOf(samples) / each / hop));
  const values = new Float32Array(frames * SIZE);
  const spectrum = new Spectrum(size);
  const powers = new Float64Array(size / 2 + 1);
  const keys = HIGHEST_KEY - LOWEST_KEY + 1;
  const edges = Array.from({ length: keys + 1 }, (_, k) =>
    Math.min(size / 2 - 1, Math.max(1, Math.round((hzOf(LOWEST_KEY + k - 0.5) * size) / rate))),
  );
  const bands = BAND_EDGES.map((hz) => Math.min(size / 2 - 1, Math.round((hz * size) / rate)));
  let before = new Float64Array(keys);
  let now = new Float64Array(keys);
  const was = new Float64Array(BANDS);
  for (let t = 0; t < frames; t++) {
    if (t % CHECK_EVERY === 0) checkpoint?.(t, frames);
    // What begins is heard once a third of the window has it: windows lie so much earlier.
    spectrum.powers(powers, windows.at(Math.round((t + 0.5) * hop - size * 0.75)));
    const at = t * SIZE;
    for (let k = 0; k < keys; k++) {
      let most = 0;
      for (let bin = edges[k]!; bin < Math.max(edges[k]! + 1, edges[k + 1]!); bin++)
        most = Math.max(most, powers[bin]!);
      now[k] = Math.log1p(Math.sqrt(most) / SILENT);
    }
    // What stands above its neighbours is a tone; what is as loud on both sides is noise.
    for (let k = 0; k < keys; k++) {
      const beside = Math.max(now[k - 1] ?? 0, now[k + 1] ?? 0);
      const tone = Math.max(0, now[k]! - 0.5 * beside);
      const weight = k < 12 ? 0.6 : k > 48 ? 0.5 : 1;
      values[at + ((LOWEST_KEY + k) % 12)]! += weight * tone;
      const rise = now[k]! - Math.max(before[k]!, before[k - 1] ?? 0, before[k + 1] ?? 0);
      if (rise > 0) values[at + CLASSES + ((LOWEST_KEY + k) % 12)]! += weight * rise;
    }
    for (let b = 0; b < BANDS; b++) {
      let sum = 0;
      for (let bin = bands[b]!; bin < bands[b + 1]!; bin++) sum += powers[bin]!;
      const level = Math.log1p(Math.sqrt(sum) / SILENT);
      values[at + CLASSES * 2 + b] = Math.max(0, level - was[b]!);
      was[b] = level;
    }
    [before, now] = [now, before];
  }
  return finished(values, frames);
}

/** A note of the score, by its clock. */
export interface FeatureNote {
  readonly fromMs: number;
  readonly toMs: number;
  readonly key: number;
  readonly velocity: number;
  readonly drum: boolean;
}

/** Overtones of a tone by semitones above it, and how strong they are. */
const OVERTONES: readonly (readonly [number, number])[] = [
  [0, 1],
  [12, 0.5],
  [19, 0.35],
  [24, 0.25],
  [28, 0.2],
];

/** In a second a held tone is as much softer: between what is plucked and what is bowed. */
const FADES = 0.55;

/** Which band of noise a drum is heard in, by its key on channel 10. */
function bandOf(key: number): number {
  if (key === 35 || key === 36 || key === 41 || key === 43) return 0;
  return key === 42 || key === 44 || key === 46 || key >= 49 ? 2 : 1;
}

/** The features of a score as it would sound. */
export function scoreFeatures(notes: readonly FeatureNote[], lengthMs: number): Features {
  const frames = Math.max(1, Math.ceil(lengthMs / HOP_MS));
  const values = new Float32Array(frames * SIZE);
  for (const { fromMs, toMs, key, velocity, drum } of notes) {
    const loud = 0.3 + velocity / 127;
    const first = Math.floor(fromMs / HOP_MS);
    if (first < 0 || first >= frames) continue;
    const band = drum ? bandOf(key) : key < 48 ? 0 : 1;
    values[first * SIZE + CLASSES * 2 + band]! += drum ? loud : loud * 0.35;
    if (drum) continue;
    for (const [above, share] of OVERTONES)
      values[first * SIZE + CLASSES + ((key + above) % 12)]! += loud * share;
    const last = Math.min(frames - 1, Math.ceil(toMs / HOP_MS));
    for (let t = first; t <= last; t++) {
      const fade = FADES ** (((t - first) * HOP_MS) / 1000);
      for (const [above, share] of OVERTONES)
        values[t * SIZE + ((key + above) % 12)]! += loud * share * fade;
    }
  }
  return finished(values, frames);
}
