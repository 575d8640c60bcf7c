import { noise, RATE } from './render-voice';

/** A drum as numbers: a skin or a body that sounds, a noise that hisses, and how each dies away. */
interface Drum {
  readonly key: number;
  readonly seconds: number;
  /** Hertz, and by how many it falls while it begins. */
  readonly hz: number;
  readonly drop: number;
  readonly tone: number;
  /** How fast the tone and the noise die away, per second. */
  readonly toneFades: number;
  readonly noise: number;
  readonly noiseFades: number;
  /** 0 dull, 1 bright: how much of the low part of the noise is taken away. */
  readonly bright: number;
  /** Other tones beside it, as multiples. */
  readonly ratios: readonly number[];
  /** Strokes within it, apart by seconds: claps, rattles. */
  readonly strokes?: readonly number[];
}

type Row = readonly [
  key: number,
  seconds: number,
  hz: number,
  drop: number,
  tone: number,
  toneFades: number,
  noise: number,
  noiseFades: number,
  bright: number,
  ratios?: readonly number[],
  strokes?: readonly number[],
];

const METAL = [1, 1.34, 1.79, 2.41, 3.17];
/** Keys 35 to 81 of General MIDI's percussion. */
const ROWS: readonly Row[] = [
  [35, 0.34, 42, 60, 1, 9, 0.05, 60, 0],
  [36, 0.28, 50, 110, 1, 12, 0.12, 80, 0.2],
  [37, 0.07, 1700, 0, 0.6, 70, 0.4, 90, 0.6],
  [38, 0.24, 190, 40, 0.5, 18, 0.6, 17, 0.5],
  [39, 0.2, 1000, 0, 0, 10, 0.9, 26, 0.6, [1], [0, 0.012, 0.025, 0.038]],
  [40, 0.18, 240, 60, 0.55, 22, 0.6, 26, 0.75],
  [41, 0.36, 82, 26, 1, 8, 0.06, 40, 0.1],
  [42, 0.07, 5200, 0, 0.08, 60, 0.6, 62, 1, METAL],
  [43, 0.34, 98, 30, 1, 9, 0.06, 40, 0.1],
  [44, 0.09, 4300, 0, 0.1, 48, 0.5, 52, 0.9, METAL],
  [45, 0.32, 122, 34, 1, 9, 0.06, 44, 0.1],
  [46, 0.4, 5000, 0, 0.1, 8, 0.55, 8, 1, METAL],
  [47, 0.3, 148, 38, 1, 10, 0.06, 44, 0.15],
  [48, 0.28, 180, 44, 1, 10, 0.06, 46, 0.15],
  [49, 0.7, 2900, 0, 0.1, 4, 0.55, 4.4, 0.85, METAL],
  [50, 0.26, 220, 50, 1, 11, 0.07, 50, 0.2],
  [51, 0.5, 3900, 0, 0.22, 6, 0.2, 10, 1, METAL],
  [52, 0.6, 2100, 0, 0.18, 4, 0.6, 5, 0.6, METAL],
  [53, 0.5, 1900, 0, 0.5, 6, 0.08, 30, 1, [1, 1.52, 2.67]],
  [54, 0.2, 6500, 0, 0.2, 20, 0.5, 22, 1, METAL, [0, 0.03]],
  [55, 0.4, 3400, 0, 0.1, 8, 0.6, 8, 0.9, METAL],
  [56, 0.24, 560, 0, 0.8, 14, 0.04, 60, 0.5, [1, 1.49]],
  [57, 0.7, 2500, 0, 0.12, 4, 0.55, 4, 0.75, METAL],
  [58, 0.4, 300, 0, 0.3, 9, 0.4, 12, 0.4, [1, 2.3], [0, 0.02, 0.043, 0.07, 0.1]],
  [59, 0.5, 4400, 0, 0.26, 7, 0.24, 12, 1, METAL],
  [60, 0.16, 420, 30, 0.9, 22, 0.1, 80, 0.3],
  [61, 0.2, 310, 24, 0.9, 18, 0.08, 80, 0.2],
  [62, 0.1, 400, 10, 0.7, 40, 0.25, 70, 0.5],
  [63, 0.24, 340, 20, 0.9, 14, 0.06, 70, 0.2],
  [64, 0.28, 240, 18, 0.9, 12, 0.06, 70, 0.2],
  [65, 0.2, 520, 30, 0.8, 17, 0.2, 60, 0.5, [1, 1.7]],
  [66, 0.24, 380, 24, 0.8, 15, 0.18, 60, 0.4, [1, 1.7]],
  [67, 0.24, 1180, 0, 0.8, 14, 0.02, 60, 1, [1, 1.5, 2.8]],
  [68, 0.28, 860, 0, 0.8, 12, 0.02, 60, 1, [1, 1.5, 2.8]],
  [69, 0.08, 7000, 0, 0, 10, 0.7, 40, 1],
  [70, 0.06, 6000, 0, 0, 10, 0.7, 60, 0.9],
  [71, 0.14, 2300, 0, 0.8, 10, 0.05, 10, 1],
  [72, 0.34, 2100, 0, 0.8, 5, 0.05, 5, 1],
  [73, 0.1, 1500, 0, 0.1, 30, 0.6, 30, 0.7, [1], [0, 0.02, 0.04]],
  [74, 0.34, 1300, 0, 0.1, 9, 0.6, 9, 0.7, [1], [0, 0.03, 0.06, 0.09, 0.12, 0.15, 0.18]],
  [75, 0.1, 2500, 0, 0.9, 46, 0.1, 90, 0.8],
  [76, 0.12, 1050, 0, 0.9, 34, 0.1, 90, 0.5, [1, 2.4]],
  [77, 0.14, 780, 0, 0.9, 30, 0.1, 90, 0.4, [1, 2.4]],
  [78, 0.16, 520, -160, 0.7, 18, 0.1, 30, 0.3],
  [79, 0.3, 430, -120, 0.7, 9, 0.1, 20, 0.3],
  [80, 0.12, 4700, 0, 0.6, 32, 0.04, 60, 1, [1, 1.47, 2.2]],
  [81, 0.45, 4700, 0, 0.6, 6, 0.04, 60, 1, [1, 1.47, 2.2]],
];

export const DRUMS: readonly Drum[] = ROWS.map(
  ([key, seconds, hz, drop, tone, toneFades, amount, noiseFades, bright, ratios, strokes]) => ({
    ...{ key, seconds, hz, drop, tone, toneFades, noise: amount, noiseFades, bright },
    ratios: ratios ?? [1],
    ...(strokes ? { strokes } : {}),
  }),
);

export function renderDrum(d: Drum): Float32Array {
  const length = Math.round(d.seconds * RATE);
  const random = noise(d.key * 7919);
  const audio = new Float32Array(length);
  const begins = d.strokes ?? [0];
  let low = 0;
  for (let i = 0; i < length; i++) {
    const t = i / RATE;
    const x = random();
    low += 0.25 * (x - low);
    const hiss = x - low * d.bright + low * (1 - d.bright);
    let v = 0;
    for (const begin of begins) {
      const since = t - begin;
      if (since < 0) continue;
      const phase = d.hz * since + (d.drop * (1 - Math.exp(-since * 28))) / 28;
      const tone = d.ratios.reduce((s, r) => s + Math.sin(2 * Math.PI * phase * r), 0);
      v += (d.tone * Math.exp(-since * d.toneFades) * tone) / d.ratios.length;
      v += d.noise * Math.exp(-since * d.noiseFades) * hiss;
    }
    // It ends in silence, whatever is left of it.
    audio[i] = v * Math.min(1, (length - i) / (0.01 * RATE));
  }
  const most = audio.reduce((m, v) => Math.max(m, Math.abs(v)), 1e-6);
  return audio.map((v) => (v * 0.85) / most);
}
